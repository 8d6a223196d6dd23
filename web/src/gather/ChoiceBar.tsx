import { useDroppable } from '@dnd-kit/core';
import { useState } from 'react';
import type { GroupingCommand } from '@zaddle/core/intake/regroup';

interface ChoiceBarProps {
  readonly chosen: readonly string[];
  readonly dragging: boolean;
  readonly onCommand: (command: GroupingCommand) => void;
  readonly onMark: (frames: readonly string[], marked: boolean) => void;
  readonly onClear: () => void;
}

/** What can be done with the chosen frames; while frames are dragged, the place to drop them for a new shot. */
export function ChoiceBar({ chosen, dragging, onCommand, onMark, onClear }: ChoiceBarProps) {
  const [count, setCount] = useState(3);
  const { setNodeRef, isOver } = useDroppable({ id: 'new' });
  if (dragging) return <div ref={setNodeRef} className={`choice-bar target ${isOver ? 'over' : ''}`}>Drop here for a new shot</div>;
  const none = chosen.length === 0;
  return (
    <div ref={setNodeRef} className="choice-bar">
      <span className="count-chosen">{none ? 'Click frames to choose them; drag them to another shot.' : `${chosen.length} ${chosen.length === 1 ? 'frame' : 'frames'} chosen`}</span>
      <button className="flat" disabled={none} onClick={() => onCommand({ kind: 'gather', frames: [...chosen] })}>New shot (n)</button>
      <button className="flat" disabled={chosen.length !== 1} onClick={() => onCommand({ kind: 'split', before: chosen[0] })}>Split before (i)</button>
      <button className="flat" disabled={none} onClick={() => onMark(chosen, true)}>Mark (v)</button>
      <button className="flat" disabled={none} onClick={() => onCommand({ kind: 'drop', frames: [...chosen] })}>Drop (x)</button>
      <span className="every">
        <button className="flat" disabled={chosen.length < 2} onClick={() => onCommand({ kind: 'every', frames: [...chosen], count })}>Shots of</button>
        <input type="number" min={1} max={40} value={count} aria-label="Frames a shot" onChange={(e) => setCount(Math.max(1, Math.min(40, Math.round(Number(e.currentTarget.value) || 1))))} /> frames
      </span>
      {!none && <button className="flat" onClick={onClear}>Choose none (Esc)</button>}
    </div>
  );
}
