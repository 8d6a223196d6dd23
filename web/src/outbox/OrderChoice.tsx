import { Button, Checkbox, Popover, Stack } from '@mantine/core';
import { useState } from 'react';
import { Link } from 'react-router';
import { useEscape } from '../frame/useEscape';
import { orderWords, type useOrders } from './orders';

interface ChoiceProps extends ReturnType<typeof useOrders> {
  readonly small?: boolean;
}

/** What is delivered: one file a picture for each order that is chosen. */
export function OrderChoice({ all, orders, toggle, small = false }: ChoiceProps) {
  const labels = all.filter(({ id }) => orders.includes(id)).map(({ label }) => label).join(', ');
  const [open, setOpen] = useState(false);
  useEscape(open, () => setOpen(false));
  return (
    <Popover opened={open} onChange={setOpen} position="bottom-end" withinPortal>
      <Popover.Target><Button variant="default" size={small ? 'compact-sm' : 'sm'} onClick={() => setOpen(!open)} aria-label={`Orders: ${labels}`}>{small && orders.length > 1 ? `${orders.length} files` : labels}</Button></Popover.Target>
      <Popover.Dropdown mah="70vh" style={{ overflowY: 'auto' }}>
        <Stack gap={8}>
          {all.map(({ id, label, order }) => <Checkbox key={id} size="xs" checked={orders.includes(id)} onChange={() => toggle(id)} label={`${label}: ${orderWords(order)}`} />)}
          <Link to="/orders">Sizes and names of your own…</Link>
        </Stack>
      </Popover.Dropdown>
    </Popover>
  );
}
