import { useState } from 'react';
import { useHotkeys } from 'react-hotkeys-hook';
import { Link } from 'react-router';
import { ShotLabel } from '../gather/ShotLabel';
import type { WallShot } from '../store/api';
import { reviewWords } from './arrange';
import { pictureUrl, saysOf } from './WallCard';

interface LargeProps {
  readonly shoot: string;
  readonly shots: readonly WallShot[];
  readonly current: string | null;
  readonly before: boolean;
  readonly onReach: (id: string) => void;
  readonly onClose: () => void;
}

/** What each reading of a set is about, among the places of a picture. */
const PLACE: Readonly<Record<WallShot['set'][number]['kind'], keyof WallShot['places'] | null>> = { brightness: 'light', paint: 'paint', view: 'view', leaning: 'leaning', ratio: null };

interface PictureProps {
  readonly shot: WallShot;
  readonly before: boolean;
  /** The place that is pointed out. */
  readonly pointed: keyof WallShot['places'] | null;
}

/** A picture as large as there is room, with a place in it pointed out. */
function LargePicture({ shot, before, pointed }: PictureProps) {
  const url = pictureUrl(shot, before);
  const at = pointed && !before && shot.preview !== null ? shot.places[pointed] : undefined;
  if (!url) return <div />;
  return (
    <div>
      <span className="fitted" style={shot.ratio && !before ? { width: `min(100cqw, 100cqh * ${shot.ratio})`, aspectRatio: shot.ratio } : { width: '100%', height: '100%' }}>
        <img src={url} alt={before ? `${shot.label}, as shot` : shot.label} />
        {at && <i className="place" data-testid="place" style={{ left: `${100 * at[0]}%`, top: `${100 * at[1]}%` }} />}
      </span>
    </div>
  );
}

/** One picture as large as the window, or up to four at equal size. */
export function WallLarge({ shoot, shots, current, before, onReach, onClose }: LargeProps) {
  const [pointed, setPointed] = useState<WallShot['set'][number]['kind'] | null>(null);
  const kinds = [...new Set(shots.flatMap(({ set }) => set.map(({ kind }) => kind)).filter((kind) => PLACE[kind] !== null))];
  // From one thing that differs to the next, then to none.
  useHotkeys('p', () => setPointed(kinds[kinds.indexOf(pointed as never) + 1] ?? null), [kinds, pointed]);
  return (
    <section className="wall-large" data-count={shots.length} aria-label={shots.length === 1 ? `${shots[0].label}, large` : `${shots.length} pictures compared`}>
      {shots.map((shot) => {
        const says = saysOf(shot);
        const own = shots.length === 1 ? shot.set : [];
        return (
          <figure key={shot.id} aria-current={shots.length > 1 && shot.id === current} onClick={() => onReach(shot.id)} onDoubleClick={onClose}>
            <LargePicture shot={shot} before={before} pointed={pointed && PLACE[pointed]} />
            <figcaption>
              {shots.length === 1 ? <ShotLabel shot={{ id: shot.id, shootId: shoot, label: shot.label }} /> : <b>{shot.label}</b>}{before && <span>as shot</span>}
              {shot.review && <span>{reviewWords(shot)}{shot.review.note ? `: “${shot.review.note}”` : ''}</span>}
              <span className="says" title={says.join('\n')}>
                {own.map((reading) => (
                  <button key={reading.kind} className="flat" aria-pressed={pointed === reading.kind} title={reading.proposal} onClick={(event) => { event.stopPropagation(); setPointed(pointed === reading.kind ? null : reading.kind); }}>{reading.text}</button>
                ))}
                {pointed && own.some(({ kind }) => kind === pointed) ? own.find(({ kind }) => kind === pointed)!.proposal : says.slice(own.length).join(' · ')}
              </span>
              <Link to={`/shots/${shot.id}`}>To the desk</Link>
            </figcaption>
          </figure>
        );
      })}
      <button className="close" onClick={onClose} aria-label="Back to the wall">×</button>
    </section>
  );
}
