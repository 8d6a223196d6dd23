import { Button, Group, Progress } from '@mantine/core';
import { useState } from 'react';
import { failed } from '../frame/failed';
import { AgainDialog } from './AgainDialog';
import type { BatchState } from './arrangeBatches';
import { PictureRows } from './PictureRows';
import { clockWords, spanWords } from './timeWords';
import { useChangeBatchMutation, useDeleteBatchMutation, useRetryBatchMutation, useStopBatchMutation, type Forecast } from '../store/api';

/** Pictures of an open batch that are listed without being asked for. */
const LISTED_AT_ONCE = 12;

interface CardProps {
  readonly state: BatchState;
  /** Its turn among open batches, from 0. */
  readonly turn: number;
  readonly openBatches: number;
  /** Of those that are through, it is the last that was ordered. */
  readonly latest: boolean;
  readonly ends: Forecast['batches'][number] | undefined;
  /** When that was foreseen, milliseconds. */
  readonly at: number;
  readonly ask: (question: { title: string; text: string; act: string; onYes: () => void }) => void;
}

const plural = (count: number, word: string): string => `${count} ${word}${count === 1 ? '' : 's'}`;

/** How a batch stands, in words. */
function standsWords({ state: { batch, pictures, done, failed: lost, sent, refused, stopped, open }, turn, ends, at }: CardProps): string {
  const made = `${done} of ${plural(pictures.length, 'picture')} made`;
  const missing = [lost > 0 ? `${lost} failed` : '', stopped > 0 ? `${stopped} stopped` : '', batch.receiver !== null && done > 0 ? `${sent} of ${pictures.length} sent` : '', refused > 0 ? `${refused} refused` : ''].filter(Boolean).join(', ');
  if (!open) return [done === pictures.length ? `${plural(done, 'picture')} made` : made, missing].filter(Boolean).join(', ');
  const when = batch.paused ? 'rests' : !ends || ends.ends === null ? '' : `done at ${clockWords(at + 1000 * ends.ends, at)}${ends.within >= 30 ? ` ± ${spanWords(ends.within)}` : ''}`;
  return [made, missing, when, turn > 0 && !batch.paused ? `${turn === 1 ? 'one batch' : `${turn} batches`} before it` : ''].filter(Boolean).join(', ');
}

/** A batch that was ordered in one go: how far it is, and what can be done about it. */
export function BatchCard(props: CardProps) {
  const { state, turn, openBatches, latest, ask } = props;
  const { batch, pictures, done, failed: lost, refused, stopped, open, progress } = state;
  const [change] = useChangeBatchMutation();
  const [stop] = useStopBatchMutation();
  const [again] = useRetryBatchMutation();
  const [remove] = useDeleteBatchMutation();
  const [onceMore, setOnceMore] = useState(false);
  const [listed, setListed] = useState<boolean | null>(null);
  const shown = listed ?? (lost + refused > 0 || ((open || latest) && pictures.length <= LISTED_AT_ONCE));
  const act = (made: { unwrap: () => Promise<unknown> }): void => void made.unwrap().catch(failed);
  const orders = [...new Set(pictures.map(({ order }) => order))];
  const title = batch.shoots.map(({ name }) => name).join(', ');
  return (
    <section className="batch" data-open={open} data-paused={batch.paused} aria-label={`${title}, ${clockWords(Date.parse(batch.createdAt), Date.now())}`}>
      <header>
        <div className="named"><h3>{title}</h3><div className="soft">{plural(new Set(pictures.map(({ shotId }) => shotId)).size, 'shot')} as {orders.join(', ')}, ordered {clockWords(Date.parse(batch.createdAt), Date.now())}{batch.folder === null ? '' : `, into ${batch.folder}`}{batch.receiver === null ? '' : `, for ${batch.receiver}`}</div></div>
        <Group gap={6} wrap="nowrap">
          {open && openBatches > 1 && turn > 0 && <Button size="compact-sm" variant="default" onClick={() => act(change({ id: batch.id, move: 'first' }))}>First</Button>}
          {open && openBatches > 1 && turn > 0 && <Button size="compact-sm" variant="default" onClick={() => act(change({ id: batch.id, move: 'earlier' }))}>Earlier</Button>}
          {open && openBatches > 1 && turn < openBatches - 1 && <Button size="compact-sm" variant="default" onClick={() => act(change({ id: batch.id, move: 'later' }))}>Later</Button>}
          {open && <Button size="compact-sm" variant="default" onClick={() => act(change({ id: batch.id, paused: !batch.paused }))}>{batch.paused ? 'Go on' : 'Pause'}</Button>}
          {open && <Button size="compact-sm" variant="default" onClick={() => ask({ title: 'Stop this batch?', act: 'Stop', text: 'Pictures that are made stay. The others can be made after all, as they were ordered.', onYes: () => act(stop(batch.id)) })}>Stop…</Button>}
          {!open && lost + stopped > 0 && <Button size="compact-sm" onClick={() => act(again(batch.id))}>Make the {lost + stopped} that are missing</Button>}
          {!open && done > 0 && <Button size="compact-sm" variant="default" onClick={() => setOnceMore(true)}>Deliver again…</Button>}
          {done > 1 && <Button size="compact-sm" variant={open ? 'default' : 'filled'} component="a" href={`/api/batches/${batch.id}/archive`} download>Download {done === pictures.length ? 'all' : done}</Button>}
        </Group>
      </header>
      {open && <Progress value={100 * progress} striped={batch.paused} aria-label={`${title}: how far`} mb={4} />}
      <div className="stands"><span className={lost + refused > 0 ? 'late' : ''}>{standsWords(props)}</span><span><button className="quiet" aria-expanded={shown} onClick={() => setListed(!shown)}>{shown ? 'Hide pictures' : 'Show pictures'}</button>{!open && <> <button className="quiet" onClick={() => ask({ title: 'Delete this batch?', act: 'Delete', text: 'Its delivered pictures leave this list and the store. Shots and their mixes stay, and so does what was put into a folder.', onYes: () => act(remove(batch.id)) })}>Delete…</button></>}</span></div>
      {onceMore && <AgainDialog batch={batch.id} orders={orders} onClose={() => setOnceMore(false)} />}
      {shown && <PictureRows pictures={pictures} receiver={batch.receiver} ask={ask} />}
    </section>
  );
}
