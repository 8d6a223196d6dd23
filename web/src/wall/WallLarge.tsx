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

/** One picture as large as the window, or up to four at equal size. */
export function WallLarge({ shoot, shots, current, before, onReach, onClose }: LargeProps) {
  return (
    <section className="wall-large" data-count={shots.length} aria-label={shots.length === 1 ? `${shots[0].label}, large` : `${shots.length} pictures compared`}>
      {shots.map((shot) => {
        const url = pictureUrl(shot, before);
        const says = saysOf(shot);
        return (
          <figure key={shot.id} aria-current={shots.length > 1 && shot.id === current} onClick={() => onReach(shot.id)} onDoubleClick={onClose}>
            <div>{url && <img src={url} alt={before ? `${shot.label}, as shot` : shot.label} />}</div>
            <figcaption>
              {shots.length === 1 ? <ShotLabel shot={{ id: shot.id, shootId: shoot, label: shot.label }} /> : <b>{shot.label}</b>}{before && <span>as shot</span>}
              {shot.review && <span>{reviewWords(shot)}{shot.review.note ? `: “${shot.review.note}”` : ''}</span>}
              <span className="says" title={says.join('\n')}>{says.join(' · ')}</span>
              <Link to={`/shots/${shot.id}`}>To the desk</Link>
            </figcaption>
          </figure>
        );
      })}
      <button className="close" onClick={onClose} aria-label="Back to the wall">×</button>
    </section>
  );
}
