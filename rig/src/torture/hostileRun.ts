import { chmodSync, mkdirSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Instance } from './instance';

/** Runs something against a server of its own, which is taken away afterwards. */
export async function withInstance<T>(work: (instance: Instance) => Promise<T>): Promise<T> {
  const home = mkdtempSync(join(tmpdir(), 'zaddle-hostile-'));
  chmodSync(home, 0o755);
  const [data, deliverTo] = [join(home, 'data'), join(home, 'delivered')];
  for (const folder of [data, deliverTo]) mkdirSync(folder);
  const instance = new Instance({ data, deliverTo, receiver: 'http://127.0.0.1:9/uploads' });
  try {
    await instance.start();
    return await work(instance);
  } finally {
    await instance.stop();
    rmSync(home, { recursive: true, force: true });
  }
}
