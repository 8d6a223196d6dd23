import { Button } from '@mantine/core';
import { failed } from '../frame/failed';
import type { OrderState } from '../outbox/orders';
import { useDropOrderAheadMutation, useOrderAheadMutation, type ShootDetail } from '../store/api';

interface AheadProps {
  readonly shoot: ShootDetail;
  readonly choice: OrderState;
}

/** Orders a shoot before it is ready, so that nobody need wait for it. */
export function OrderAheadButton({ shoot, choice: { orders, folder, receiver } }: AheadProps) {
  const [order, { isLoading }] = useOrderAheadMutation();
  return <Button loading={isLoading} title="Everything is delivered by the orders chosen here as soon as it is there; you can close this page" onClick={() => void order({ shoot: shoot.id, orders, folder, receiver }).unwrap().catch(failed)}>Deliver when ready</Button>;
}

/** What was ordered of a shoot beforehand, and what became of it. */
export function OrderAheadState({ shoot, choice }: AheadProps) {
  const [drop, { isLoading }] = useDropOrderAheadMutation();
  const { standing } = shoot;
  if (!standing) return null;
  const labels = standing.orders.map((id) => choice.all.find((each) => each.id === id)?.label ?? 'an order that is gone').join(', ');
  const where = [standing.folder && `into ${standing.folder}`, standing.receiver && `to ${standing.receiver}`].filter(Boolean).join(', ');
  const words = standing.fault ? `Cannot be delivered as ordered: ${standing.fault}`
    : standing.batches.length > 0 ? `Delivered as ordered beforehand (${labels}${where && `, ${where}`}); shots that come later will be, too.`
      : `Will be delivered as soon as all is there: ${labels}${where && `, ${where}`}. You can close this page.`;
  return (
    <div className="doing ahead" role={standing.fault ? 'alert' : 'status'}>
      <span>{words}</span>
      <Button size="compact-sm" variant="default" loading={isLoading} onClick={() => void drop(shoot.id).unwrap().catch(failed)}>{standing.batches.length > 0 || standing.fault ? 'No more' : 'Not then'}</Button>
    </div>
  );
}
