import { Button, Progress } from '@mantine/core';
import dayjs from 'dayjs';
import { isLossy } from '@zaddle/document';
import { failed } from '../frame/failed';
import { useConfirm } from '../frame/useConfirm';
import { orderWords, shipped } from './orders';
import { useDeleteDeliveryMutation, useDeliverAgainMutation, useDeliveriesQuery, useRetryMutation, type Delivery } from '../store/api';

const size = (bytes: string | null): string => (bytes === null ? '' : `${(Number(bytes) / 1e6).toFixed(1)} MB`);

/** What a delivery was asked to be, with the quality that it has. */
function deliveredWords({ asked, order, quality }: Delivery): string {
  const known = asked ?? shipped(order);
  return known ? orderWords({ ...known, quality: isLossy(known.file) ? quality : null }) : order;
}

function State({ delivery }: { delivery: Delivery }) {
  const [retry] = useRetryMutation();
  const [again] = useDeliverAgainMutation();
  if (delivery.state === 'done') {
    return (
      <>
        <a href={`/api/deliveries/${delivery.id}/file`} download={delivery.name}>Download</a>{' '}
        <button className="quiet" title="The same picture once more, as it was ordered then" onClick={() => void again(delivery.id).unwrap().catch(failed)}>Make again</button>
      </>
    );
  }
  if (delivery.state === 'failed') return <><span className="late">Failed: {delivery.why}</span> <Button size="compact-xs" variant="default" onClick={() => void retry(delivery.id)}>Try again</Button></>;
  return <Progress value={100 * delivery.progress} aria-label={delivery.state === 'waiting' ? 'Waiting' : 'Being made'} />;
}

/** What is delivered, what waits, what failed and why. */
export function Outbox() {
  const { data: deliveries = [] } = useDeliveriesQuery();
  const [remove] = useDeleteDeliveryMutation();
  const { ask, dialog } = useConfirm();
  return (
    <main className="page">
      <h1>Outbox</h1>
      {deliveries.length === 0 && <p>Nothing delivered yet. Open a shoot and deliver its shots.</p>}
      {deliveries.length > 0 && (
        <table className="queue">
          <thead><tr><th>Picture</th><th>Ordered</th><th>Format</th><th>Size</th><th style={{ width: 320 }}>State</th><th aria-label="Delete" /></tr></thead>
          <tbody>
            {deliveries.map((d) => (
              <tr key={d.id} data-state={d.state}>
                <td><strong>{d.name}</strong></td>
                <td>{dayjs(d.createdAt).format('ddd HH:mm:ss')}</td>
                <td className="soft">{deliveredWords(d)}</td>
                <td>{size(d.bytes)}</td>
                <td><State delivery={d} /></td>
                <td><button className="quiet" aria-label={`Delete ${d.name}`} onClick={() => ask({ title: `Delete ${d.name}?`, act: 'Delete', text: 'The delivered picture goes; the shot and its mix stay, and can be delivered again.', onYes: () => void remove(d.id) })}>Delete…</button></td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {dialog}
    </main>
  );
}
