import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { expect, type APIRequestContext, type JSHandle, type Page } from '@playwright/test';
import type { MixDocument } from '@zaddle/document';

/** Address of a page or of the interface of the server under test. */
export const address = (path = ''): string => process.env.ZADDLE_URL! + path.replace(/^\//, '');

/** Has a shot's picture as its reference was taken, so that places in it are those of the reference. */
export async function asShot(request: APIRequestContext, shot: string): Promise<void> {
  const { mix } = (await (await request.get(address(`/api/shots/${shot}`))).json()) as { mix: { document: MixDocument } };
  const { width, height } = mix.document.frames[mix.document.reference];
  const changes = { geometry: [1, 0, 0, 0, 1, 0, 0, 0, 1], width, height, framing: null };
  expect((await request.post(address(`/api/shots/${shot}/mix/commands`), { data: { kind: 'changeMix', changes }, headers: { 'x-requested-with': 'e2e' } })).status()).toBe(200);
}

/** A shoot made of files, once all its shots are mixed. @param framing 'as shot': nothing is straightened or cropped. @returns the ids of its shots */
export async function shootOf(request: APIRequestContext, name: string, files: readonly { readonly name: string; readonly data: Buffer }[], framing: 'as shot' | 'proposed' = 'as shot'): Promise<string[]> {
  const shoot = ((await (await request.post(address('/api/shoots'), { data: { name } })).json()) as { id: string }).id;
  for (const { name: file, data } of files) expect((await request.post(address(`/api/shoots/${shoot}/frames?name=${file}`), { data, headers: { 'Content-Type': 'image/jpeg' } })).status()).toBe(201);
  let shots: { id: string; state: string }[] = [];
  const states = async (): Promise<string> => {
    shots = ((await (await request.get(address(`/api/shoots/${shoot}`))).json()) as { shots: typeof shots }).shots;
    return shots.length > 0 && shots.every((s) => s.state === 'mixed') ? 'mixed' : 'waiting';
  };
  await expect.poll(states, { timeout: 200_000 }).toBe('mixed');
  if (framing === 'as shot') for (const { id } of shots) await asShot(request, id);
  return shots.map((s) => s.id);
}

/** Delivers a shot and gives the file. */
export async function delivered(request: APIRequestContext, shot: string): Promise<Buffer> {
  const { ids } = (await (await request.post(address('/api/deliveries'), { data: { shots: [shot], quality: 100 } })).json()) as { ids: string[] };
  await expect.poll(async () => ((await (await request.get(address('/api/deliveries'))).json()) as { id: string; state: string }[]).find((d) => d.id === ids[0])?.state, { timeout: 200_000 }).toBe('done');
  return (await request.get(address(`/api/deliveries/${ids[0]}/file`))).body();
}

/** The card of the tests, with one file more that is cut off, as something that can be dropped on a page. */
export async function cardToDrop(page: Page): Promise<{ readonly count: number; readonly transfer: JSHandle<DataTransfer> }> {
  const card = process.env.ZADDLE_CARD!;
  const files = readdirSync(card).map((name) => ({ name, data: readFileSync(join(card, name)).toString('base64') }));
  files.push({ name: 'CUT.JPG', data: Buffer.from(files[0].data, 'base64').subarray(0, 60_000).toString('base64') });
  const transfer = await page.evaluateHandle((list) => {
    const t = new DataTransfer();
    for (const { name, data } of list) t.items.add(new File([Uint8Array.from(atob(data), (c) => c.charCodeAt(0))], name, { type: 'image/jpeg' }));
    return t;
  }, files);
  return { count: files.length, transfer };
}
