import { expect, type APIRequestContext } from '@playwright/test';

/** Address of a page or of the interface of the server under test. */
export const address = (path = ''): string => process.env.ZADDLE_URL! + path.replace(/^\//, '');

/** A shoot made of files, once all its shots are mixed. @returns the ids of its shots */
export async function shootOf(request: APIRequestContext, name: string, files: readonly { readonly name: string; readonly data: Buffer }[]): Promise<string[]> {
  const shoot = ((await (await request.post(address('/api/shoots'), { data: { name } })).json()) as { id: string }).id;
  for (const { name: file, data } of files) expect((await request.post(address(`/api/shoots/${shoot}/frames?name=${file}`), { data, headers: { 'Content-Type': 'image/jpeg' } })).status()).toBe(201);
  let shots: { id: string; state: string }[] = [];
  const states = async (): Promise<string> => {
    shots = ((await (await request.get(address(`/api/shoots/${shoot}`))).json()) as { shots: typeof shots }).shots;
    return shots.length > 0 && shots.every((s) => s.state === 'mixed') ? 'mixed' : 'waiting';
  };
  await expect.poll(states, { timeout: 200_000 }).toBe('mixed');
  return shots.map((s) => s.id);
}

/** Delivers a shot and gives the file. */
export async function delivered(request: APIRequestContext, shot: string): Promise<Buffer> {
  const { ids } = (await (await request.post(address('/api/deliveries'), { data: { shots: [shot], quality: 100 } })).json()) as { ids: string[] };
  await expect.poll(async () => ((await (await request.get(address('/api/deliveries'))).json()) as { id: string; state: string }[]).find((d) => d.id === ids[0])?.state, { timeout: 200_000 }).toBe('done');
  return (await request.get(address(`/api/deliveries/${ids[0]}/file`))).body();
}
