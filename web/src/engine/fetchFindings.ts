import { packFound, StoredFound } from '@zaddle/core/found/storedFound';
import { StoredCasts } from '@zaddle/core/graph/storedCasts';

/** Where the server has what was found in a shot. */
export const foundUrl = (shot: string): string => `/api/shots/${shot}/found`;
/** Where it has the colour of light that was worked out for its picture. */
export const castsUrl = (shot: string): string => `/api/shots/${shot}/casts`;

/** What was found, until it is known. */
export const NOTHING_FOUND = StoredFound.unpack(packFound({ reference: '', edgeFound: () => null, share: () => null }, [], 1, 1));

/** Reads what was found in a shot, as its mix stands on the server. @throws Error in words for whoever waits for the picture */
export async function fetchFound(shot: string): Promise<StoredFound> {
  const response = await fetch(foundUrl(shot));
  if (!response.ok) throw new Error(`What was found in this shot could not be loaded (${response.status}). Reload the page.`);
  return StoredFound.unpack(new Uint8Array(await response.arrayBuffer()));
}

/** Reads the colour of light as it was worked out for the picture before; none where that fails, since it can be worked out here. */
export async function fetchCasts(shot: string): Promise<StoredCasts> {
  try {
    const response = await fetch(castsUrl(shot));
    return response.status === 200 ? StoredCasts.unpack(new Uint8Array(await response.arrayBuffer())) : StoredCasts.none;
  } catch {
    return StoredCasts.none;
  }
}
