import { Menu } from '@mantine/core';
import { useState } from 'react';
import { orderSize } from '@zaddle/core/mix/orderMix';
import type { MixDocument } from '@zaddle/document';
import { useEscape } from '../frame/useEscape';
import type { OrderOption } from '../outbox/orders';
import { orderSeen } from '../store/deskSlice';
import { useAppDispatch } from '../store/store';

interface MenuProps {
  readonly all: readonly OrderOption[];
  /** The order in which the picture is seen; null: as it stands. */
  readonly seen: OrderOption | null;
}

/** How an order delivers what is shown, in words. */
export function sizeTold({ label, order }: OrderOption, mix: MixDocument): string {
  const { width, height, scale } = orderSize(mix, order);
  return `As “${label}” delivers it: ${width} × ${height}${scale < 1 ? '' : ', full size'}`;
}

/** Chooses an order whose crop and size the picture is seen in. */
export function SizeMenu({ all, seen }: MenuProps) {
  const dispatch = useAppDispatch();
  const [open, setOpen] = useState(false);
  useEscape(open, () => setOpen(false));
  return (
    <Menu opened={open} onChange={setOpen} position="top-start" withinPortal>
      <Menu.Target><button onClick={() => setOpen(!open)} aria-pressed={seen !== null} title="In the crop and at the size of an order (Shift + e)">{seen ? seen.label : 'As ordered'}</button></Menu.Target>
      <Menu.Dropdown>
        <Menu.Item onClick={() => dispatch(orderSeen(null))} disabled={!seen}>As it stands</Menu.Item>
        {all.map((option) => <Menu.Item key={option.id} onClick={() => dispatch(orderSeen(option.id))} aria-current={option.id === seen?.id}>{option.label}</Menu.Item>)}
      </Menu.Dropdown>
    </Menu>
  );
}
