import { useEffect, type ReactNode } from 'react';
import { useHotkeys } from 'react-hotkeys-hook';
import type { MixDocument } from '@zaddle/document';
import type { Engine } from '../engine/useEngine';
import { KEYS_WHEREVER } from '../frame/keysWherever';
import { laidOut } from '../store/deskSlice';
import { useAppDispatch } from '../store/store';
import { Sketch } from './Sketch';

/** Pixels across one of the pictures. */
const ACROSS = 360;

/** One of several ways that this picture could be. */
interface Way<K extends string> {
  readonly key: K;
  readonly label: string;
  readonly what: string;
  readonly mix: MixDocument;
}

interface SideBySideProps<K extends string> {
  readonly label: string;
  readonly ways: readonly Way<K>[];
  readonly chosen: K | null;
  readonly known: Engine['state']['sketches'];
  readonly ask: Engine['sketch'];
  readonly onTake: (way: K) => void;
  /** What is said under the pictures. */
  readonly children: ReactNode;
}

/** Ways that a picture could be, as small pictures of it beside each other; a number takes one. Their key names them among all pictures that the engine is asked for. */
export function SideBySide<K extends string>({ label, ways, chosen, known, ask, onTake, children }: SideBySideProps<K>) {
  const dispatch = useAppDispatch();
  const keyOf = (way: Way<K>): string => `${label} ${way.key}`;
  const close = (): void => void dispatch(laidOut(null));
  useEffect(() => ask(ways.map((way) => ({ key: keyOf(way), mix: way.mix, columns: ACROSS, rows: Math.max(1, Math.round((ACROSS * way.mix.height) / way.mix.width)) }))),
    // The ways are made anew with every picture; it is their mixes that count.
    // eslint-disable-next-line react-hooks/exhaustive-deps
    [ask, ...ways.map((way) => way.mix)]);
  useHotkeys(ways.map((_, k) => String(k + 1)).join(), (event) => onTake(ways[Number(event.key) - 1].key), KEYS_WHEREVER, [ways, onTake]);
  useHotkeys('escape', close, KEYS_WHEREVER);
  return (
    <div className="starts" role="radiogroup" aria-label={label} onPointerDown={(e) => e.stopPropagation()} onWheel={(e) => e.stopPropagation()}>
      <div className="row" style={{ gridTemplateColumns: `repeat(${ways.length}, minmax(0, 1fr))` }}>
        {ways.map((way, k) => (
          <button key={way.key} role="radio" aria-checked={way.key === chosen} aria-label={way.label} onClick={() => onTake(way.key)}>
            <Sketch picture={known.get(keyOf(way))} />
            <span><kbd>{k + 1}</kbd> <b>{way.label}</b></span>
            <span className="soft">{way.what}</span>
          </button>
        ))}
      </div>
      <footer>
        {children}
        <button className="flat" onClick={close}>Close</button>
      </footer>
    </div>
  );
}
