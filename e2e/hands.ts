import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { expect, test, type APIRequestContext, type Page } from '@playwright/test';
import sharp from 'sharp';
import type { MixDocument } from '@zaddle/document';
import { onScreen, settled, type Raster } from './canvas';
import { address } from './shoot';

export const ROOT = join(import.meta.dirname, '..');
/** The frames of the demo visit. */
export const DEMO = join(ROOT, 'rig/data/demo-visit');
const strip = (page: Page, name: string) => page.getByRole('group', { name: `Pass ${name}`, exact: true });

/** The mix of a shot as it stands. */
export const mixOf = async (request: APIRequestContext, shot: string): Promise<MixDocument> => ((await (await request.get(address(`/api/shots/${shot}`))).json()) as { mix: { document: MixDocument } }).mix.document;
/** A picture file as plain RGB. */
export const raster = (file: string): Promise<Raster> => sharp(file).removeAlpha().toColourspace('srgb').raw().toBuffer({ resolveWithObject: true }).then(({ data, info }) => ({ width: info.width, height: info.height, data }));

/** The shot that holds a frame. */
export async function shotOf(request: APIRequestContext, shots: readonly string[], frame: string): Promise<string> {
  for (const shot of shots) if (((await (await request.get(address(`/api/shots/${shot}`))).json()) as { frames: { name: string }[] }).frames.some(({ name }) => name === frame)) return shot;
  throw new Error(`No shot holds ${frame}.`);
}

/** Hands at the desk, which count what they do. */
export class Hands {
  private count = 0;
  constructor(private readonly page: Page) {}
  async key(keys: string): Promise<void> {
    this.count++;
    await this.page.keyboard.press(keys);
  }
  /** One of the drawer's cards, walked to by arrows and taken by Enter. */
  async add(card: RegExp, keys = 'Enter'): Promise<void> {
    await this.key('n');
    const target = this.page.getByRole('region', { name: 'Add a pass' }).getByRole('button', { name: card }).first();
    while (!(await target.evaluate((element) => element === document.activeElement))) await this.key('ArrowRight');
    await this.key(keys);
    await this.key('Escape');
    await settled(this.page);
  }
  async select(name: string): Promise<void> {
    this.count++;
    await strip(this.page, name).locator('.name').click();
  }
  /** Types a value beside its slider. */
  async type(label: string, value: string): Promise<void> {
    this.count += 2;
    const panel = this.page.getByRole('complementary', { name: 'Selected pass' });
    await panel.getByRole('button', { name: new RegExp(`^${label}: .*type another value`) }).first().click();
    await this.page.getByRole('textbox', { name: `${label}, typed` }).fill(value);
    await this.page.keyboard.press('Enter');
    await settled(this.page);
  }
  /** A drag over the picture. */
  async drag(...points: readonly (readonly [number, number])[]): Promise<void> {
    await this.point(...points);
    await settled(this.page);
  }
  /** The same, for what is shown beside the pointer meanwhile. */
  async point(...points: readonly (readonly [number, number])[]): Promise<void> {
    this.count++;
    await this.page.mouse.move(...(await onScreen(this.page, ...points[0])));
    await this.page.mouse.down();
    for (const point of points.slice(1)) await this.page.mouse.move(...(await onScreen(this.page, ...point)), { steps: 6 });
    await this.page.mouse.up();
  }
  /** Everything that was proposed goes, but the lowest pass. */
  async clear(): Promise<void> {
    const strips = this.page.locator('.strip');
    for (let left = await strips.count(); left > 1; left--) {
      await strips.last().locator('.name').click();
      await this.page.keyboard.press('Delete');
      await expect(strips).toHaveCount(left - 1);
    }
    await settled(this.page);
  }
  done(most: number, measured: string): void {
    test.info().annotations.push({ type: 'gestures', description: `${this.count}; ${measured}` });
    expect(this.count).toBeLessThanOrEqual(most);
  }
}

/** Opens a shot at the desk. */
export async function openDesk(page: Page, shot: string): Promise<Hands> {
  await page.goto(address(`/shots/${shot}`));
  await settled(page);
  return new Hands(page);
}
/** Files of a folder by their names. */
export const named = (folder: string, ...files: readonly string[]) => files.map((name) => ({ name, data: readFileSync(join(folder, name)) }));
