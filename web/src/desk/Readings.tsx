import type { Frame } from '../store/api';
import type { Reading } from '@zaddle/core/read/readings';

const NAMES: Readonly<Record<Reading['kind'], string>> = { misalignment: 'Lined up', clipped: 'Clipped', view: 'View over room', cast: 'Cast', unused: 'Left out', single: 'Frames', unlit: 'Unlit', unsafe: 'White in all', step: 'Largest step', blur: 'Blurred', changed: 'Changed', moved: 'Something moved' };
const DIGITS: Readonly<Record<string, number>> = { px: 2, '%': 1, stops: 1, 'ΔE': 1, frames: 0 };

/** What is measured about the shot as proposed, in the order of the job. */
export function Readings({ readings, frames }: { readings: readonly Reading[]; frames: readonly Frame[] }) {
  return (
    <aside className="side left" aria-label="Readings">
      <h4>Readings</h4>
      <p className="why">Measured on the automatic start.</p>
      {readings.map((r) => (
        <div key={r.kind} className="reading">
          <div className="head"><span className={`dot ${r.state}`} role="img" aria-label={r.state} /><span>{NAMES[r.kind]}</span><b>{r.value.toFixed(DIGITS[r.unit] ?? 1)} {r.unit}</b></div>
          <div className="soft">{r.frame && <b>{frames.find((f) => f.id === r.frame)?.name}. </b>}{r.text}</div>
        </div>
      ))}
    </aside>
  );
}
