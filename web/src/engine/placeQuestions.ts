import type { PlaceBox } from '@zaddle/core/clean/lookAtPlace';
import { screenOff } from '@zaddle/core/clean/screenOff';
import { healGrid } from '@zaddle/core/heal/lookToHeal';
import { framesOfPass } from '@zaddle/document';
import { fetchProxies } from './fetchProxies';
import { healSpot } from './healSpot';
import type { Answer, Asked, ToEngine } from './messages';
import { candidateLight, framesOf, insetsOf, namedInsets, searchSpot, type SpotSearch } from './searchSpot';
import { faceOf } from './measureMix';
import { boxOf, healRegion, loadPlace, lookAtHealing, placeRegion, wantsWholes } from './placesOf';
import type { Session } from './session';

/** What questions about places need of the worker that answers them. */
export interface Asker {
  /** The shot that is open. */
  readonly session: () => Session | null;
  readonly send: (message: Answer, transfer?: Transferable[]) => void;
  /** Lets messages that came meanwhile in first. */
  readonly turn: () => Promise<void>;
  /** A picture is being made, or waited for. */
  readonly isBusy: () => boolean;
  readonly bitmapOfRgb: (rgb: Uint8Array, width: number, height: number) => ImageBitmap;
}

/** Answers questions about places of the picture: what every frame would give them, how they are healed, what they are as a screen that is off. */
export function placeQuestions(asker: Asker) {
  /** The place that was searched last. */
  let spot: SpotSearch | null = null;
  let searching = 0;

  /** Works out what trying each candidate takes, so that going from one to the next is at once; what is asked for comes first. */
  async function workAhead(own: SpotSearch): Promise<void> {
    for (const { key } of own.candidates) {
      await asker.turn();
      if (spot !== own) return;
      insetsOf(own, key);
    }
  }

  /** Tells what every frame would give a place, by the pixels that are at hand. @param more the same follows from finer ones */
  function tellSpot(s: Session, { mix, areas, why, ticket }: Asked<'search'>, box: PlaceBox, more: boolean): SpotSearch {
    const found = searchSpot(s, mix, areas, box, Object.keys(mix.frames), why);
    spot = found;
    const { width, height } = found.looks.coverage;
    const now = asker.bitmapOfRgb(faceOf(s, found.looks.picture), width, height);
    const candidates = found.candidates.map((each) => ({ key: each.key, frames: framesOf(each), word: 'pair' in each ? ('two together' as const) : each.one.word, face: asker.bitmapOfRgb(faceOf(s, candidateLight(found, each)), width, height) }));
    asker.send({ kind: 'searched', ticket, spot: { now, candidates }, more }, [now, ...candidates.map(({ face }) => face)]);
    return found;
  }

  /** Looks at a place in every frame: by proxies at once, whole ones where the place is small, and by the originals where these are finer, when they are there. */
  async function search(question: Asked<'search'>): Promise<void> {
    const { mix, areas, ticket } = question;
    const s = asker.session();
    searching = ticket;
    const isOver = (): boolean => asker.session() !== s || searching !== ticket;
    const nothing = (): void => asker.send({ kind: 'searched', ticket, spot: null, more: false });
    try {
      const box = s && boxOf(s, mix, areas);
      if (!box) return nothing();
      const frames = Object.keys(mix.frames);
      const whole = wantsWholes(s, mix, box);
      await fetchProxies(frames.filter((frame) => !s.sources.has(frame, whole)), !whole, (frame, proxy) => s.sources.addProxy(frame, proxy, whole ? 0 : 1));
      if (isOver()) return nothing();
      const region = placeRegion(s, mix, box);
      const first = tellSpot(s, question, box, region !== null);
      // What cannot be loaded is seen as coarsely as it is.
      const loaded = region && loadPlace(s, mix, region, frames).then(() => true, () => false);
      await workAhead(first);
      if (!loaded) return;
      if (!(await loaded) || isOver()) return nothing();
      await workAhead(tellSpot(s, question, box, false));
    } catch (error) {
      asker.send({ kind: 'searched', ticket, spot: null, more: false });
      if (asker.session() === s) asker.send({ kind: 'failed', why: (error as Error).message });
    }
  }

  /** Places that wait to be healed, one after the other: none is forgotten because the next one was pointed at. */
  let healings: Promise<void> = Promise.resolve();
  let healsWaiting = 0;

  function queueHeal(question: Asked<'heal'>): void {
    healsWaiting += 1;
    healings = healings.then(() => {
      healsWaiting -= 1;
      return heal(question);
    });
  }

  /** Heals a place from the picture about it, by the originals where these are finer than proxies: the first way as soon as it is found, others after it as long as nothing else is asked. */
  async function heal({ mix, areas, ticket }: Asked<'heal'>): Promise<void> {
    const s = asker.session();
    searching = -ticket;
    const isOver = (): boolean => asker.session() !== s || searching !== -ticket || healsWaiting > 0;
    const last = (): void => asker.send({ kind: 'healed', ticket, way: null, more: false });
    try {
      const box = s && boxOf(s, mix, areas);
      if (!box) return last();
      const home = mix.frames[mix.reference];
      const grid = healGrid(home, areas, box);
      const frames = [...new Set([mix.reference, ...mix.passes.flatMap((pass) => framesOfPass(mix, pass))])];
      const region = healRegion(s, mix, grid);
      const whole = !region && s.sources.halvings(home, 1) === 0;
      await fetchProxies(frames.filter((frame) => !s.sources.has(frame, whole)), !whole, (frame, proxy) => s.sources.addProxy(frame, proxy, whole ? 0 : 1));
      // What cannot be loaded is seen as coarsely as it is.
      if (region) await loadPlace(s, mix, region, frames).catch(() => undefined);
      if (asker.session() !== s) return last();
      for (const way of healSpot(s, mix, areas, box)) {
        asker.send({ kind: 'healed', ticket, way, more: true });
        // The picture with it comes before the next way is looked for.
        for (let k = 0; k < 3; k++) await asker.turn();
        while (asker.isBusy()) await new Promise((resolve) => setTimeout(resolve, 20));
        if (isOver()) return last();
      }
      last();
    } catch (error) {
      last();
      if (asker.session() === s) asker.send({ kind: 'failed', why: (error as Error).message });
    }
  }

  /** The tones of a screen that is off, by proxies: they are those of the room about it. */
  function tellScreen({ mix, areas, ticket }: Asked<'screenOff'>): void {
    const s = asker.session();
    try {
      const box = s && boxOf(s, mix, areas);
      const grid = box && healGrid(mix.frames[mix.reference], [], box);
      const look = grid && lookAtHealing(s, mix, areas, grid);
      asker.send({ kind: 'screened', ticket, tones: look ? screenOff(look.picture, look.hole, grid.toReference, grid.full) : null });
    } catch (error) {
      asker.send({ kind: 'screened', ticket, tones: null });
      asker.send({ kind: 'failed', why: (error as Error).message });
    }
  }

  return {
    search: (question: Asked<'search'>): void => void search(question),
    inset({ key, id, ticket }: Extract<ToEngine, { kind: 'inset' }>): void {
      asker.send({ kind: 'insetMade', ticket, insets: spot ? namedInsets(insetsOf(spot, key), id) : [] });
    },
    screenOff: tellScreen,
    heal: queueHeal,
    /** The shot is left: nothing of it is kept. */
    leave(): void {
      spot = null;
    },
  };
}
