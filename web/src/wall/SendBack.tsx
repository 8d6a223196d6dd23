import { Button, Group, Modal, Textarea } from '@mantine/core';
import { useState } from 'react';

interface SendBackProps {
  readonly label: string;
  readonly note: string;
  readonly onSend: (note: string) => void;
  readonly onClose: () => void;
}

/** A picture sent back to the desk, with what is to be done about it. */
export function SendBack({ label, note: first, onSend, onClose }: SendBackProps) {
  const [note, setNote] = useState(first);
  return (
    <Modal opened onClose={onClose} title={`Send back: ${label}`}>
      <form onSubmit={(event) => { event.preventDefault(); onSend(note.trim()); }}>
        <Textarea label="What is to be done" value={note} onChange={(e) => setNote(e.currentTarget.value)} maxLength={1000} autosize minRows={3} data-autofocus placeholder="The lamp on the left is too yellow" onKeyDown={(event) => { if (event.key === 'Enter' && !event.shiftKey) { event.preventDefault(); onSend(note.trim()); } }} />
        <Group mt="md" justify="flex-end"><Button variant="default" onClick={onClose}>Cancel</Button><Button type="submit">Send back</Button></Group>
      </form>
    </Modal>
  );
}
