import { useDraggable, useDroppable } from '@dnd-kit/core';
import { useEffect, useRef } from 'react';
import type { WallShot } from '../store/api';
import { isGivenUp, reviewWords } from './arrange';

/** Where a shot's picture lies as it was last drawn, or its frame as shot; null: neither. */
export const pictureUrl = ({ id, preview, reference }: WallShot, before = false): string | null => (before ? reference && `/api/frames/${reference}/picture` : preview !== null ? `/api/shots/${id}/preview?revision=${preview}` : reference && `/api/frames/${reference}/thumbnail`);

interface CardProps {
  readonly shot: WallShot;
  readonly current: boolean;
  readonly chosen: boolean;
  readonly before: boolean;
  /** It may be moved on the tour. */
  readonly movable: boolean;
  readonly onReach: (choose: boolean) => void;
  readonly onOpen: () => void;
}

/** What is to be said of a picture, worst first. */
export const saysOf = (shot: WallShot): readonly string[] => [...shot.set.map(({ text }) => text), ...shot.readings.filter(({ state }) => state === 'bad').map(({ text }) => text.split(/[:.]/)[0])];

/** One picture of the wall, with what people think of it and what differs from the others. */
export function WallCard({ shot, current, chosen, before, movable, onReach, onOpen }: CardProps) {
  const own = useRef<HTMLElement | null>(null);
  const { setNodeRef: dropRef, isOver } = useDroppable({ id: shot.id, disabled: !movable });
  const { setNodeRef: dragRef, listeners, isDragging } = useDraggable({ id: shot.id, disabled: !movable });
  useEffect(() => { if (current) own.current?.scrollIntoView({ block: 'nearest' }); }, [current]);
  const url = pictureUrl(shot, before);
  const says = saysOf(shot);
  const review = reviewWords(shot);
  const ref = (element: HTMLElement | null): void => { own.current = element; dropRef(element); dragRef(element); };
  return (
    <div ref={ref} {...listeners} role="option" aria-selected={current} aria-label={`${shot.label}${review ? `, ${review}` : ''}`} data-chosen={chosen} data-over={isOver} className="wall-card" style={{ opacity: isDragging ? 0.4 : 1 }}
      onClick={(event) => onReach(event.shiftKey || event.ctrlKey || event.metaKey)} onDoubleClick={onOpen}>
      <div className="face">
        {url ? <img src={url} alt="" draggable={false} /> : <span>{shot.state === 'failed' ? shot.why : 'Not lined up yet'}</span>}
        {shot.drawing && <i>{shot.preview === null ? 'Being drawn' : 'Being drawn anew'}</i>}
        {isGivenUp(shot) && <i>{shot.preview === null ? 'Could not be drawn' : 'Could not be drawn anew'}: open it at the desk</i>}
        {before && <i>As shot</i>}
      </div>
      <div className="caption">
        <b>{shot.label}</b>
        {review && <span className={`judged ${shot.review!.changedSince ? 'changed' : shot.review!.state.replace(' ', '-')}`}>{review}</span>}
        {shot.review?.note && <q>{shot.review.note}</q>}
        {says.length > 0 && <span className="says" title={says.join('\n')}>{says[0]}{says.length > 1 ? ` · ${says.length - 1} more` : ''}</span>}
      </div>
    </div>
  );
}
