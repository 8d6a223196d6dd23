import { Button, NativeSelect, Popover } from '@mantine/core';
import { useState } from 'react';
import { percent } from '../desk/showValues';
import { Slide } from '../desk/Slide';
import { useEscape } from '../frame/useEscape';
import { useMethodsQuery } from '../store/api';
import { Told } from './Told';
import { shotsWords, useGiving } from './useGiving';

interface ForAllProps {
  readonly shoot: string;
  /** Shots that it has now. */
  readonly shots: number;
  /** Chosen ones, to which it is given instead of to all; none: all. */
  readonly chosen?: readonly string[];
  readonly small?: boolean;
}

/** A method for all shots of a shoot in one go, at a strength, and for those that come later; and that taken back in one go. */
export function MethodForAll({ shoot, shots, chosen: only = [], small = false }: ForAllProps) {
  const { data: methods = [] } = useMethodsQuery();
  const giving = useGiving(shoot);
  const [id, setId] = useState('');
  const [strength, setStrength] = useState(1);
  const [later, setLater] = useState(true);
  const [open, setOpen] = useState(false);
  useEscape(open, () => setOpen(false));
  const chosen = methods.find((kept) => kept.id === id) ?? methods[0];
  return (
    <Popover opened={open} onChange={setOpen} position="bottom-end" withinPortal trapFocus>
      <Popover.Target><Button variant="default" size={small ? 'compact-sm' : 'sm'} onClick={() => setOpen(!open)}>{giving.last ? `Method: ${giving.last.name}` : 'Method…'}</Button></Popover.Target>
      <Popover.Dropdown className="method-for-all">
        <Told {...giving} />
        {chosen ? (
          <>
            <NativeSelect size="xs" label="Method" value={chosen.id} data={methods.map((kept) => ({ value: kept.id, label: kept.method.name }))} onChange={(e) => setId(e.currentTarget.value)} />
            <p className="soft">{chosen.method.what}</p>
            <Slide label="Strength" value={strength} min={0} max={1} step={0.01} rest={1} show={percent} onChange={setStrength} />
            <label className="check"><input type="checkbox" checked={later} onChange={(e) => setLater(e.currentTarget.checked)} /> Also shots that come later</label>
            <div className="tools one"><button disabled={giving.busy} onClick={() => giving.give({ method: chosen.method, strength, off: [] }, only.length > 0 ? only : 'all', later)}>{giving.busy ? 'Giving…' : only.length > 0 ? `Give to ${shotsWords(only.length)}` : `Give to all ${shotsWords(shots)}`}</button></div>
          </>
        ) : <p className="soft">No method is kept. Keep one at the desk, from a shot that you like.</p>}
      </Popover.Dropdown>
    </Popover>
  );
}
