import { useDraggable } from '@dnd-kit/core';
import type { MouseEvent } from 'react';
import { useWantFileMutation, type Frame, type Shot } from '../store/api';
import { shutterText } from './exposureText';
import { isTold, roleText } from './roleText';
import { Thumbnail } from './Thumbnail';

interface FrameCardProps {
  readonly frame: Frame;
  readonly shot: Shot | undefined;
  readonly chosen: boolean;
  readonly current: boolean;
  readonly onPick: (id: string, how: 'only' | 'toggle' | 'range') => void;
  readonly onOpen: (id: string) => void;
}

const howOf = (event: MouseEvent): 'only' | 'toggle' | 'range' => (event.shiftKey ? 'range' : event.ctrlKey || event.metaKey ? 'toggle' : 'only');

/** One frame of a card: picture, role, exposure; can be chosen, dragged to another shot, opened large. */
export function FrameCard({ frame, shot, chosen, current, onPick, onOpen }: FrameCardProps) {
  const [want] = useWantFileMutation();
  const gathered = frame.state === 'gathered';
  const { setNodeRef, listeners, isDragging } = useDraggable({ id: frame.id, disabled: !gathered });
  const classes = ['frame', (isTold(frame, shot) && frame.role === 'spare') || frame.dropped ? 'spare' : '', chosen ? 'chosen' : '', current ? 'current' : '', isDragging ? 'dragged' : ''].filter(Boolean).join(' ');
  return (
    <figure ref={setNodeRef} {...listeners} className={classes} data-frame={frame.id} title={isTold(frame, shot) ? frame.why : undefined} aria-label={frame.name} onClick={(e) => onPick(frame.id, howOf(e))} onDoubleClick={() => gathered && onOpen(frame.id)}>
      {gathered ? <Thumbnail frame={frame} /> : <div className="blank" />}
      {frame.marked && <span className="mark-flag" role="img" aria-label="marked" />}
      <figcaption>
        <div className="line"><span className="file">{frame.name}</span></div>
        <div className="line"><span className="role">{roleText(frame, shot)}</span><span className="soft">{shutterText(frame.facts?.seconds ?? null)}</span></div>
        {frame.facts?.twinOf && <button className="flat" title="Another file of the same exposure is worked with" onClick={(e) => { e.stopPropagation(); void want(frame.id); }}>Use this file</button>}
      </figcaption>
    </figure>
  );
}
