import { Button, Checkbox, NativeSelect, Popover, Stack, TextInput } from '@mantine/core';
import { useState } from 'react';
import { Link } from 'react-router';
import { useEscape } from '../frame/useEscape';
import { useDestinationsQuery } from '../store/api';
import { orderWords, type OrderState } from './orders';

interface ChoiceProps extends OrderState {
  readonly small?: boolean;
}

/** What is delivered: one file a picture for each order that is chosen. */
export function OrderChoice({ all, orders, toggle, folder, putInto, receiver, sendTo, small = false }: ChoiceProps) {
  const labels = all.filter(({ id }) => orders.includes(id)).map(({ label }) => label).join(', ');
  const [open, setOpen] = useState(false);
  const { data: places } = useDestinationsQuery();
  useEscape(open, () => setOpen(false));
  return (
    <Popover opened={open} onChange={setOpen} position="bottom-end" withinPortal>
      <Popover.Target><Button variant="default" size={small ? 'compact-sm' : 'sm'} onClick={() => setOpen(!open)} aria-label={`Orders: ${labels}`}>{small && orders.length > 1 ? `${orders.length} files` : labels}</Button></Popover.Target>
      <Popover.Dropdown mah="70vh" style={{ overflowY: 'auto' }}>
        <Stack gap={8}>
          {all.map(({ id, label, order }) => <Checkbox key={id} size="xs" checked={orders.includes(id)} onChange={() => toggle(id)} label={`${label}: ${orderWords(order)}`} />)}
          {places?.deliverTo && <TextInput size="xs" label="Put them into a folder, too" description={`Below ${places.deliverTo}; nothing: only in the outbox`} placeholder="client/property" defaultValue={folder ?? ''} maxLength={200} onChange={(event) => putInto(event.currentTarget.value)} />}
          {places && places.receivers.length > 0 && <NativeSelect size="xs" label="Send them to" value={receiver ?? ''} data={[{ value: '', label: 'nobody' }, ...places.receivers.map((name) => ({ value: name, label: name }))]} onChange={(event) => sendTo(event.currentTarget.value || null)} />}
          <Link to="/orders">Sizes and names of your own…</Link>
        </Stack>
      </Popover.Dropdown>
    </Popover>
  );
}
