import { notifications } from '@mantine/notifications';
import { useMemo } from 'react';
import { startCommand, startLabel, startOf, startWhat, STARTS, withStart, type Start } from '@zaddle/core/propose/starts';
import type { Command, MixDocument } from '@zaddle/document';
import type { Engine } from '../engine/useEngine';
import { failed } from '../frame/failed';
import { useChooseStartMutation, useStartsQuery } from '../store/api';
import { SideBySide } from './SideBySide';

interface StartsProps {
  readonly shot: string;
  readonly shoot: string;
  readonly mix: MixDocument;
  /** Changes are on the server. */
  readonly saved: boolean;
  readonly known: Engine['state']['sketches'];
  readonly ask: Engine['sketch'];
  readonly onAct: (command: Command, done: boolean) => void;
}

/** Ways to begin with this shot, side by side as they would look; a number takes one, and the shoot goes on with it. */
export function Starts({ shot, shoot, mix, saved, known, ask, onAct }: StartsProps) {
  const { data } = useStartsQuery(shoot, { refetchOnMountOrArgChange: true });
  const [choose, { isLoading }] = useChooseStartMutation();
  const now = startOf(mix.passes);
  const ways = useMemo(() => STARTS.map((start) => ({ key: start, label: startLabel(start), what: startWhat(start), mix: { ...mix, passes: withStart(mix.passes, start) } })), [mix]);
  const take = (start: Start): void => {
    const command = startCommand(mix.passes, start);
    if (!command) return void notifications.show({ color: 'red', title: 'Not done', message: 'The passes that ways to begin differ in, “Fall of light” and “Tone”, were removed from this shot. “Propose anew” brings them back.' });
    if (start !== now) onAct(command, true);
    void choose({ shoot, start, others: false }).unwrap().catch(failed);
  };
  const others = now === null ? [] : (data?.untouched ?? []).filter((other) => other.shot !== shot && other.start !== now);
  const forAll = async (): Promise<void> => {
    await choose({ shoot, start: now!, others: true }).unwrap().then(({ changed }) => notifications.show({ message: `${changed} ${changed === 1 ? 'shot begins' : 'shots begin'} with “${startLabel(now!)}” now.` }), failed);
  };
  return (
    <SideBySide label="Ways to begin" ways={ways} chosen={now} known={known} ask={ask} onTake={take}>
      <span className="soft">{now === null ? 'You have gone on from there: one of these sets light and tone back to it, and leaves the rest.' : 'What you take is remembered for this shoot: shots that come later begin with it.'}</span>
      {others.length > 0 && <button className="flat" disabled={isLoading || !saved} onClick={() => void forAll()}>{`Also for ${others.length} ${others.length === 1 ? 'shot' : 'shots'} that nobody has changed`}</button>}
    </SideBySide>
  );
}
