import type { Batch, Delivery } from '../store/api';

/** A batch with its pictures, as far as they are listed. */
export interface BatchState {
  readonly batch: Batch;
  readonly pictures: readonly Delivery[];
  readonly done: number;
  readonly failed: number;
  /** Taken, and refused, by the receiver. */
  readonly sent: number;
  readonly refused: number;
  readonly stopped: number;
  /** Something of it is still to be made. */
  readonly open: boolean;
  /** How far all of it is, 0 to 1. */
  readonly progress: number;
}

/** Batches as a person looks at them: open ones in their turn, then the others, the latest first. */
export function arrangeBatches(batches: readonly Batch[], deliveries: readonly Delivery[]): BatchState[] {
  const byBatch = new Map<string, Delivery[]>();
  for (const each of deliveries) byBatch.set(each.batchId, [...(byBatch.get(each.batchId) ?? []), each]);
  const states = batches.map((batch): BatchState => {
    const pictures = (byBatch.get(batch.id) ?? []).sort((a, b) => a.place - b.place);
    const count = (state: Delivery['state']): number => pictures.filter((each) => each.state === state).length;
    return {
      batch, pictures, done: count('done'), failed: count('failed'), sent: pictures.filter(({ sending }) => sending === 'sent').length, refused: pictures.filter(({ sending }) => sending === 'refused').length, stopped: count('stopped'), open: count('waiting') + count('running') > 0,
      progress: pictures.length === 0 ? 0 : pictures.reduce((sum, { state, progress }) => sum + (state === 'done' ? 1 : state === 'running' ? progress : 0), 0) / pictures.length,
    };
  }).filter(({ pictures }) => pictures.length > 0);
  const open = states.filter((each) => each.open).sort((a, b) => a.batch.place - b.batch.place || Date.parse(a.batch.createdAt) - Date.parse(b.batch.createdAt));
  const others = states.filter((each) => !each.open).sort((a, b) => Date.parse(b.batch.createdAt) - Date.parse(a.batch.createdAt));
  return [...open, ...others];
}
