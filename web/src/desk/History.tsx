import { Button, Popover } from '@mantine/core';
import { useEffect, useState } from 'react';
import { useEscape } from '../frame/useEscape';
import { useHistoryQuery, type MixHistory } from '../store/api';

/** Steps that say the same one after the other, as one line. */
interface Line {
  readonly words: string;
  readonly first: number;
  readonly last: number;
  readonly undone: boolean;
}

/** Strokes on one pass, and drags of one value, are one line with a count. */
export function linesOf(steps: MixHistory['steps']): Line[] {
  const lines: Line[] = [];
  for (const { step, words, undone } of steps) {
    const before = lines[lines.length - 1];
    if (before && before.words === words && before.undone === undone) lines[lines.length - 1] = { ...before, last: step };
    else lines.push({ words, first: step, last: step, undone });
  }
  return lines;
}

const countWords = ({ words, first, last }: Line): string => (last === first ? words : `${words}, ${last - first + 1} ${words.startsWith('Painted') ? 'strokes' : 'times'}`);

interface HistoryProps {
  readonly shot: string;
  /** The server has every change. */
  readonly saved: boolean;
  /** Goes so many steps back (negative) or forth. */
  readonly onStep: (by: number) => void;
}

/** Everything that was done to the mix, in words; a click goes there. */
export function History({ shot, saved, onStep }: HistoryProps) {
  const [open, setOpen] = useState(false);
  useEscape(open, () => setOpen(false));
  const { data, refetch, isFetching } = useHistoryQuery(shot, { skip: !open });
  // What was done since is told before anybody can go on from there.
  useEffect(() => {
    if (open && saved) void refetch();
  }, [open, saved, refetch]);
  const free = saved && !isFetching;
  const lines = linesOf(data?.steps ?? []).reverse();
  const at = data?.position ?? 0;
  const first = data?.steps[0]?.step ?? 1;
  const goTo = (step: number): void => onStep(step - at);
  return (
    <Popover opened={open} onChange={setOpen} position="bottom-end" shadow="sm" trapFocus>
      <Popover.Target>
        <Button size="compact-sm" variant="default" onClick={() => setOpen(!open)} aria-expanded={open}>History</Button>
      </Popover.Target>
      <Popover.Dropdown className="history">
        {data && lines.length === 0 && <p className="soft">Nothing was changed yet. Each step will be listed here, and can be gone back to.</p>}
        {lines.map((line) => <button key={line.first} className={`flat step ${line.undone ? 'undone' : ''}`} aria-current={line.first <= at && at <= line.last} disabled={!free} onClick={() => goTo(line.last)}>{countWords(line)}</button>)}
        {data && lines.length > 0 && <button className="flat step" aria-current={at < first} disabled={!free} onClick={() => goTo(first - 1)}>{first === 1 ? 'As it was proposed' : 'What was before'}</button>}
      </Popover.Dropdown>
    </Popover>
  );
}
