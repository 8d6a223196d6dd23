import { isSeen, type PreparedMix } from '@zaddle/core/graph/prepareMix';
import { edgeWitnesses } from '@zaddle/core/mask/edgeWitnesses';
import type { KernelMemory } from '@zaddle/core/kernels/loadKernels';
import { framesOfPass, type MixDocument } from '@zaddle/document';
import { alignPart } from './alignPart';
import { bitmapOf } from './bitmapOf';
import { checkMix } from './checkMix';
import { countTones } from './countTones';
import { fetchWide, fetchFound, NOTHING_FOUND } from './fetchFindings';
import { fetchProxies, type IncomingPixels } from './fetchProxies';
import type { Answer, FromEngine, ToEngine, Wish } from './messages';
import { mixQuestions } from './mixQuestions';
import { MixReceiver } from './mixTransfer';
import { placeQuestions } from './placeQuestions';
import { readAhead } from './readAhead';
import { Session } from './session';
import { SNAP_SIDE, snapArea } from './snapArea';
import { straightQuestions } from './straightQuestions';
import { structureDifference } from './structureDifference';
import { TableShelf } from './tableShelf';
import { Threads } from './threads';
import { roughPart, visiblePart, type Fineness, type Visible } from './visiblePart';

const send = (message: Answer, transfer: Transferable[] = []): void => postMessage({ ...message, opening } satisfies FromEngine, { transfer });

let module: WebAssembly.Module;
let opening = 0;
let shot: string;
let threads: Threads;
let session: Session | null = null;
const shelf = new TableShelf();
/** Memory of the shot that was open before: pages that were touched need not be asked for again. */
let left: KernelMemory | null = null;
let receiver = new MixReceiver();

interface Wanted extends Omit<Wish, 'mix' | 'other'> {
  readonly mix: MixDocument;
  readonly other: MixDocument | null;
  /** On all pixels of the screen, also in the middle of a drag. */
  readonly whole?: boolean;
}

/** Frames whose pixels are needed to show a mix: those of passes that are seen, and those that a check compares. */
function framesOf({ mix, check, other }: Pick<Wanted, 'mix' | 'check' | 'other'>): string[] {
  const seen = (of: MixDocument): string[] => (check ? of.passes.slice(0, 1) : of.passes.filter((_, index) => isSeen(of.passes, index))).flatMap((pass) => framesOfPass(of, pass));
  return [...new Set([mix.reference, ...(check ? [check.frame] : []), ...seen(mix), ...(other ? seen(other) : [])])];
}

/** Pixels come from this very computer: sooner than a soft picture is made to be looked at meanwhile. */
const CLOSE = ['localhost', '127.0.0.1', '[::1]'].includes(self.location.hostname);
/** Bytes of whole proxies up to which a shot is opened with them at once. */
const AT_ONCE = 48_000_000;

/** Those of frames whose whole proxies are had as soon as their halves: few, and not from far. */
function wholeAtOnce(s: Session, { mix, view }: Wanted, ids: readonly string[]): string[] {
  const visible = CLOSE && latestShown === 0 ? visiblePart(mix, view) : null;
  const wanted = visible ? s.missing(mix, ids, visible).proxies : [];
  const bytes = wanted.reduce((sum, id) => sum + s.sources.proxyBytes(mix.frames[id]), 0);
  return bytes <= AT_ONCE ? wanted : [];
}

/** Loads what a mix needs to be seen at all: proxies at half their size, or whole. Frames come in later, too. */
async function load(s: Session, wish: Wanted): Promise<void> {
  const ids = framesOf(wish).filter((id) => !s.sources.has(id));
  const wholes = wholeAtOnce(s, wish, ids);
  let done = 0;
  const take = (halved: 0 | 1) => async (id: string, proxy: IncomingPixels): Promise<void> => {
    await s.sources.addProxy(id, proxy, halved);
    if (latestShown === 0) send({ kind: 'progress', done: ++done, total: ids.length });
  };
  await Promise.all([shelf.load([wish.mix, wish.other]), fetchProxies(wholes, false, take(0)), fetchProxies(ids.filter((id) => !wholes.includes(id)), true, take(1))]);
}

/** A message of our own that lets those that came meanwhile in first. A timer would wait for some milliseconds. */
const gate = new MessageChannel();
const inside: (() => void)[] = [];
gate.port1.onmessage = () => inside.shift()?.();
const turn = (): Promise<void> => new Promise((resolve) => {
  inside.push(resolve);
  gate.port2.postMessage(null);
});

let waiting: Wanted | null = null;
let busy = false;

/** Makes one picture and sends it. @param whole nothing finer is still to come */
function paint(s: Session, wish: Wanted, visible: Visible, started: number, whole: boolean, fineness: Fineness = 'whole'): void {
  const shown: readonly PreparedMix[] = wish.check ? checkMix(s, wish.mix, wish.check).map((mix) => s.bare(mix)) : [s.prepare(wish.mix, wish.settled)];
  const { width, height } = visible.drawn;
  const first = s.render(shown[0], visible, fineness, wish.check ? null : wish.working, wish.check ? 'none' : wish.marks);
  let pixels = first.pixels;
  if (shown[1]) {
    const kept = Uint8ClampedArray.from(pixels);
    pixels = structureDifference(kept, s.render(shown[1], visible, fineness, null, 'none').pixels, width, height);
  }
  const bitmap = bitmapOf(pixels, width, height);
  const tones = wish.settled && whole && wish.marks === 'none' && !wish.check ? countTones(pixels, width, height) : null;
  // Beside a mix that is worked on, the other has no results of its own kept: it is made anew.
  const other = wish.other && !wish.check ? bitmapOf(s.render(s.prepareOther(wish.other, wish.settled), visible, fineness, null, 'none').pixels, width, height) : null;
  latestShown = wish.ticket;
  if (fineness === 'whole') wholeTook = performance.now() - started;
  send({ kind: 'shown', ticket: wish.ticket, milliseconds: performance.now() - started, drawn: visible.drawn, bitmap, other, tones, final: wish.settled && whole && (wish.known || s.hasFound(wish.mix)), level: first.level }, other ? [bitmap, other] : [bitmap]);
}

/** Milliseconds that a whole picture may take while a hand moves, and those of rest after which it is made in any case. */
const FLUENT = 25;
const RESTING = 100;
/** What the last whole picture took, milliseconds. */
let wholeTook = 0;

/** In the middle of a drag: on half the pixels where all of them would take too long, and on all of them once the hand rests. */
function paintMoving(s: Session, wish: Wanted, visible: Visible, started: number): void {
  const rough = wish.whole || wish.check || wholeTook < FLUENT ? null : roughPart(wish.mix, wish.view, visible);
  if (!rough) return paint(s, wish, visible, started, false);
  paint(s, wish, rough, started, false, 'rough');
  setTimeout(() => {
    if (session !== s || waiting || latest !== wish.ticket) return;
    waiting = { ...wish, whole: true };
    void work();
  }, RESTING);
}

/** Milliseconds that finer pixels are waited for before the picture is shown without them: what was there before is still seen so long. */
const SOON = 300;

/** Milliseconds of rest before the neighbourhood is looked at. */
const LOOKING = 250;

/** Once a picture is there and nobody asks for another: loads what lies around it. */
function lookAround(s: Session, wish: Wanted, visible: Visible): void {
  setTimeout(() => {
    if (session !== s || waiting || latest !== wish.ticket) return;
    // What fails is asked for again when it is needed, and told then.
    void s.loadAround(wish.mix, framesOf(wish), visible).catch(() => undefined);
  }, LOOKING);
}

/** Shows a wish: at once as well as it can be, and again when finer pixels are there, if it is still the one that is looked at. */
async function serve(s: Session, wish: Wanted, started: number): Promise<void> {
  const visible = visiblePart(wish.mix, wish.view);
  if (!visible) return;
  const { proxies, parts } = s.missing(wish.mix, framesOf(wish), visible);
  if (!wish.settled) return paintMoving(s, wish, visible, started);
  if (proxies.length + parts.length === 0) {
    paint(s, wish, visible, started, true);
    return lookAround(s, wish, visible);
  }
  const finer = Promise.all([fetchProxies(proxies, false, (id, proxy) => s.sources.addProxy(id, proxy, 0)), s.load(wish.mix, parts, visible.region)]).then(() => true);
  const first = await Promise.race([finer, new Promise<false>((resolve) => setTimeout(() => resolve(false), latestShown === 0 ? 0 : SOON))]);
  if (waiting || session !== s) return void finer.catch(() => undefined);
  if (first) {
    paint(s, wish, visible, started, true);
    return lookAround(s, wish, visible);
  }
  // It is soft in any case: half the pixels show as much.
  paint(s, wish, (parts.length > 0 && roughPart(wish.mix, wish.view, visible)) || visible, started, false, parts.length > 0 ? 'rough' : 'whole');
  finer.then(() => {
    if (session !== s || waiting || latest !== wish.ticket) return;
    waiting = wish;
    void work();
  }, (error: Error) => session === s && send({ kind: 'failed', why: error.message }));
}

/** The last ticket that came in, and the last that was shown. */
let latest = 0;
let latestShown = 0;
/** What was found was asked for again for a mix whose areas it does not have: once, since the server may not have it either. */
let askedAgain: MixDocument | null = null;

/** What lasts while the shot is open, with what its mix needs to be seen. */
async function openSession(wish: Wanted): Promise<Session> {
  const s = new Session(module, threads, Object.keys(wish.mix.frames).length, NOTHING_FOUND, shelf, left);
  session = s;
  left = s.memory;
  [s.found, s.stored] = await Promise.all([fetchFound(shot), fetchWide(shot), load(s, wish)]);
  return s;
}

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
    const now = opening;
    try {
      const s = session ?? (await openSession(wish));
      await load(s, wish);
      if (wish.settled && wish.known && !s.hasFound(wish.mix) && askedAgain !== wish.mix) {
        askedAgain = wish.mix;
        send({ kind: 'finding' });
        s.found = await fetchFound(shot);
      }
      // Another shot was opened meanwhile.
      if (s === session) await serve(s, wish, started);
    } catch (error) {
      if (now === opening) send({ kind: 'failed', why: (error as Error).message });
    }
  }
  busy = false;
}

/** Lines up what the mask of a pass covers, on whole proxies. */
async function lineUpPart(mix: MixDocument, pass: string): Promise<void> {
  const s = session;
  const own = mix.passes.find((p) => p.id === pass);
  try {
    if (!s || !own) return send({ kind: 'partLinedUp', pass, found: null });
    await fetchProxies([mix.reference, ...framesOfPass(mix, own)].filter((id) => !s.sources.has(id, true)), false, (id, proxy) => s.sources.addProxy(id, proxy, 0));
    if (session !== s) return;
    send({ kind: 'partLinedUp', pass, found: alignPart(module, s, mix, pass) });
  } catch (error) {
    send({ kind: 'failed', why: (error as Error).message });
  }
}

/** Moves an outline onto edges, by proxies about as fine as it asks for: whole ones of many frames would fill the tab. */
async function snap(mix: MixDocument, pass: string, id: string): Promise<void> {
  const s = session;
  const area = mix.passes.find((p) => p.id === pass)?.mask.find((a) => a.id === id);
  try {
    if (!s || !area) return;
    const witnesses = edgeWitnesses(mix);
    const whole = (frame: string): boolean => s.sources.halvings(mix.frames[frame], SNAP_SIDE / Math.max(mix.frames[frame].width, mix.frames[frame].height)) === 0;
    await Promise.all([
      fetchProxies(witnesses.filter((frame) => whole(frame) && !s.sources.has(frame, true)), false, (frame, proxy) => s.sources.addProxy(frame, proxy, 0)),
      fetchProxies(witnesses.filter((frame) => !whole(frame) && !s.sources.has(frame)), true, (frame, proxy) => s.sources.addProxy(frame, proxy, 1)),
    ]);
    if (session !== s) return;
    const snapped = await snapArea(s, mix, area, () => session !== s);
    if (session === s) send({ kind: 'snapped', pass, asked: area, area: snapped });
  } catch (error) {
    send({ kind: 'failed', why: (error as Error).message });
  }
}

/** Pixels of 8-bit RGB as a bitmap. */
const bitmapOfRgb = (rgb: Uint8Array, width: number, height: number): ImageBitmap => bitmapOf(Uint8ClampedArray.from({ length: width * height * 4 }, (_, i) => ((i & 3) === 3 ? 255 : rgb[(i >> 2) * 3 + (i & 3)])), width, height);

const places = placeQuestions({ session: () => session, send, turn, isBusy: () => busy || waiting !== null, bitmapOfRgb });
const straight = straightQuestions({ session: () => session, send });
const questions = mixQuestions({ session: () => session, send, turn, isBusy: () => busy || waiting !== null || latestShown === 0, framesOf: (mix) => framesOf({ mix, check: null, other: null }), loadTables: (mix) => shelf.load([mix]), bitmapOf, bitmapOfRgb });

addEventListener('message', ({ data }: MessageEvent<ToEngine>) => {
  if (data.kind === 'threads') {
    threads = new Threads(data.ports);
  } else if (data.kind === 'open') {
    ({ kernels: module, shot, opening } = data);
    receiver = new MixReceiver();
    session?.close();
    session = waiting = askedAgain = null;
    places.leave();
    questions.leave();
    latest = latestShown = 0;
  } else if (data.kind === 'ahead') {
    void readAhead(data.shot, data.frames);
  } else if (data.kind === 'show') {
    latest = data.wish.ticket;
    waiting = { ...data.wish, mix: receiver.unpack(data.wish.mix), other: data.wish.other && receiver.unpack(data.wish.other) };
    void work();
  } else if (data.kind === 'faces') {
    questions.faces({ ...data, mix: receiver.unpack(data.mix) });
  } else if (data.kind === 'readings') {
    questions.readings({ ...data, mix: receiver.unpack(data.mix) });
  } else if (data.kind === 'sketch') {
    void questions.sketch(data.sketches.map((each) => ({ ...each, mix: receiver.unpack(each.mix) })));
  } else if (data.kind === 'map') {
    questions.map({ ...data, mix: receiver.unpack(data.mix) });
  } else if (data.kind === 'snap') {
    void snap(receiver.unpack(data.mix), data.pass, data.area);
  } else if (data.kind === 'search') {
    places.search({ ...data, mix: receiver.unpack(data.mix) });
  } else if (data.kind === 'inset') {
    places.inset(data);
  } else if (data.kind === 'screenOff') {
    places.screenOff({ ...data, mix: receiver.unpack(data.mix) });
  } else if (data.kind === 'heal') {
    places.heal({ ...data, mix: receiver.unpack(data.mix) });
  } else if (data.kind === 'grain') {
    questions.grain({ ...data, mix: receiver.unpack(data.mix) });
  } else if (data.kind === 'cast') {
    questions.cast({ ...data, mix: receiver.unpack(data.mix) });
  } else if (data.kind === 'tabulate') {
    questions.table({ ...data, mix: receiver.unpack(data.mix) });
  } else if (data.kind === 'stance') {
    void straight.stance({ ...data, mix: receiver.unpack(data.mix) });
  } else if (data.kind === 'snapLine') {
    void straight.snapLine({ ...data, mix: receiver.unpack(data.mix) });
  } else if (data.kind === 'probe') {
    questions.place({ ...data, mix: receiver.unpack(data.mix) });
  } else {
    void lineUpPart(receiver.unpack(data.mix), data.pass);
  }
});
