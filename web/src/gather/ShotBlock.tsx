import { useDroppable } from '@dnd-kit/core';
import { Button } from '@mantine/core';
import dayjs from 'dayjs';
import type { ReactNode } from 'react';
import { Link } from 'react-router';
import { useProposeAnewMutation, type Frame, type Shot } from '../store/api';
import { ShotLabel } from './ShotLabel';

/** Confidence below which a shot's boundary is worth a look. */
const DOUBTFUL = 0.6;

export const isDoubtful = (shot: Shot): boolean => shot.confidence < DOUBTFUL;

/** The worst of a shot's readings. */
function stateOf(shot: Shot): 'good' | 'check' | 'bad' {
  if (shot.state === 'failed' || shot.readings.some((r) => r.state === 'bad')) return 'bad';
  return isDoubtful(shot) || shot.readings.some((r) => r.state === 'check') ? 'check' : 'good';
}

interface ShotBlockProps {
  readonly shot: Shot;
  readonly frames: readonly Frame[];
  readonly children: ReactNode;
}

/** One shot: what is known of it, and its frames; frames can be dropped on it. */
export function ShotBlock({ shot, frames, children }: ShotBlockProps) {
  const { setNodeRef, isOver } = useDroppable({ id: `shot:${shot.id}` });
  const [proposeAnew] = useProposeAnewMutation();
  const first = frames.find((f) => f.facts?.takenAt)?.facts?.takenAt;
  // The worst first, as far as there is room for.
  const doubts = [...shot.readings.filter((r) => r.state === 'bad'), ...shot.readings.filter((r) => r.state === 'check')].slice(0, 2);
  const named = (id: string | undefined): string => (id ? `${frames.find((f) => f.id === id)?.name ?? 'A frame'}: ` : '');
  return (
    <section ref={setNodeRef} className={`shot-block ${isOver ? 'over' : ''}`} aria-label={shot.label} data-shot={shot.id}>
      <div>
        <ShotLabel shot={shot} />
        <div className="soft">{first ? dayjs(first).format('HH:mm:ss') : 'no time'} · {frames.length} {frames.length === 1 ? 'frame' : 'frames'}</div>
        {shot.state === 'sorted' && <div className="soft">lining up…</div>}
        {shot.state === 'failed' && <div className="late">{shot.why}</div>}
        {isDoubtful(shot) && <div className="doubt"><span className="dot check" /> Right so? {shot.why}</div>}
        {doubts.map((r, k) => <div key={k} className="doubt"><span className={`dot ${r.state}`} /> {named(r.frame)}{r.text}</div>)}
        {shot.state === 'mixed' && <Button component={Link} to={`/shots/${shot.id}`} size="xs" mt={6} leftSection={<span className={`dot ${stateOf(shot)}`} />}>Open at the desk</Button>}
        {shot.readings.some((r) => r.kind === 'changed') && <button className="flat" style={{ marginTop: 6 }} onClick={() => void proposeAnew(shot.id)}>Propose anew</button>}
      </div>
      <div className="frames">{children}</div>
    </section>
  );
}
