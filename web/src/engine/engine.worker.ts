import { StoredFound } from '@zaddle/core/found/storedFound';
import { prepareMix, type PreparedMix } from '@zaddle/core/graph/prepareMix';
import type { MixDocument } from '@zaddle/document';
import { alignPart } from './alignPart';
import { checkMix } from './checkMix';
import { fetchProxies } from './fetchProxies';
import type { FromEngine, ToEngine, Wish } from './messages';
import { MixReceiver } from './mixTransfer';
import { Session, visiblePart } from './session';
import { structureDifference } from './structureDifference';
import { Threads } from './threads';

const send = (message: FromEngine, transfer: Transferable[] = []): void => postMessage(message, { transfer });

let module: WebAssembly.Module;
let shot: string;
let threads: Threads;
let session: Session | null = null;
const receiver = new MixReceiver();

interface Wanted extends Omit<Wish, 'mix'> {
  readonly mix: MixDocument;
}

/** Reads what was found in the shot, as its mix stands on the server. */
async function fetchFound(): Promise<StoredFound> {
  const response = await fetch(`/api/shots/${shot}/found`);
  if (!response.ok) throw new Error(`What was found in this shot could not be loaded (${response.status}). Reload the page.`);
  return StoredFound.unpack(new Uint8Array(await response.arrayBuffer()));
}

/** Loads what a shot needs to be seen: all frames' proxies, and what was found. */
async function open(mix: MixDocument): Promise<Session> {
  const ids = Object.keys(mix.frames);
  const [proxies, found] = await Promise.all([fetchProxies(ids, (done) => send({ kind: 'progress', done, total: ids.length })), fetchFound()]);
  return new Session(shot, module, threads, proxies, found);
}

/** Whether everything that a mix is made from is at hand; frames come in later, and areas. */
async function complete(s: Session, mix: MixDocument): Promise<void> {
  const missing = Object.keys(mix.frames).filter((id) => !s.sources.has(id));
  for (const [id, proxy] of await fetchProxies(missing, () => undefined)) s.sources.addProxy(id, proxy);
}

/** A message of our own that lets those that came meanwhile in first. A timer would wait for some milliseconds. */
const gate = new MessageChannel();
const turn = (): Promise<void> => new Promise((resolve) => {
  gate.port1.onmessage = () => resolve();
  gate.port2.postMessage(null);
});

let waiting: Wanted | null = null;
let busy = false;

function bitmapOf(pixels: Uint8ClampedArray, width: number, height: number): ImageBitmap {
  const image = new ImageData(width, height);
  image.data.set(pixels);
  const canvas = new OffscreenCanvas(width, height);
  canvas.getContext('2d', { alpha: false })!.putImageData(image, 0, 0);
  return canvas.transferToImageBitmap();
}

/** Makes one picture and sends it; says which frames a sharper one needs. */
function paint(s: Session, wish: Wanted, started: number): { missing: string[] } | null {
  const visible = visiblePart(wish.mix, wish.view);
  if (!visible) return null;
  const shown: readonly PreparedMix[] = wish.check ? checkMix(s, wish.mix, wish.check).map((mix) => prepareMix(mix, s.found)) : [s.prepare(wish.mix, wish.settled)];
  const { width, height } = visible.drawn;
  const first = s.render(shown[0], visible, wish.check ? null : wish.working, wish.clipping && !wish.check);
  let pixels = first.pixels;
  if (shown[1]) {
    const kept = Uint8ClampedArray.from(pixels);
    pixels = structureDifference(kept, s.render(shown[1], visible, null, false).pixels, width, height);
  }
  const bitmap = bitmapOf(pixels, width, height);
  send({ kind: 'shown', ticket: wish.ticket, milliseconds: performance.now() - started, drawn: visible.drawn, bitmap, final: wish.settled && first.missing.length === 0, level: first.level }, [bitmap]);
  return { missing: first.missing };
}

/** Looks for finer pixels of a view in the background; the view is then painted anew, if it is still the one that is looked at. */
function sharpen(s: Session, wish: Wanted, frames: readonly string[]): void {
  const { region } = visiblePart(wish.mix, wish.view)!;
  s.load(wish.mix, frames, region).then(() => {
    if (session === s && !waiting && latest === wish.ticket) {
      waiting = wish;
      void work();
    }
  }, (error: Error) => send({ kind: 'failed', why: error.message }));
}

/** The last ticket that came in. */
let latest = 0;
/** What was found was asked for again for a mix whose areas it does not have: once, since the server may not have it either. */
let askedAgain: MixDocument | null = null;

/** Shows the latest wish; what came in between is skipped. */
async function work(): Promise<void> {
  if (busy) return;
  busy = true;
  for (;;) {
    await turn();
    if (!waiting) break;
    const wish: Wanted = waiting;
    waiting = null;
    const started = performance.now();
    try {
      session ??= await open(wish.mix);
      await complete(session, wish.mix);
      if (wish.settled && !session.hasFound(wish.mix) && askedAgain !== wish.mix) {
        askedAgain = wish.mix;
        session.found = await fetchFound();
      }
      const painted = paint(session, wish, started);
      if (painted && painted.missing.length > 0 && wish.settled) sharpen(session, wish, painted.missing);
    } catch (error) {
      send({ kind: 'failed', why: (error as Error).message });
    }
  }
  busy = false;
}

addEventListener('message', ({ data }: MessageEvent<ToEngine>) => {
  if (data.kind === 'open') {
    module = data.kernels;
    shot = data.shot;
    threads = new Threads(data.threads);
  } else if (data.kind === 'show') {
    latest = data.wish.ticket;
    waiting = { ...data.wish, mix: receiver.unpack(data.wish.mix) };
    void work();
  } else {
    const mix = receiver.unpack(data.mix);
    send({ kind: 'partLinedUp', pass: data.pass, found: session ? alignPart(module, session, mix, data.pass) : null });
  }
});
