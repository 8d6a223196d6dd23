import type { Pixels } from '@zaddle/core/image/plane';

/** Reads packed pixels from the server. @throws Error in words for the person. */
export async function fetchPixels(url: string): Promise<Pixels> {
  const response = await fetch(url);
  if (!response.ok) throw new Error(`A frame's pixels could not be loaded (${response.status}). Reload the page.`);
  const buffer = await response.arrayBuffer();
  const view = new DataView(buffer);
  const [width, height] = [view.getUint32(0, true), view.getUint32(4, true)];
  // Parts of deep files come with 16 bits.
  return { width, height, data: buffer.byteLength - 8 === width * height * 6 ? new Uint16Array(buffer, 8) : new Uint8Array(buffer, 8) };
}

/** @param half at half its size */
export const proxyUrl = (frame: string, half: boolean): string => `/api/frames/${frame}/proxy${half ? '?half=1' : ''}`;

/** Loads proxies of frames, several at a time, and hands over each as it comes. @param half at half their size */
export async function fetchProxies(ids: readonly string[], half: boolean, take: (id: string, proxy: Pixels) => void): Promise<void> {
  const queue = [...ids];
  const reader = async (): Promise<void> => {
    for (let id = queue.shift(); id; id = queue.shift()) take(id, await fetchPixels(proxyUrl(id, half)));
  };
  await Promise.all([reader(), reader(), reader(), reader()]);
}
