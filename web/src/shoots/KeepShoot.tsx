import { Button, Checkbox, Group, Modal } from '@mantine/core';
import { useState } from 'react';
import { failed } from '../frame/failed';
import { useDiskUseQuery, useDuplicateShootMutation, type ShootSummary } from '../store/api';

/** Bytes in a unit that people read. */
const bytesWords = (bytes: number): string => (bytes >= 995e6 ? `${(bytes / 1e9).toFixed(1)} GB` : `${Math.max(bytes > 0 ? 1 : 0, Math.round(bytes / 1e6))} MB`);

interface KeepProps {
  readonly shoot: ShootSummary;
  readonly onClose: () => void;
}

/** What a shoot takes on the disk, and how it is kept elsewhere: as one file, or as a second one here. */
export function KeepShoot({ shoot, onClose }: KeepProps) {
  const { data: disk } = useDiskUseQuery(shoot.id, { refetchOnMountOrArgChange: true });
  const [originals, setOriginals] = useState(true);
  const [delivered, setDelivered] = useState(true);
  const [duplicate, { isLoading }] = useDuplicateShootMutation();
  const twice = (): void => void duplicate(shoot.id).unwrap().then(onClose, failed);
  return (
    <Modal opened onClose={onClose} title={`Keep “${shoot.name}”`}>
      {disk && <p style={{ marginTop: 0 }}>On this server: {bytesWords(disk.originals)} of frames, {bytesWords(disk.others)} made of them, {bytesWords(disk.delivered)} delivered.</p>}
      <p className="why">The archive holds all work on the shoot: shots, mixes with their history and versions, reviews. It opens here or on another computer, and the pictures are the same there. It is a ZIP file; frames lie in it under the camera’s names.</p>
      <Checkbox size="xs" mb={6} checked={originals} onChange={(event) => setOriginals(event.currentTarget.checked)} label={`With the camera’s files${disk ? `, ${bytesWords(disk.originals)}` : ''}`} description={originals ? undefined : 'Without them it can be looked at; to deliver, drop the card on it again'} />
      <Checkbox size="xs" checked={delivered} onChange={(event) => setDelivered(event.currentTarget.checked)} label={`With delivered pictures${disk ? `, ${bytesWords(disk.delivered)}` : ''}`} />
      <Group mt="md" justify="space-between">
        <Button variant="default" loading={isLoading} onClick={twice}>Duplicate here</Button>
        <Button component="a" href={`/api/shoots/${shoot.id}/archive?originals=${originals ? 'yes' : 'no'}&delivered=${delivered ? 'yes' : 'no'}`} download>Save the archive</Button>
      </Group>
    </Modal>
  );
}
