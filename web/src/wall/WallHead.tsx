import { Button, Group } from '@mantine/core';
import dayjs from 'dayjs';
import { Link, useNavigate } from 'react-router';
import { failed } from '../frame/failed';
import { MethodForAll } from '../methods/MethodForAll';
import { OrderChoice } from '../outbox/OrderChoice';
import { useOrders } from '../outbox/orders';
import { useDeliverMutation, type Wall } from '../store/api';
import { WIDTHS, wallOrdered, wallSized, type WallOrder } from '../store/wallSlice';
import { useAppDispatch, useAppSelector } from '../store/store';
import { tally } from './arrange';
import { Together } from './Together';

const ORDERS: readonly (readonly [WallOrder, string, string])[] = [['tour', 'Tour', 'In the order of the tour; drag to change it'], ['room', 'By room', 'Shots of a room together'], ['gain', 'Most to gain', 'Where readings say that a hand would gain most']];

interface HeadProps {
  readonly shoot: string;
  readonly wall: Wall;
  /** Whether what brings pictures together is open. */
  readonly together: boolean;
  readonly onTogether: (opened: boolean) => void;
}

/** Which shoot the wall shows, how far it is, and what can be done with all of it. */
export function WallHead({ shoot, wall, together, onTogether }: HeadProps) {
  const dispatch = useAppDispatch();
  const navigate = useNavigate();
  const { order, size, chosen } = useAppSelector((s) => s.wall);
  const choice = useOrders();
  const [deliver, { isLoading }] = useDeliverMutation();
  const { approved, back, later, open } = tally(wall.shots);
  const ready = wall.shots.filter(({ state }) => state === 'mixed');
  const sent = approved > 0 ? ready.filter(({ review }) => review?.state === 'approved' && !review.changedSince) : ready;
  const counts = [[approved, 'approved'], [back, 'sent back'], [later, 'for later'], [open, 'to look at']] as const;
  const send = (): void => void deliver({ shots: sent.map(({ id }) => id), orders: choice.orders, folder: choice.folder, receiver: choice.receiver, quality: 95 }).unwrap().then(() => navigate('/outbox'), failed);
  return (
    <header className="wall-head">
      <div><h1><Link to={`/shoots/${shoot}`} title="To its frames">{wall.name}</Link></h1><div className="soft">{[wall.dueAt && `due ${dayjs(wall.dueAt).format('ddd D MMM, HH:mm')}`, ...counts.filter(([count]) => count > 0).map(([count, word]) => `${count} ${word}`)].filter(Boolean).join(' · ')}</div></div>
      <Group gap={6} wrap="nowrap">
        <div className="sieves" role="group" aria-label="Order of pictures">{ORDERS.map(([kind, word, title]) => <button key={kind} className="flat" title={`${title} (s)`} aria-pressed={order === kind} onClick={() => dispatch(wallOrdered(kind))}>{word}</button>)}</div>
        <div className="sieves" role="group" aria-label="Size of pictures">
          <button className="flat" aria-label="Smaller pictures" title="Smaller (,)" disabled={size === 0} onClick={() => dispatch(wallSized(-1))}>−</button>
          <button className="flat" aria-label="Larger pictures" title="Larger (.)" disabled={size === WIDTHS.length - 1} onClick={() => dispatch(wallSized(1))}>+</button>
        </div>
        <Together shoot={shoot} last={wall.last} chosen={chosen} differing={wall.shots.filter(({ set }) => set.some(({ kind }) => kind === 'brightness' || kind === 'paint')).length} opened={together} onOpened={onTogether} />
        <MethodForAll shoot={shoot} shots={wall.shots.length} chosen={chosen} small />
        <OrderChoice {...choice} small />
        <Button size="compact-sm" disabled={sent.length === 0} loading={isLoading} onClick={send}>Deliver {approved > 0 ? `${sent.length} approved` : `all ${sent.length}`}</Button>
      </Group>
    </header>
  );
}
