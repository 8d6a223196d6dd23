import { packFound, StoredFound } from '@zaddle/core/found/storedFound';
import { StoredWide } from '@zaddle/core/graph/storedWide';

/** Where the server has what was found in a shot. */
export const foundUrl = (shot: string): string => `/api/shots/${shot}/found`;
/** Where it has what was worked out in a wide context for its picture. */
export const wideUrl = (shot: string): string => `/api/shots/${shot}/wide`;

/** What was found, until it is known. */
export const NOTHING_FOUND = StoredFound.unpack(packFound({ reference: '', edgeFound: () => null, share: () => null }, [], 1, 1));

/** Reads what was found in a shot, as its mix stands on the server. @throws Error in words for whoever waits for the picture */
export async function fetchFound(shot: string): Promise<StoredFound> {
  const response = await fetch(foundUrl(shot));
  if (!response.ok) throw new Error(`What was found in this shot could not be loaded (${response.status}). Reload the page.`);
  return StoredFound.unpack(new Uint8Array(await response.arrayBuffer()));
}

/** Reads what was worked out in a wide context for the picture before; null where that fails, since it can be worked out here. */
export async function fetchWide(shot: string): Promise<StoredWide | null> {
  try {
    const response = await fetch(wideUrl(shot));
    return response.status === 200 ? StoredWide.unpack(new Uint8Array(await response.arrayBuffer())) : null;
  } catch {
    return null;
  }
}
