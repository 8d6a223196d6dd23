import { Button, Progress } from '@mantine/core';
import { isLossy } from '@zaddle/document';
import { failed } from '../frame/failed';
import { orderWords, shipped } from './orders';
import { clockWords } from './timeWords';
import { useDeleteDeliveryMutation, useDeliverAgainMutation, useRetryMutation, useSendAgainMutation, type Delivery } from '../store/api';

const size = (bytes: string | null): string => (bytes === null ? '' : `${(Number(bytes) / 1e6).toFixed(1)} MB`);

/** What a delivery was asked to be, with the quality that it has. */
function deliveredWords({ asked, order, quality }: Delivery): string {
  const known = asked ?? shipped(order);
  return known ? orderWords({ ...known, quality: isLossy(known.file) ? quality : null }) : order;
}

/** How far sending a picture to a receiver is. */
function SendingState({ delivery: { id, sending, sendingWhy, sentAt }, receiver }: { readonly delivery: Delivery; readonly receiver: string | null }) {
  const [again] = useSendAgainMutation();
  if (sending === null) return null;
  if (sending === 'sent') return <div className="soft">Sent to {receiver}{sentAt ? ` ${clockWords(Date.parse(sentAt), Date.now())}` : ''}</div>;
  const words = sending === 'refused' ? `Refused by ${receiver}: ${sendingWhy}` : `${sendingWhy ? 'Waits' : 'Goes'} to ${receiver}${sendingWhy ? `: ${sendingWhy}; tried again by itself` : ''}`;
  return <div><span className={sending === 'refused' ? 'late' : 'soft'}>{words}</span>{sendingWhy && <> <button className="quiet" onClick={() => void again(id).unwrap().catch(failed)}>Send again</button></>}</div>;
}

function State({ delivery, receiver }: { readonly delivery: Delivery; readonly receiver: string | null }) {
  const [retry] = useRetryMutation();
  const [again] = useDeliverAgainMutation();
  const { id, name, state, why, progress, doneAt, liesAt } = delivery;
  if (state === 'done') {
    return (
      <>
        <a href={`/api/deliveries/${id}/file`} download={name}>Download</a>{' '}
        <button className="quiet" title="The same picture once more, as it was ordered then" onClick={() => void again(id).unwrap().catch(failed)}>Make again</button>
        {doneAt && <span className="soft" title={liesAt ?? ''}> {clockWords(Date.parse(doneAt), Date.now())}{liesAt && !liesAt.endsWith(`/${name}`) ? `, in its folder as ${liesAt.split('/').at(-1)!}` : ''}</span>}
        <SendingState delivery={delivery} receiver={receiver} />
      </>
    );
  }
  if (state === 'failed' || state === 'stopped') return <><span className={state === 'failed' ? 'late' : 'soft'}>{state === 'failed' ? `Failed: ${why}` : 'Stopped.'}</span> <Button size="compact-xs" variant="default" onClick={() => void retry(id).unwrap().catch(failed)}>{state === 'failed' ? 'Try again' : 'Make it after all'}</Button></>;
  return <><Progress value={100 * progress} aria-label={state === 'waiting' ? 'Waiting' : 'Being made'} />{why && <div className="soft">{why}</div>}</>;
}

interface RowsProps {
  /** Whom they are sent to. */
  readonly receiver: string | null;
  readonly pictures: readonly Delivery[];
  readonly ask: (question: { title: string; text: string; act: string; onYes: () => void }) => void;
}

/** The pictures of a batch, each with how it stands. */
export function PictureRows({ pictures, receiver, ask }: RowsProps) {
  const [remove] = useDeleteDeliveryMutation();
  return (
    <table className="queue">
      <thead><tr><th aria-label="Shot" style={{ width: 62 }} /><th>Picture</th><th>Format</th><th>Size</th><th style={{ width: 340 }}>State</th><th aria-label="Delete" /></tr></thead>
      <tbody>
        {pictures.map((d) => (
          <tr key={d.id} data-state={d.state}>
            <td><img src={`/api/shots/${d.shotId}/preview`} alt="" loading="lazy" /></td>
            <td><strong>{d.name}</strong></td>
            <td className="soft">{deliveredWords(d)}</td>
            <td>{size(d.bytes)}</td>
            <td><State delivery={d} receiver={receiver} /></td>
            <td><button className="quiet" aria-label={`Delete ${d.name}`} onClick={() => ask({ title: `Delete ${d.name}?`, act: 'Delete', text: 'The delivered picture goes; the shot and its mix stay, and can be delivered again.', onYes: () => void remove(d.id).unwrap().catch(failed) })}>Delete…</button></td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
