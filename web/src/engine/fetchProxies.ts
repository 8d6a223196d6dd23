import type { Pixels } from '@zaddle/core/image/plane';

/** Reads packed pixels from the server. @throws Error in words for the person. */
export async function fetchPixels(url: string): Promise<Pixels> {
  const response = await fetch(url);
  if (!response.ok) throw new Error(`A frame's pixels could not be loaded (${response.status}). Reload the page.`);
  const buffer = await response.arrayBuffer();
  const view = new DataView(buffer);
  return { width: view.getUint32(0, true), height: view.getUint32(4, true), data: new Uint8Array(buffer, 8) };
}

/** Loads the proxies of frames, four at a time. */
export async function fetchProxies(ids: readonly string[], onProgress: (done: number) => void): Promise<Map<string, Pixels>> {
  const proxies = new Map<string, Pixels>();
  const queue = [...ids];
  const reader = async (): Promise<void> => {
    for (let id = queue.shift(); id; id = queue.shift()) {
      proxies.set(id, await fetchPixels(`/api/frames/${id}/proxy`));
      onProgress(proxies.size);
    }
  };
  await Promise.all([reader(), reader(), reader(), reader()]);
  return proxies;
}
