import { Button, Group } from '@mantine/core';
import dayjs from 'dayjs';
import { Link } from 'react-router';
import { MethodForAll } from '../methods/MethodForAll';
import { OrderChoice } from '../outbox/OrderChoice';
import type { useOrders } from '../outbox/orders';
import type { ShootDetail } from '../store/api';
import { OrderAheadButton } from './OrderAhead';

interface GatherHeadProps {
  readonly choice: ReturnType<typeof useOrders>;
  readonly shoot: ShootDetail;
  readonly delivering: boolean;
  readonly onStep: (direction: 'undo' | 'redo') => void;
  readonly onAdd: () => void;
  readonly onDeliver: () => void;
}

/** Which shoot this is, and what can be done with all of it. */
export function GatherHead({ choice, shoot, delivering, onStep, onAdd, onDeliver }: GatherHeadProps) {
  const all = shoot.shots.length;
  const mixed = shoot.shots.filter((s) => s.state === 'mixed').length;
  // One that failed does not hold up the others.
  const settled = all > 0 && shoot.shots.every((s) => s.state !== 'sorted');
  const about = [shoot.address, shoot.dueAt && `due ${dayjs(shoot.dueAt).format('ddd D MMM, HH:mm')}`, `${shoot.frames.length} files`].filter(Boolean).join(' · ');
  return (
    <Group justify="space-between" mb={8} align="flex-start" wrap="nowrap">
      <div><h1>{shoot.name}</h1><div className="soft">{about}</div></div>
      <Group gap={6} wrap="nowrap">
        <Button variant="default" disabled={!shoot.canUndo} onClick={() => onStep('undo')}>Undo</Button>
        <Button variant="default" disabled={!shoot.canRedo} onClick={() => onStep('redo')}>Redo</Button>
        <Button variant="default" onClick={onAdd}>Add files</Button>
        {mixed > 0 && <Button component={Link} to={`/shoots/${shoot.id}/wall`} variant="default">Wall</Button>}
        {all > 0 && <MethodForAll shoot={shoot.id} shots={all} />}
        {(settled || !shoot.standing) && <OrderChoice {...choice} />}
        {settled ? <Button onClick={onDeliver} disabled={mixed === 0} loading={delivering}>Deliver {mixed < all ? `${mixed} of ${all}` : `all ${all}`} shots</Button> : !shoot.standing && shoot.frames.length > 0 && <OrderAheadButton shoot={shoot} choice={choice} />}
      </Group>
    </Group>
  );
}
