import { Bar, BarChart, CartesianGrid, ErrorBar, ReferenceDot, ResponsiveContainer, XAxis, YAxis } from 'recharts';
import { clockWords } from './timeWords';
import { standing } from './foreseen';
import type { ForeseenShoot } from '../store/api';

/** Shoots that are drawn: what is due first. */
const MOST_ROWS = 6;
const ROW_HEIGHT = 34;
/** The axis ends at the last due time, but after so many times the work at most. */
const MOST_SPAN = 2.5;
/** Stages of a shoot as they follow each other, from light to dark. */
const STAGES = [['read', 'reading', '#dcdcdc'], ['mixed', 'mixing', '#b9b9b9'], ['byHand', 'by hand', '#7d7d7d'], ['delivered', 'delivering', '#3a3a3a']] as const;
/** Steps between marks of the time axis, minutes. */
const STEPS = [5, 10, 15, 30, 60, 120, 180, 360, 720, 1440];

/** How long each stage goes on after the one before has ended, minutes. */
function stretches(shoot: ForeseenShoot): Record<string, number> {
  let before = 0;
  return Object.fromEntries(STAGES.map(([stage]) => {
    const end = Math.max(before, shoot[stage] / 60);
    const stretch = end - before;
    before = end;
    return [stage, stretch];
  }));
}

/** Marks of the axis at round times of day, in minutes from now. */
function marks(most: number, now: number): number[] {
  const step = STEPS.find((each) => most / each <= 8) ?? STEPS.at(-1)!;
  const offset = new Date(now).getTimezoneOffset();
  const first = step - (((now / 60_000 - offset) % step) + step) % step;
  const list: number[] = [];
  for (let at = first; at <= most; at += step) list.push(at);
  return list;
}

/** Where a shoot is due; an arrow and the time where that lies beyond the right side. */
function DueMark({ how, x, y, later }: { readonly how: string; readonly x: number; readonly y: number; readonly later: string | null }) {
  const name = `due ${how.replaceAll(' ', '-')}`;
  if (later === null) return <path className={name} d={`M ${x} ${y - 13} V ${y + 13} M ${x - 4} ${y - 13} H ${x + 4}`} />;
  return <g><path className={name} d={`M ${x - 14} ${y} H ${x - 2} M ${x - 7} ${y - 4} L ${x - 2} ${y} L ${x - 7} ${y + 4}`} /><text x={x - 20} y={y + 4} textAnchor="end" fontSize={12} fill="#191919">due {later}</text></g>;
}

/** The rest of each shoot's work against its due time. @param now when it was foreseen, milliseconds */
export function ForecastChart({ shoots, now }: { readonly shoots: readonly ForeseenShoot[]; readonly now: number }) {
  const rows = shoots.filter(({ inHand }) => inHand !== null).slice(0, MOST_ROWS);
  if (rows.length === 0) return null;
  const due = (shoot: ForeseenShoot): number => (shoot.inHand! + shoot.delivered) / 60;
  const end = Math.max(10, ...rows.map((shoot) => (shoot.delivered + shoot.within) / 60));
  // A morning that is far off would press the work of an hour into a line: it lies beyond the right side then.
  const most = 1.04 * Math.min(Math.max(end, ...rows.map(due)), MOST_SPAN * end);
  const data = rows.map((shoot) => ({ id: shoot.id, ...stretches(shoot), error: shoot.within / 60 }));
  const names = new Map(rows.map(({ id, name }) => [id, name]));
  return (
    <figure className="forecast-chart" aria-label={rows.map((shoot) => `${shoot.name}: done at ${clockWords(now + 1000 * shoot.delivered, now)}, due at ${clockWords(Date.parse(shoot.dueAt!), now)}`).join('; ')}>
      <ResponsiveContainer width="100%" height={rows.length * ROW_HEIGHT + 30}>
        <BarChart layout="vertical" data={data} barSize={13} margin={{ left: 0, right: 18, top: 4, bottom: 0 }}>
          <CartesianGrid horizontal={false} stroke="#e4e4e4" />
          <XAxis type="number" domain={[0, most]} ticks={marks(most, now)} tickFormatter={(minutes: number) => clockWords(now + minutes * 60_000, now)} tick={{ fontSize: 12, fill: '#5c5c5c' }} stroke="#c9c9c9" interval="preserveStartEnd" />
          <YAxis type="category" dataKey="id" width={150} tickFormatter={(id: string) => names.get(id)!} tick={{ fontSize: 13, fill: '#191919' }} stroke="#c9c9c9" tickLine={false} />
          {STAGES.map(([stage, , fill]) => (
            <Bar key={stage} dataKey={stage} stackId="time" fill={fill} isAnimationActive={false}>
              {stage === 'delivered' && <ErrorBar dataKey="error" direction="x" width={5} stroke="#191919" strokeWidth={1} isAnimationActive={false} />}
            </Bar>
          ))}
          {rows.map((shoot) => (
            <ReferenceDot key={shoot.id} x={Math.max(0, Math.min(most, due(shoot)))} y={shoot.id} shape={({ cx = 0, cy = 0 }: { cx?: number; cy?: number }) => <DueMark how={standing(shoot)} x={cx} y={cy} later={due(shoot) > most ? clockWords(Date.parse(shoot.dueAt!), now) : null} />} />
          ))}
        </BarChart>
      </ResponsiveContainer>
      <figcaption className="soft">{STAGES.map(([stage, word, fill]) => <span key={stage}><i style={{ background: fill }} />{word}</span>)}<span><i className="due-mark" />due</span><span>thin line: nine of ten cases end within</span></figcaption>
    </figure>
  );
}
