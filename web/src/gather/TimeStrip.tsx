import dayjs from 'dayjs';
import type { Frame, Shot } from '../store/api';
import { isDoubtful } from './ShotBlock';

interface TimeStripProps {
  readonly shots: readonly Shot[];
  readonly framesOf: ReadonlyMap<string, readonly Frame[]>;
  readonly currentShot: string | null;
  readonly onJump: (shot: string) => void;
}

const WIDTH = 1000;
/** Pauses longer than this, milliseconds, are drawn as long as this: a visit has lunch breaks. */
const LONGEST_PAUSE = 120_000;

/** Places of times along the strip, 0..WIDTH, long pauses cut short. */
function placer(times: readonly number[]): (time: number) => number {
  const sorted = [...times].sort((a, b) => a - b);
  const at = new Map<number, number>();
  let sum = 0;
  sorted.forEach((time, k) => {
    if (k > 0) sum += Math.min(LONGEST_PAUSE, time - sorted[k - 1]);
    at.set(time, sum);
  });
  return (time) => ((at.get(time) ?? 0) / Math.max(1, sum)) * (WIDTH - 8) + 4;
}

const timesOf = (frames: readonly Frame[]): number[] => frames.flatMap((f) => (f.facts?.takenAt ? [f.facts.takenAt] : []));

/** The whole visit on one line: a bar a shot, a tick a frame, flashes taller; a click goes there. */
export function TimeStrip({ shots, framesOf, currentShot, onJump }: TimeStripProps) {
  const all = shots.flatMap((shot) => timesOf(framesOf.get(shot.id) ?? []));
  if (all.length < 2) return null;
  const place = placer(all);
  return (
    <div className="time-strip">
      <span className="soft">{dayjs(Math.min(...all)).format('HH:mm')}</span>
      <svg viewBox={`0 0 ${WIDTH} 30`} preserveAspectRatio="none" role="img" aria-label="The visit over time">
        {shots.map((shot) => {
          const frames = framesOf.get(shot.id) ?? [];
          const times = timesOf(frames);
          if (times.length === 0) return null;
          const [from, to] = [place(Math.min(...times)), place(Math.max(...times))];
          const state = isDoubtful(shot) ? 'doubtful' : '';
          return (
            <g key={shot.id} className={`bar ${shot.id === currentShot ? 'current' : ''} ${state}`} onClick={() => onJump(shot.id)}>
              <title>{`${shot.label}: ${frames.length} frames`}</title>
              <rect x={from - 2} y={4} width={Math.max(4, to - from + 4)} height={22} />
              {frames.map((f) => f.facts?.takenAt && <line key={f.id} x1={place(f.facts.takenAt)} x2={place(f.facts.takenAt)} y1={f.role === 'ambient' || f.role === 'lamp' ? 13 : 6} y2={24} />)}
            </g>
          );
        })}
      </svg>
      <span className="soft">{dayjs(Math.max(...all)).format('HH:mm')}</span>
    </div>
  );
}
