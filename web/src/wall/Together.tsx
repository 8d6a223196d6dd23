import { Button, Popover } from '@mantine/core';
import { notifications } from '@mantine/notifications';
import { useState } from 'react';
import { percent } from '../desk/showValues';
import { Slide } from '../desk/Slide';
import { failed } from '../frame/failed';
import { useEscape } from '../frame/useEscape';
import { shotsWords } from '../methods/useGiving';
import { useBringTogetherMutation, useTakeTogetherBackMutation, type Wall } from '../store/api';

interface TogetherProps {
  readonly shoot: string;
  readonly last: Wall['last'];
  /** Chosen pictures; none: all. */
  readonly chosen: readonly string[];
  /** Pictures that differ from their set. */
  readonly differing: number;
  readonly opened: boolean;
  readonly onOpened: (opened: boolean) => void;
}

/** Brings pictures of each room to one level and one white, in one go; and that taken back. */
export function Together({ shoot, last, chosen, differing, opened, onOpened }: TogetherProps) {
  useEscape(opened, () => onOpened(false));
  const [bring, bringing] = useBringTogetherMutation();
  const [back, goingBack] = useTakeTogetherBackMutation();
  const [light, setLight] = useState(true);
  const [colour, setColour] = useState(true);
  const [strength, setStrength] = useState(1);
  const busy = bringing.isLoading || goingBack.isLoading;
  const go = (): void => {
    void bring({ shoot, shots: chosen.length > 0 ? chosen : 'all', light, colour, strength }).unwrap().then(({ changed, alike, left }) => {
      notifications.show({ message: `${shotsWords(changed)} brought together; ${alike} alike already.${left.map(({ label, why }) => ` ${label}: ${why}.`).join('')}` });
      onOpened(false);
    }, failed);
  };
  const takeBack = (): void => void back(last!.id).unwrap().then(({ back: undone, left }) => notifications.show({ message: `Taken back from ${shotsWords(undone)}${left > 0 ? `; ${shotsWords(left)} had been changed since and stay` : ''}.` }), failed);
  return (
    <Popover position="bottom-end" width={340} withinPortal trapFocus opened={opened} onChange={onOpened}>
      <Popover.Target><Button variant="default" size="compact-sm" onClick={() => onOpened(!opened)}>Bring together{differing > 0 ? ` (${differing})` : ''}…</Button></Popover.Target>
      <Popover.Dropdown className="method-for-all">
        <p>Shots of one room are brought to what they have in common, each by its own Tone pass; how light falls in each stays. A shot alone in its room takes the level of the shoot, and keeps its colour.</p>
        <label className="check"><input type="checkbox" checked={light} onChange={(e) => setLight(e.currentTarget.checked)} /> Level of light</label>
        <label className="check"><input type="checkbox" checked={colour} onChange={(e) => setColour(e.currentTarget.checked)} /> White of the paint</label>
        <Slide label="Strength" value={strength} min={0} max={1} step={0.01} rest={1} show={percent} onChange={setStrength} />
        <div className="tools one"><button disabled={busy || !(light || colour)} onClick={go}>{busy ? 'At it…' : chosen.length > 0 ? `Bring ${shotsWords(chosen.length)} together` : 'Bring all together'}</button></div>
        {last && <div className="tools one"><button disabled={busy} onClick={takeBack}>Take the last back ({shotsWords(last.shots)})</button></div>}
      </Popover.Dropdown>
    </Popover>
  );
}
