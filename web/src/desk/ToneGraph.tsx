import { useRef, type KeyboardEvent, type PointerEvent } from 'react';
import { srgbToLinear } from '@zaddle/core/colour/transfer';
import { inverseToneCurve } from '@zaddle/core/finish/toneCurve';
import { toneChange } from '@zaddle/core/finish/tonePoints';
import type { TonePoint } from '@zaddle/document';
import type { ToneCounts } from '../engine/messages';
import { stops } from './showValues';

/** Stops about middle grey at the left and right end, and those by which a tone changes at the top. */
const [DARK, BRIGHT, MOST] = [-8, 4, 3];
const [WIDTH, HEIGHT] = [216, 96];
/** Tones that a curve begins with, by the zones that people speak of. */
export const ZONES: readonly (readonly [string, number])[] = [['Blacks', -6], ['Shadows', -3.5], ['Middle', -1], ['Highlights', 1], ['Whites', 2.5]];

const xOf = (tone: number): number => ((tone - DARK) / (BRIGHT - DARK)) * WIDTH;
const yOf = (change: number): number => (HEIGHT / 2) * (1 - change / MOST);
const rounded = (v: number): number => Math.round(v * 100) / 100;
/** Tone of a delivered brightness 0..1, stops about middle grey. */
const toneOfDelivered = (value: number): number => Math.log2(Math.max(1e-5, inverseToneCurve(srgbToLinear(value))) / 0.18);
const BIN_TONES = Array.from({ length: 128 }, (_, k) => toneOfDelivered((k + 0.5) / 128));

/** Stops about middle grey beyond which a tone counts as a black or a white. */
const [BLACKS, WHITES] = [-5, 2];

/** Whether a tone is one of the blacks or whites: where that is moved, what clips is wanted to be seen. */
const isEnd = (tone: number): boolean => tone <= BLACKS || tone >= WHITES;

/** How the tones of the picture are spread, as the outline of a hill. */
function Hill({ counts }: { counts: Uint32Array }) {
  const columns = new Float64Array(54);
  counts.forEach((count, k) => {
    const column = Math.floor(((BIN_TONES[k] - DARK) / (BRIGHT - DARK)) * columns.length);
    if (column >= 0 && column < columns.length) columns[column] += count;
  });
  const most = Math.max(1, ...columns);
  const points = Array.from(columns, (v, k) => `${((k + 0.5) * WIDTH) / columns.length},${HEIGHT - 1 - Math.sqrt(v / most) * (HEIGHT - 8)}`);
  return <polygon className="hill" points={`0,${HEIGHT} ${points.join(' ')} ${WIDTH},${HEIGHT}`} />;
}

interface GraphProps {
  readonly tones: ToneCounts | null;
  /** The curve that is set; null: only the spread is shown. */
  readonly curve: readonly TonePoint[] | null;
  readonly onChange: (curve: readonly TonePoint[], done: boolean) => void;
  /** Told while blacks or whites are dragged, and when they are not any more. */
  readonly onEnds: (moving: boolean) => void;
}

/** A curve with one of its points elsewhere; it stays between its neighbours. */
export function withPointAt(curve: readonly TonePoint[], index: number, [at, by]: TonePoint): readonly TonePoint[] {
  const low = index > 0 ? curve[index - 1][0] + 0.05 : -12;
  const high = index < curve.length - 1 ? curve[index + 1][0] - 0.05 : 6;
  return curve.map((point, k) => (k === index ? [rounded(Math.min(high, Math.max(low, at))), rounded(Math.min(MOST, Math.max(-MOST, by)))] : point));
}

/** A curve with a point at a tone, and which it is: the one that is there already, if it is near. */
export function withTone(curve: readonly TonePoint[], tone: number): { curve: readonly TonePoint[]; index: number } {
  const near = curve.findIndex(([at]) => Math.abs(at - tone) < 0.4);
  if (near >= 0) return { curve, index: near };
  const base: readonly TonePoint[] = curve.length > 0 ? curve : [[-9, 0], [5, 0]];
  const index = base.filter(([at]) => at < tone).length;
  return { curve: [...base.slice(0, index), [rounded(tone), rounded(toneChange(base, tone))], ...base.slice(index)], index };
}

/**
 * The tones of the picture from dark to bright, and the curve that changes them: drag it anywhere, or hold a point with the
 * arrow keys; a double click on a point takes it away.
 */
export function ToneGraph({ tones, curve, onChange, onEnds }: GraphProps) {
  const svg = useRef<SVGSVGElement>(null);
  const held = useRef<{ curve: readonly TonePoint[]; index: number } | null>(null);
  const place = (event: PointerEvent): TonePoint => {
    const box = svg.current!.getBoundingClientRect();
    return [DARK + ((event.clientX - box.left) / box.width) * (BRIGHT - DARK), MOST * (1 - (2 * (event.clientY - box.top)) / box.height)];
  };
  const down = (event: PointerEvent): void => {
    if (!curve || event.button !== 0) return;
    svg.current!.setPointerCapture(event.pointerId);
    const [tone, by] = place(event);
    held.current = withTone(curve, tone);
    move(event, false, [held.current.curve[held.current.index][0], by]);
  };
  const move = (event: PointerEvent, done: boolean, to?: TonePoint): void => {
    if (!held.current) return;
    const next = withPointAt(held.current.curve, held.current.index, to ?? place(event));
    onEnds(!done && isEnd(next[held.current.index][0]));
    onChange(next, done);
    if (done) held.current = null;
  };
  const key = (event: KeyboardEvent, index: number): void => {
    const by = ({ ArrowUp: [0, 0.05], ArrowDown: [0, -0.05], ArrowLeft: [-0.1, 0], ArrowRight: [0.1, 0] } as const)[event.key as 'ArrowUp'];
    if (event.key === 'Delete') onChange(curve!.filter((_, k) => k !== index), true);
    else if (by) onChange(withPointAt(curve!, index, [curve![index][0] + by[0], curve![index][1] + by[1]]), true);
    else return;
    event.preventDefault();
    event.stopPropagation();
  };
  const line = curve && curve.length > 0 ? Array.from({ length: 73 }, (_, k) => DARK + (k / 72) * (BRIGHT - DARK)).map((tone) => `${xOf(tone)},${yOf(toneChange(curve, tone))}`).join(' ') : `0,${HEIGHT / 2} ${WIDTH},${HEIGHT / 2}`;
  return (
    <figure className="tone-graph">
      <svg ref={svg} viewBox={`0 0 ${WIDTH} ${HEIGHT}`} role="group" aria-label="Tones" onPointerDown={down} onPointerMove={(e) => move(e, false)} onPointerUp={(e) => move(e, true)} onLostPointerCapture={() => onEnds(false)}>
        {tones && <Hill counts={tones.counts} />}
        <line className="middle" x1={xOf(0)} x2={xOf(0)} y1={0} y2={HEIGHT} />
        {curve && <polyline points={line} />}
        {curve?.map(([at, by], k) => <circle key={k} cx={xOf(at)} cy={yOf(by)} r={5} tabIndex={0} role="slider" aria-label={`Tone ${stops(at)}`} aria-valuenow={by} aria-valuetext={`${stops(by)} stops`} onKeyDown={(e) => key(e, k)} onDoubleClick={() => onChange(curve.filter((_, i) => i !== k), true)} />)}
      </svg>
      <figcaption><span>{tones ? `${(tones.black * 100).toFixed(1)} % black` : ''}</span><span>{tones ? `${(tones.white * 100).toFixed(1)} % white` : ''}</span></figcaption>
    </figure>
  );
}
