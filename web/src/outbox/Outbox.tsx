import { useConfirm } from '../frame/useConfirm';
import { arrangeBatches } from './arrangeBatches';
import { BatchCard } from './BatchCard';
import { useForecast } from './useForecast';
import { WillItBeDone } from './WillItBeDone';
import { useBatchesQuery, useDeliveriesQuery } from '../store/api';

/** Whether all will be done in time; what is made, in which turn; what failed and why; what is delivered. */
export function Outbox() {
  const { data: deliveries = [], isLoading } = useDeliveriesQuery();
  const { data: places } = useBatchesQuery();
  const { forecast, at } = useForecast();
  const { ask, dialog } = useConfirm();
  const states = arrangeBatches(places?.batches ?? [], deliveries);
  const open = states.filter((each) => each.open);
  return (
    <main className="page outbox">
      <h1>Outbox</h1>
      <WillItBeDone />
      {!isLoading && states.length === 0 && <p>Nothing delivered yet. Open a shoot and deliver its shots.</p>}
      {states.map((state, k) => (
        <BatchCard key={state.batch.id} state={state} turn={state.open ? k : 0} openBatches={open.length} latest={k === open.length} ends={forecast?.batches.find(({ id }) => id === state.batch.id)} at={at} ask={ask} />
      ))}
      {dialog}
    </main>
  );
}
