import { closeSync, openSync, readFileSync, renameSync, rmSync, writeFileSync } from 'node:fs';
import { createServer, connect, type Server } from 'node:net';
import { join } from 'node:path';

/** What a running server leaves for `worker`, and for a second `start`, to find it by. */
export interface Running {
  readonly pid: number;
  readonly url: string;
  readonly database: string;
}

const note = (data: string): string => join(data, 'running.json');

/** The note of a data folder's server, or null where there is none or it was cut off. */
function readNote(data: string): Running | null {
  try {
    const running = JSON.parse(readFileSync(note(data), 'utf8')) as Partial<Running>;
    return typeof running.url === 'string' && typeof running.database === 'string' ? (running as Running) : null;
  } catch {
    return null;
  }
}

/** Leaves the note, whole or not at all; it holds the database's password. */
export function writeNote(data: string, running: Running): void {
  writeFileSync(`${note(data)}.new`, JSON.stringify(running), { mode: 0o600 });
  renameSync(`${note(data)}.new`, note(data));
}
export const removeNote = (data: string): void => rmSync(note(data), { force: true });

/** Works with a socket in a folder by a path that is short however deep the folder lies: names of sockets may have some hundred bytes only. */
async function withSocketPath<T>(data: string, work: (path: string) => Promise<T>): Promise<T> {
  const folder = openSync(data, 'r');
  try {
    return await work(`/proc/self/fd/${folder}/start.sock`);
  } finally {
    closeSync(folder);
  }
}

const answers = (path: string): Promise<boolean> =>
  new Promise((resolve) => {
    const socket = connect(path, () => {
      socket.destroy();
      resolve(true);
    });
    socket.on('error', () => resolve(false));
  });

/** Whether a server lives on this data folder: it holds a socket there, which dies with it, whatever numbers processes have. */
export const isServed = (data: string): Promise<boolean> => withSocketPath(data, answers).catch(() => false);

/** Milliseconds that another `start` gets to leave its note. */
const STARTING = 60_000;

/** The server that runs on this data folder, or null. One that is just starting is waited for. */
export async function findRunning(data: string): Promise<Running | null> {
  for (const end = Date.now() + STARTING; await isServed(data); await new Promise((resolve) => setTimeout(resolve, 300))) {
    const running = readNote(data);
    if (running || Date.now() > end) return running;
  }
  return null;
}

/** Holds a data folder for this process, or finds that another has it. A socket that a killed server left is taken away. */
export function holdFolder(data: string): Promise<Server | null> {
  return withSocketPath(data, async (path) => {
    if (await answers(path)) return null;
    rmSync(join(data, 'start.sock'), { force: true });
    return new Promise<Server | null>((resolve, reject) => {
      const server = createServer((socket) => socket.destroy());
      server.on('error', (error: NodeJS.ErrnoException) => (error.code === 'EADDRINUSE' ? resolve(null) : reject(error)));
      server.listen(path, () => resolve(server));
      server.unref();
    });
  });
}
