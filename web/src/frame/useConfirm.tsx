import { Button, Group, Modal } from '@mantine/core';
import { useState, type ReactNode } from 'react';

interface Question {
  readonly title: string;
  readonly text: string;
  /** What the button that does it says. */
  readonly act: string;
  readonly onYes: () => void;
}

/** Asks before something is gone for good. Returns how to ask, and what to put on the page. */
export function useConfirm(): { ask: (question: Question) => void; dialog: ReactNode } {
  const [question, setQuestion] = useState<Question | null>(null);
  const close = (): void => setQuestion(null);
  const dialog = (
    <Modal opened={question !== null} onClose={close} title={question?.title}>
      <p style={{ marginTop: 0 }}>{question?.text}</p>
      <Group justify="flex-end">
        <Button variant="default" onClick={close} data-autofocus>Keep</Button>
        <Button color="red" onClick={() => { question?.onYes(); close(); }}>{question?.act}</Button>
      </Group>
    </Modal>
  );
  return { ask: setQuestion, dialog };
}
