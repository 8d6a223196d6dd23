import type { Reading } from '@zaddle/core/read/readings';
import type { Frame } from '../store/api';
import { frameChosen, panelOpened, placeAsked, readingsToggled } from '../store/deskSlice';
import { useAppDispatch, useAppSelector } from '../store/store';

const NAMES: Readonly<Record<Reading['kind'], string>> = {
  misalignment: 'Lined up', clipped: 'Clipped', view: 'View over room', cast: 'Cast', unused: 'Left out', single: 'Frames', unlit: 'Unlit', unsafe: 'White in all', step: 'Largest step', blur: 'Blurred',
  changed: 'Changed', moved: 'Something moved', glare: 'Flash seen', lamps: 'Lamps', crowded: 'Too many frames', invented: 'Made up', leaning: 'Verticals',
};
const DIGITS: Readonly<Record<string, number>> = { px: 2, '%': 1, stops: 1, 'ΔE': 1, '°': 1, frames: 0 };

/** Kinds that are measured on the picture itself. */
const OF_PICTURE: ReadonlySet<Reading['kind']> = new Set(['clipped', 'cast', 'view']);

/** Readings of a shot with those of its picture as it stands now. @param now null: not measured yet. @param plumb how it stands, told at once; null: unknown. */
export function following(proposed: readonly Reading[], now: readonly Reading[] | null, plumb: Reading | null): Reading[] {
  const kept = proposed.filter(({ kind }) => kind !== 'leaning' && !(now && OF_PICTURE.has(kind)));
  return [...kept, ...(plumb ? [plumb] : []), ...(now ?? [])];
}

const STATES = [['bad', 'bad'], ['check', 'to check'], ['good', 'good']] as const;

interface ReadingsProps {
  readonly readings: readonly Reading[];
  readonly frames: readonly Frame[];
  /** Places where frames disagree, that nobody has decided about; and to the next of them. */
  readonly undecided: number;
  readonly onPlace: () => void;
  /** Places of dust that are not healed yet. */
  readonly dust: number;
  readonly onDust: () => void;
}

/**
 * What is measured about the shot, in the order of the job: a narrow column of counts, opened on demand. A reading
 * that has a place takes the picture there.
 */
export function Readings({ readings, frames, undecided, onPlace, dust, onDust }: ReadingsProps) {
  const dispatch = useAppDispatch();
  const jump = (reading: Reading): void => {
    if (reading.frame) {
      dispatch(panelOpened('lineUp'));
      dispatch(frameChosen(reading.frame));
    }
    if (reading.where) dispatch(placeAsked(reading.where));
  };
  const open = useAppSelector((s) => s.desk.readings);
  const counts = STATES.map(([state, word]) => ({ state, word, count: readings.filter((r) => r.state === state).length }));
  if (!open) {
    return (
      <aside className="side left narrow" aria-label="Readings">
        <button onClick={() => dispatch(readingsToggled())} aria-expanded={false} aria-label={`Readings: ${counts.map(({ word, count }) => `${count} ${word}`).join(', ')}`} title="Readings (g)">
          {counts.map(({ state, count }) => <span key={state} className={count > 0 ? '' : 'none'}><span className={`dot ${state}`} />{count}</span>)}
          <span className="sideways">Readings</span>
        </button>
      </aside>
    );
  }
  return (
    <aside className="side left" aria-label="Readings">
      <h4>Readings <button className="flat" onClick={() => dispatch(readingsToggled())} aria-expanded title="g">Fold</button></h4>
      <p className="why">Clipped, cast, view and verticals follow the picture; the others were measured when it was lined up.</p>
      {undecided > 0 && <button className="reading walk" onClick={onPlace} title="Shift + n"><span className="head"><span className="dot check" role="img" aria-label="check" /><span>Frames disagree</span><b>{undecided} {undecided === 1 ? 'place' : 'places'}</b></span><span className="soft">Look at them one by one: take the best frame there, or let it stay.</span></button>}
      {dust > 0 && <button className="reading walk" onClick={onDust}><span className="head"><span className="dot check" role="img" aria-label="check" /><span>Dust on the sensor</span><b>{dust} {dust === 1 ? 'place' : 'places'}</b></span><span className="soft">Dark at the same place of the sensor in other shots, too. Click: all are healed from the picture, as one step.</span></button>}
      {readings.map((r, k) => {
        const name = frames.find((f) => f.id === r.frame)?.name;
        return (
          <button key={k} className="reading" disabled={!r.where && !r.frame} onClick={() => jump(r)} title={r.where ? 'Go to the place' : ''}>
            <span className="head"><span className={`dot ${r.state}`} role="img" aria-label={r.state} /><span>{NAMES[r.kind]}</span><b>{r.value.toFixed(DIGITS[r.unit] ?? 1)} {r.unit}</b></span>
            <span className="soft">{name && <b>{name}. </b>}{r.text}</span>
          </button>
        );
      })}
    </aside>
  );
}
