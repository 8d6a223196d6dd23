import { wideUrl, foundUrl } from './fetchFindings';
import { proxyUrl } from './fetchProxies';

/** The shot that was read ahead last. */
let ahead: string | null = null;

/** Brings what a shot is opened with into the browser's cache. What fails is read when it is wanted. */
export async function readAhead(next: string, frames: readonly string[]): Promise<void> {
  // Each time that a picture is there somebody asks.
  if (next === ahead) return;
  ahead = next;
  for (const url of [foundUrl(next), wideUrl(next), ...frames.map((id) => proxyUrl(id, true))]) await fetch(url, { priority: 'low' }).then((response) => response.arrayBuffer()).catch(() => undefined);
}
