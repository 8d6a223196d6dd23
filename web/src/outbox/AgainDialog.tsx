import { Button, Group, Modal, Radio, Stack, Text } from '@mantine/core';
import { useState } from 'react';
import { failed } from '../frame/failed';
import { OrderChoice } from './OrderChoice';
import { useOrders } from './orders';
import { useBatchAgainMutation } from '../store/api';

interface DialogProps {
  readonly batch: string;
  /** Names of the orders that it was made by. */
  readonly orders: readonly string[];
  readonly onClose: () => void;
}

/** Asks how a batch is to be delivered once more, and where to. */
export function AgainDialog({ batch, orders, onClose }: DialogProps) {
  const [again] = useBatchAgainMutation();
  const choice = useOrders();
  const [how, setHow] = useState<'same' | 'other'>('other');
  const where = [choice.folder === null ? '' : `put into ${choice.folder}`, choice.receiver === null ? '' : `sent to ${choice.receiver}`].filter(Boolean).join(', and ');
  const deliver = (): void => void again({ id: batch, orders: how === 'same' ? null : choice.orders, folder: choice.folder, receiver: choice.receiver }).unwrap().then(onClose, failed);
  return (
    <Modal opened onClose={onClose} title="Deliver again" centered>
      <Stack gap={12}>
        <Text size="sm">Made from what these pictures were made of, whatever was changed on their shots since.</Text>
        <Radio.Group value={how} onChange={(value) => setHow(value === 'same' ? 'same' : 'other')} label="As">
          <Stack gap={6} mt={4}>
            <Radio value="other" label={`what is chosen now: ${choice.all.filter(({ id }) => choice.orders.includes(id)).map(({ label }) => label).join(', ')}`} />
            <Radio value="same" label={`what they were: ${orders.join(', ')}, the same to the byte`} />
          </Stack>
        </Radio.Group>
        <Group justify="space-between"><OrderChoice {...choice} /><Text size="sm" c="dimmed">{where || 'only in the outbox'}</Text></Group>
        <Group justify="flex-end"><Button variant="default" onClick={onClose}>Cancel</Button><Button onClick={deliver}>Deliver again</Button></Group>
      </Stack>
    </Modal>
  );
}
