import { Link } from 'react-router';
import { useLiveQuery, type LiveView } from '../store/api';

/** Where in the picture something is, in words that are understood from two metres. */
function placeText([x, y]: readonly [number, number]): string {
  const across = x < 0.36 ? 'left' : x > 0.64 ? 'right' : 'in the middle';
  const down = y < 0.33 ? 'top' : y > 0.67 ? 'bottom' : '';
  return [down, across].filter(Boolean).join(' ');
}

const HEADLINES: Readonly<Record<string, string>> = { unlit: 'Still dark', unsafe: 'Still white', step: 'Step too large', blur: 'Not sharp' };

/** Cells over the picture that no frame has well yet. */
function Lacking({ coverage }: { coverage: NonNullable<LiveView['coverage']> }) {
  return (
    <svg className="lacking" viewBox={`0 0 ${coverage.columns} ${coverage.rows}`} preserveAspectRatio="none" aria-hidden="true">
      {coverage.cells.map((cell, i) => cell !== 'good' && <rect key={i} className={cell} x={i % coverage.columns} y={Math.floor(i / coverage.columns)} width={1} height={1} />)}
    </svg>
  );
}

/** What the camera is shooting right now and what is missing, to be read on a tablet from two metres. */
export function Live() {
  const { data } = useLiveQuery();
  if (!data) return <main className="page" />;
  const waiting = <main className="page"><h1>Waiting for the first frame</h1><p>Take one: it shows here seconds later.</p></main>;
  if (!data.shoot) {
    if (data.watching) return waiting;
    return (
      <main className="page">
        <h1>No camera is being watched</h1>
        <p>Start Zaddle with the folder that your tethered camera writes into: <kbd>./zaddle start --watch FOLDER</kbd>. Each frame shows here seconds after it was taken, with what is still dark or white.</p>
      </main>
    );
  }
  if (!data.shot) return waiting;
  const { shot, readings = [], coverage } = data;
  return (
    <main className="live" data-testid="live">
      <div className="live-picture">
        <img src={`/api/frames/${shot.latest.id}/picture`} alt={shot.latest.name} />
        {coverage && <Lacking coverage={coverage} />}
      </div>
      <section className="live-words" aria-live="polite">
        <h1>{shot.frames} {shot.frames === 1 ? 'frame' : 'frames'}</h1>
        {readings.length === 0 && <div className="verdict good">Complete: every part is lit and safe.</div>}
        {readings.map((r) => (
          <div key={r.kind} className={`verdict ${r.state}`}>
            <strong>{HEADLINES[r.kind] ?? r.kind}{r.unit === '%' ? ` ${Math.round(r.value)} %` : ''}</strong>
            {r.where && <span> {placeText(r.where)}</span>}
            <small>{r.text}</small>
          </div>
        ))}
        <p className="soft">{shot.latest.name} · <Link to={`/shoots/${data.shoot.id}`}>{data.shoot.name}</Link></p>
      </section>
    </main>
  );
}
