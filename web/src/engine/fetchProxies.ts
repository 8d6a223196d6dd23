/** Pixels on their way from the server: how large they are is known, and they are written where they are wanted as they come. */
export interface IncomingPixels {
  readonly width: number;
  readonly height: number;
  readonly depth: 8 | 16;
  readonly bytes: number;
  /** Writes all into `out`. @param wanted asked before each write: false ends it. @returns whether all was written. @throws Error in words for the person. */
  readonly writeTo: (out: Uint8Array, wanted: () => boolean) => Promise<boolean>;
}

const HEADER = 8;
const faulty = (why: string): Error => new Error(`A frame's pixels could not be loaded (${why}). Reload the page.`);

/** Asks the server for packed pixels. Nothing is collected: 26 frames of a close view would be held twice. @throws Error in words for the person. */
export async function fetchPixels(url: string): Promise<IncomingPixels> {
  const response = await fetch(url);
  if (!response.ok || !response.body) throw faulty(String(response.status));
  const total = Number(response.headers.get('content-length'));
  if (total <= HEADER) throw faulty('nothing in it');
  const reader = response.body.getReader();
  let chunk = new Uint8Array(0);
  while (chunk.length < HEADER) {
    const { value, done } = await reader.read();
    if (done) throw faulty('cut off');
    chunk = chunk.length === 0 ? value : Uint8Array.from([...chunk, ...value]);
  }
  const view = new DataView(chunk.buffer, chunk.byteOffset);
  const [width, height] = [view.getUint32(0, true), view.getUint32(4, true)];
  // Parts of deep files come with 16 bits.
  const depth = total - HEADER === width * height * 6 ? 16 : 8;
  const bytes = width * height * 3 * (depth / 8);
  const writeTo = async (out: Uint8Array, wanted: () => boolean): Promise<boolean> => {
    let at = 0;
    for (let left: Uint8Array | undefined = chunk.subarray(HEADER); left; left = (await reader.read()).value) {
      if (!wanted()) {
        await reader.cancel();
        return false;
      }
      if (at + left.length > bytes) throw faulty('too long');
      out.set(left, at);
      at += left.length;
    }
    if (at < bytes) throw faulty('cut off');
    return true;
  };
  return { width, height, depth, bytes, writeTo };
}

/** @param half at half its size */
export const proxyUrl = (frame: string, half: boolean): string => `/api/frames/${frame}/proxy${half ? '?half=1' : ''}`;

/** Loads proxies of frames, several at a time, and hands over each as it comes. @param half at half their size */
export async function fetchProxies(ids: readonly string[], half: boolean, take: (id: string, proxy: IncomingPixels) => Promise<void>): Promise<void> {
  const queue = [...ids];
  const reader = async (): Promise<void> => {
    for (let id = queue.shift(); id; id = queue.shift()) await take(id, await fetchPixels(proxyUrl(id, half)));
  };
  await Promise.all([reader(), reader(), reader(), reader()]);
}
