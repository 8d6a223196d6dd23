import { useEffect, useRef } from 'react';
import type { Frame, Shot } from '../store/api';
import { exposureText } from './exposureText';
import { roleText } from './roleText';

interface ReviewProps {
  readonly frames: readonly Frame[];
  readonly current: Frame;
  readonly pinned: Frame | null;
  readonly shotOf: ReadonlyMap<string, Shot>;
  readonly onlyMarked: boolean;
  readonly onGo: (id: string) => void;
  readonly onClose: () => void;
}

/** Thumbnails shown to either side of the current frame. */
const AROUND = 6;

function Picture({ frame, caption }: { frame: Frame; caption: string }) {
  return (
    <figure className="review-picture">
      <img src={`/api/frames/${frame.id}/picture`} alt={frame.name} />
      <figcaption>{caption}{frame.marked && <span className="mark-flag inline" role="img" aria-label="marked" />}</figcaption>
    </figure>
  );
}

/** Frames one by one, large, all by keyboard: next and previous, two side by side, mark, drop, only the marked ones. */
export function Review({ frames, current, pinned, shotOf, onlyMarked, onGo, onClose }: ReviewProps) {
  const dialog = useRef<HTMLDivElement>(null);
  useEffect(() => dialog.current?.focus(), []);
  const at = frames.findIndex((f) => f.id === current.id);
  const caption = (frame: Frame): string => `${frame.name} · ${roleText(frame, shotOf.get(frame.shotId ?? ''))} · ${exposureText(frame.facts)}`;
  return (
    <div className="review" role="dialog" aria-label="Review" tabIndex={-1} ref={dialog}>
      <div className="review-bar">
        <strong>{shotOf.get(current.shotId ?? '')?.label ?? 'Dropped'}</strong>
        <span>{at + 1} of {frames.length}{onlyMarked ? ' marked' : ''}</span>
        <span className="soft">← → go · <kbd>v</kbd> mark · <kbd>x</kbd> drop · <kbd>t</kbd> two side by side · <kbd>f</kbd> only marked · <kbd>Esc</kbd> back</span>
        <button className="flat" onClick={onClose}>Back</button>
      </div>
      <div className={`review-pictures ${pinned ? 'two' : ''}`}>
        {pinned && <Picture frame={pinned} caption={`Held: ${caption(pinned)}`} />}
        <Picture frame={current} caption={caption(current)} />
      </div>
      <div className="review-strip">
        {frames.slice(Math.max(0, at - AROUND), at + AROUND + 1).map((frame) => (
          <button key={frame.id} className={frame.id === current.id ? 'current' : ''} onClick={() => onGo(frame.id)} aria-label={`Go to ${frame.name}`}>
            <img src={`/api/frames/${frame.id}/thumbnail`} alt="" />
            {frame.marked && <span className="mark-flag" />}
          </button>
        ))}
      </div>
    </div>
  );
}
