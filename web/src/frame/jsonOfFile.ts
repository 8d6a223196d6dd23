import { notifications } from '@mantine/notifications';

/** Says why a file is not what it was taken for. @param kind 'method', 'order' */
export const refuseFile = (file: File, kind: string, message: string): void => void notifications.show({ color: 'red', title: `“${file.name}” is no ${kind}`, message });

/** What is in a JSON file that somebody chose; where it is none, that is said, and null. @param largest bytes that such a file may have */
export async function jsonOfFile(file: File, kind: string, largest: number): Promise<{ readonly value: unknown } | null> {
  const refuse = (message: string): null => {
    refuseFile(file, kind, message);
    return null;
  };
  if (file.size > largest) return refuse(`It is far larger than any ${kind}. Choose a file that “Save as a file” wrote.`);
  try {
    return { value: JSON.parse(await file.text()) as unknown };
  } catch {
    return refuse('It is no JSON. Choose a file that “Save as a file” wrote.');
  }
}
