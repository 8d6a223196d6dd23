import { notifications } from '@mantine/notifications';
import { useCallback, useEffect, useRef, useState } from 'react';
import { useHotkeys } from 'react-hotkeys-hook';
import { addInsetCommand } from '@zaddle/core/clean/cleanUpBundle';
import type { Command, MixDocument, Point, SourcePass } from '@zaddle/document';
import type { FoundSpot } from '../engine/messages';
import type { Engine } from '../engine/useEngine';
import { KEYS_WHEREVER } from '../frame/keysWherever';
import type { Frame } from '../store/api';
import { selected as select, spotSearched, type SearchedSpot } from '../store/deskSlice';
import { useAppDispatch } from '../store/store';
import { freshId } from './newPass';
import { toStage } from './stagePlaces';
import { softened, spotOf } from './useSpotPointer';
import type { Viewport } from './useViewport';

/** Room that the strip takes beside a place, and how far it stays off, screen pixels. */
const WIDTH = 432;
const OFF = 18;

function Face({ picture }: { picture: ImageBitmap }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  useEffect(() => void canvas.current!.getContext('2d')!.drawImage(picture, 0, 0), [picture]);
  return <canvas ref={canvas} width={picture.width} height={picture.height} aria-hidden />;
}

/** Where the strip goes: beside the place, on the side that has room. */
function beside(place: Point, reach: number, stage: { readonly width: number; readonly height: number }): { readonly left: number; readonly top: number; readonly maxHeight: number } {
  const right = place[0] + reach + OFF;
  const left = right + WIDTH <= stage.width ? right : Math.max(8, place[0] - reach - OFF - WIDTH);
  const maxHeight = Math.max(160, stage.height - 24);
  return { left: Math.min(left, Math.max(8, stage.width - WIDTH - 8)), top: Math.max(12, Math.min(place[1] - 120, stage.height - 420)), maxHeight };
}

/** A candidate with the passes that take it; none where its frame has nothing to give there. */
interface ShownCandidate { readonly key: string; readonly insets: readonly SourcePass[] }

/** Which candidate is tried on when finer pixels have come: the same one, or, where two frames are none together any more, the first of them. */
function triedOn({ candidates }: FoundSpot, before: FoundSpot['candidates'][number] | undefined): number {
  const same = candidates.findIndex(({ key }) => key === before?.key);
  return same >= 0 || !before ? same : candidates.findIndex(({ key }) => key === before.frames[0]);
}

interface SearchProps {
  readonly spot: SearchedSpot;
  /** The mix without what is being tried. */
  readonly standing: MixDocument;
  readonly view: Viewport;
  readonly stage: { readonly width: number; readonly height: number };
  readonly frames: readonly Frame[];
  readonly search: Engine['search'];
  readonly insetsOf: Engine['insetsOf'];
  readonly onAct: (command: Command, done: boolean) => void;
  readonly onCancel: () => void;
  /** Lets the place stay as it is, and remembers that; null for one that was pointed at. */
  readonly onStay: ((at: Point) => void) | null;
}

/** The same place from every frame, beside it, the cleanest first: arrows try one in the picture, Enter takes it, Escape leaves all as it is. */
export function SpotSearch({ spot, standing, view, stage, frames, search, insetsOf, onAct, onCancel, onStay }: SearchProps) {
  const dispatch = useAppDispatch();
  const [found, setFound] = useState<FoundSpot | null>(null);
  /** Which one is tried; -1: the picture as it is. Known at once: keys come faster than the strip is drawn. */
  const [tried, drawTried] = useState(-1);
  const triedNow = useRef(-1);
  const setTried = useCallback((k: number): void => {
    triedNow.current = k;
    drawTried(k);
  }, []);
  /** As it stands now: another window may have added to it meanwhile. */
  const now = useRef(standing);
  now.current = standing;
  const cancel = useRef(onCancel);
  cancel.current = onCancel;
  /** What was told last. */
  const told = useRef<FoundSpot | null>(null);
  /** The one that is worked out: seen in the picture, unless there is nothing of it. */
  const [shown, drawShown] = useState<ShownCandidate | null>(null);
  const shownNow = useRef<ShownCandidate | null>(null);
  const close = useCallback(() => {
    onCancel();
    dispatch(spotSearched(null));
  }, [dispatch, onCancel]);
  useEffect(() => {
    let alive = true;
    search(now.current, spot.areas, { pointedAt: !spot.found, having: spot.found?.frame ? [spot.found.frame] : [] }, (answer) => {
      if (!alive) return;
      const before = told.current;
      if (answer && answer.candidates.length > 0) {
        told.current = answer;
        setFound(answer);
        // Where the picture is as clean as the best frame there is nothing to try.
        setTried(before ? triedOn(answer, before.candidates[triedNow.current]) : answer.candidates[0].word === 'as it is now' ? -1 : 0);
        return;
      }
      if (before) return;
      notifications.show({ color: 'red', title: 'Nothing found', message: 'No frame shows this place. Point inside the picture, or at a larger place.' });
      close();
    });
    return () => {
      alive = false;
      // However it is left, what was only tried goes.
      cancel.current();
    };
    // Once a place; another one is another strip.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, []);
  const take = (all: readonly SourcePass[]): void => {
    if (all.length === 0) return void notifications.show({ color: 'yellow', title: 'Nothing to take', message: 'This frame has nothing to give at this place. Try another one.' });
    onAct(addInsetCommand(now.current.passes, ...all), true);
    dispatch(spotSearched(null));
    dispatch(select(all[all.length - 1].id));
  };
  const candidate = found?.candidates[tried];
  const nameOf = (frame: string): string => frames.find((f) => f.id === frame)?.name ?? 'Frame';
  /** The candidate that is to be taken as soon as it is worked out: Enter was pressed before. */
  const wanted = useRef<string | null>(null);
  useEffect(() => {
    if (wanted.current !== candidate?.key) wanted.current = null;
    if (!candidate) return found ? onCancel() : undefined;
    let alive = true;
    void insetsOf(candidate.key, freshId('pass')).then((made) => {
      if (!alive) return;
      const named = made.map((inset, k) => ({ ...inset, name: `Clean: ${nameOf(candidate.frames[k])}`.slice(0, 120) }));
      const takes = wanted.current === candidate.key;
      wanted.current = null;
      shownNow.current = { key: candidate.key, insets: named };
      if (takes) return take(named);
      drawShown(shownNow.current);
      if (named.length > 0) onAct(addInsetCommand(now.current.passes, ...named), false);
      else onCancel();
    });
    return () => void (alive = false);
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [found, tried]);
  const insets = candidate && shown?.key === candidate.key ? shown.insets : null;
  /** Takes what is tried; the picture as it is, is left as it is. */
  const enter = (): void => {
    const meant = told.current?.candidates[triedNow.current]?.key;
    if (meant === undefined) return told.current ? close() : undefined;
    if (shownNow.current?.key === meant) take(shownNow.current.insets);
    else wanted.current = meant;
  };
  /** No frame is clean: the picture itself gives the place. */
  const healInstead = (): void => {
    onCancel();
    dispatch(spotSearched({ ...spotOf(softened(spot.areas[0])), heals: true }));
  };
  const stay = (): void => {
    close();
    onStay?.(spot.at);
  };
  const step = (by: number): void => setTried(Math.max(-1, Math.min((told.current?.candidates.length ?? 0) - 1, triedNow.current + by)));
  const keys = { ...KEYS_WHEREVER, preventDefault: true };
  useHotkeys('right,down', () => step(1), keys);
  useHotkeys('left,up', () => step(-1), keys);
  useHotkeys('enter', enter, keys);
  useHotkeys('escape', close, keys, [close]);
  useHotkeys('shift+enter', () => onStay && stay(), keys, [onStay]);
  const list = useRef<HTMLDivElement>(null);
  useEffect(() => void list.current?.querySelector('[aria-checked=true]')?.scrollIntoView({ block: 'nearest' }), [tried]);
  const place = toStage(standing, view)(spot.at);
  const [area] = spot.areas;
  const reach = area.kind === 'spot' ? Math.hypot(toStage(standing, view)(area.rim)[0] - place[0], toStage(standing, view)(area.rim)[1] - place[1]) : 60;
  const cell = (k: number, picture: ImageBitmap, name: string, word: string) => (
    <button key={k} role="radio" aria-checked={tried === k} aria-label={`${name}: ${word}`} onClick={() => setTried(k)} onDoubleClick={enter}>
      <Face picture={picture} />
      <span>{name}</span>
      <span className="soft">{word}</span>
    </button>
  );
  return (
    <div className="spot-search" style={beside(place, reach, stage)} role="radiogroup" aria-label="This place in every frame" data-testid="spot-search" data-tried={insets ? tried : found && tried < 0 ? 'none' : ''} onPointerDown={(e) => e.stopPropagation()} onWheel={(e) => e.stopPropagation()}>
      {found ? (
        <>
          <div className="faces" ref={list}>
            {cell(-1, found.now, 'The picture', 'as it is')}
            {found.candidates.map(({ frames: from, word, face }, k) => cell(k, face, from.map(nameOf).join(' and '), word))}
          </div>
          <footer><span className="soft">{found.candidates[0].word === 'as it is now' ? 'As clean as any' : '← → try'}</span><button className="flat" disabled={tried < 0} onClick={enter}>Take (Enter)</button><button className="flat" title="No frame is clean: from the picture itself" onClick={healInstead}>Heal</button>{onStay && <button className="flat" title="Shift + Enter: it is not offered again" onClick={stay}>It may stay</button>}<button className="flat" title="Escape" onClick={close}>{onStay ? 'Later' : 'Leave it'}</button></footer>
        </>
      ) : <p className="soft">Looking through all frames…</p>}
    </div>
  );
}
