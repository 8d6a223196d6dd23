import { notifications } from '@mantine/notifications';
import { refuseFile } from '../frame/jsonOfFile';
import type { KeptTable } from '../store/api';

/** Largest file that is sent: a cube of 65 with room to spare. */
const LARGEST = 16_000_000;

/** Keeps a .cube file as a colour table; where it is none, that is said, with the line that is wrong, and null. */
export async function addTable(file: File, add: (table: { readonly name: string; readonly text: string }) => Promise<KeptTable>): Promise<KeptTable | null> {
  const refuse = (message: string): null => {
    refuseFile(file, 'colour table', message);
    return null;
  };
  if (file.size > LARGEST) return refuse('It is far larger than any colour table. Choose a .cube file.');
  const name = file.name.replace(/\.cube$/i, '').slice(0, 120) || 'Table';
  const answer = await add({ name, text: await file.text() }).catch((error: { data?: { detail?: string } }) => refuse(error.data?.detail ?? 'The server did not take it.'));
  if (answer) notifications.show({ message: `“${answer.name}” is among your colour tables now.` });
  return answer;
}

/** Hands a text to the browser as a file to be saved. */
export function saveText(name: string, text: string): void {
  const url = URL.createObjectURL(new Blob([text], { type: 'text/plain' }));
  const link = document.createElement('a');
  link.href = url;
  link.download = name;
  link.click();
  URL.revokeObjectURL(url);
}
