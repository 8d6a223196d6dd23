import { Button, Checkbox, Popover, Stack } from '@mantine/core';
import { ORDER_NAMES, ORDER_WORDS, type useOrders } from './orders';

interface ChoiceProps extends ReturnType<typeof useOrders> {
  readonly small?: boolean;
}

/** What is delivered: one file a picture for each order that is chosen. */
export function OrderChoice({ orders, toggle, small = false }: ChoiceProps) {
  return (
    <Popover position="bottom-end" withinPortal>
      <Popover.Target><Button variant="default" size={small ? 'compact-sm' : 'sm'} aria-label={`Orders: ${orders.map((name) => ORDER_WORDS[name].label).join(', ')}`}>{small && orders.length > 1 ? `${orders.length} files` : orders.map((name) => ORDER_WORDS[name].label).join(', ')}</Button></Popover.Target>
      <Popover.Dropdown>
        <Stack gap={8}>
          {ORDER_NAMES.map((name) => <Checkbox key={name} size="xs" checked={orders.includes(name)} onChange={() => toggle(name)} label={`${ORDER_WORDS[name].label}: ${ORDER_WORDS[name].what}`} />)}
        </Stack>
      </Popover.Dropdown>
    </Popover>
  );
}
