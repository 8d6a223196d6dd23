import { execFileSync, spawn, type ChildProcess } from 'node:child_process';
import { chmodSync, mkdtempSync, readdirSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { chromium, type Browser, type Page } from '@playwright/test';
import sharp from 'sharp';

/*
 * How fast the desk answers, in the real browser: prints one JSON object. Times are medians in milliseconds, from the
 * event of a hand to the picture on the canvas.
 */

const ROOT = join(import.meta.dirname, '..');
const ARGUMENTS = ['--no-sandbox', '--disable-gpu', '--disable-quic', '--no-first-run', '--disable-background-networking', '--disable-component-update', '--disable-sync'];
const ROUNDS = 3;

const middle = (values: readonly number[]): number => Math.round(10 * [...values].sort((a, b) => a - b)[values.length >> 1]) / 10;

interface Shown { at: number; final: boolean; level: number | null }
declare global {
  interface Window { shownPictures: Shown[] }
}

/** Notes when pictures come back from the engine. Runs in the page before anything else does. */
function watchPictures(): void {
  window.shownPictures = [];
  const Native = window.Worker;
  window.Worker = class extends Native {
    constructor(...given: ConstructorParameters<typeof Worker>) {
      super(...given);
      this.addEventListener('message', ({ data }: MessageEvent<{ kind: string; final: boolean; level: number | null }>) => {
        if (data.kind === 'shown') window.shownPictures.push({ at: performance.now(), final: data.final, level: data.level });
      });
    }
  };
}

async function startServer(folder: string): Promise<{ url: string; process: ChildProcess }> {
  const server = spawn(join(ROOT, 'zaddle'), ['start', '--empty', '--port', '0', '--data', folder], { stdio: ['ignore', 'pipe', 'inherit'] });
  const url = await new Promise<string>((resolve, reject) => {
    server.stdout.on('data', (chunk: Buffer) => {
      const found = /ready: (http\S+)/.exec(chunk.toString());
      if (found) resolve(found[1]);
    });
    server.on('exit', (code) => reject(new Error(`zaddle start ended with ${code}`)));
  });
  return { url, process: server };
}

const get = async <T>(url: string): Promise<T> => (await fetch(url)).json() as Promise<T>;
const post = async <T>(url: string, body: unknown): Promise<T> => (await fetch(url, { method: 'POST', headers: { 'Content-Type': 'application/json' }, body: JSON.stringify(body) })).json() as Promise<T>;

/** Waits until a shoot's shots are mixed. @returns their ids */
async function mixed(url: string, shoot: string): Promise<string[]> {
  for (;;) {
    const { shots } = await get<{ shots: { id: string; state: string }[] }>(`${url}api/shoots/${shoot}`);
    if (shots.length > 0 && shots.every((s) => s.state !== 'sorted')) return shots.map((s) => s.id);
    await new Promise((resolve) => setTimeout(resolve, 500));
  }
}

/** Waits until every picture is drawn as it stands: the desk is measured while nothing is made beside it. */
async function drawn(url: string): Promise<void> {
  for (const { id } of await get<{ id: string }[]>(`${url}api/shoots`)) {
    for (;;) {
      const { shots } = await get<{ shots: { revision: number | null; preview: number | null }[] }>(`${url}api/shoots/${id}/wall`);
      if (shots.every((s) => s.preview === s.revision)) break;
      await new Promise((resolve) => setTimeout(resolve, 500));
    }
  }
}

/** The shots of a card, mixed. */
async function shotsOf(url: string, card: string): Promise<string[]> {
  const shoot = (await post<{ id: string }>(`${url}api/shoots`, { name: 'Card' })).id;
  for (const name of readdirSync(card).sort()) await send(url, shoot, name, readFileSync(join(card, name)));
  return mixed(url, shoot);
}

const send = (url: string, shoot: string, name: string, file: Buffer): Promise<unknown> => fetch(`${url}api/shoots/${shoot}/frames?name=${name}`, { method: 'POST', headers: { 'Content-Type': 'image/jpeg' }, body: new Uint8Array(file) });

/** A shot of so many frames of a width, from those of a card. */
async function shotOf(url: string, card: string, count: number, width: number): Promise<string> {
  const names = readdirSync(card).sort().slice(0, 7);
  const shoot = (await post<{ id: string }>(`${url}api/shoots`, { name: `${count} of ${width}` })).id;
  for (let k = 0; k < count; k++) {
    const file = await sharp(join(card, names[k % names.length])).resize(width, Math.round((width * 2) / 3), { kernel: 'cubic' }).modulate({ brightness: 1 + Math.floor(k / names.length) * 0.01 }).keepExif().jpeg({ quality: 90 }).toBuffer();
    await send(url, shoot, `F${k}.jpg`, file);
  }
  return (await mixed(url, shoot))[0];
}

/** Passes more, until a mix has so many: flash light that lies where a ramp says. */
async function withPasses(url: string, shot: string, count: number): Promise<void> {
  const { mix } = await get<{ mix: { document: { frames: object; passes: { kind: string }[] } } }>(`${url}api/shots/${shot}`);
  const frames = Object.keys(mix.document.frames);
  for (let k = mix.document.passes.length; k < count; k++) {
    await post(`${url}api/shots/${shot}/mix/commands`, { kind: 'addPass', index: 1, pass: { id: `more-${k}`, name: `More ${k}`, within: null, why: '', kind: 'light', on: true, opacity: 0.3, mask: [{ id: 'ramp', kind: 'ramp', join: 'add', inverted: false, from: [0.2, 0.1], to: [0.8, 0.1 + k / 100] }], exposure: 0, balance: [1, 1, 1], source: { kind: 'frame', frame: frames[k % frames.length] }, alignment: null, mode: 'lighten', brightness: 1, colour: 1 } });
  }
}

/** Six of them as a bundle, and an area with a border that follows edges. */
async function withBundle(url: string, shot: string): Promise<void> {
  const { mix } = await get<{ mix: { document: { reference: string; passes: { id: string }[] } } }>(`${url}api/shots/${shot}`);
  const members = mix.document.passes.slice(1, 7).map(({ id }) => id);
  const bundle = { id: 'bundle', name: 'Bundle', within: null, why: '', kind: 'bundle', on: true, opacity: 0.8, mask: [], exposure: 0, balance: [1, 1, 1], mode: 'normal', brightness: 1, colour: 1 };
  const moves = members.map((id, k) => ({ kind: 'movePass', id, index: k + 1, within: 'bundle' })).reverse();
  await post(`${url}api/shots/${shot}/mix/commands`, { kind: 'several', commands: [{ kind: 'addPass', index: 7, pass: bundle }, ...moves] });
  const stroke = { points: [[0.2, 0.2], [0.6, 0.4]], radius: 0.08, softness: 0.5, strength: 1, reveal: true };
  const area = { id: 'snapped', kind: 'brush', join: 'intersect', inverted: false, border: { grow: 0.004, soften: 0, snap: mix.document.reference }, strokes: [stroke] };
  await post(`${url}api/shots/${shot}/mix/commands`, { kind: 'addArea', pass: members[0], area, index: 1 });
}

/** Waits until the picture is final. Asked every other millisecond: a selector is looked for again only after half a second. */
const settled = (page: Page, level: string | null = null): Promise<unknown> =>
  page.waitForFunction((wanted) => {
    const stage = document.querySelector<HTMLElement>('[data-testid=stage]');
    return stage?.dataset.settled === 'true' && (wanted === null || stage.dataset.level === wanted);
  }, level, { polling: 2, timeout: 120_000 });

/** Moves a hand along a path and measures from each event to the next picture. */
async function answers(page: Page, from: readonly [number, number], step: readonly [number, number], count: number): Promise<number> {
  await page.mouse.move(...from);
  await page.mouse.down();
  const times: number[] = [];
  for (let k = 1; k <= count; k++) {
    const before = await page.evaluate(() => (window.shownPictures.length = 0, performance.now()));
    await page.mouse.move(from[0] + step[0] * k, from[1] + step[1] * k);
    const at = await page.waitForFunction(() => window.shownPictures[0]?.at, null, { polling: 2, timeout: 20_000 }).then((h) => h.jsonValue());
    times.push(at! - before);
    await page.waitForTimeout(60);
  }
  await page.mouse.up();
  return middle(times.slice(3));
}

/** A fader of the pass that is third from underneath, dragged. */
async function repaint(page: Page): Promise<number> {
  const strip = page.getByRole('group', { name: /^Pass / }).nth(2);
  await strip.locator('.name').click();
  await page.waitForTimeout(700);
  await settled(page);
  const box = (await strip.locator('input[type=range]').first().boundingBox())!;
  return answers(page, [box.x + box.width / 2, box.y + box.height / 2], [1, 0], 15);
}

async function ink(page: Page): Promise<number> {
  await page.keyboard.press('o');
  await page.waitForTimeout(300);
  const box = (await page.getByTestId('stage').boundingBox())!;
  const time = await answers(page, [box.x + 200, box.y + 200], [7, 3], 20);
  await page.keyboard.press('Escape');
  await page.waitForTimeout(300);
  await settled(page);
  return time;
}

async function timed(work: () => Promise<unknown>): Promise<number> {
  const start = performance.now();
  await work();
  return performance.now() - start;
}

async function several(work: () => Promise<number>): Promise<number> {
  const times: number[] = [];
  for (let k = 0; k < ROUNDS; k++) times.push(await work());
  return middle(times);
}

/** A page of a browser that has seen nothing yet. */
async function freshPage(browser: Browser): Promise<Page> {
  const page = await (await browser.newContext({ viewport: { width: 1280, height: 800 } })).newPage();
  await page.addInitScript(watchPictures);
  return page;
}

/** Memory of the page's process, MiB: the largest renderer. */
function tabMiB(): number {
  const rows = execFileSync('ps', ['-eo', 'rss,args'], { encoding: 'utf8' }).split('\n').filter((row) => row.includes('--type=renderer'));
  return Math.round(Math.max(...rows.map((row) => Number(row.trim().split(/\s+/)[0]))) / 1024);
}

/** Within the application, as a person goes: back to the list of shots, and to a shot. */
async function goTo(page: Page, url: string, shot: string): Promise<void> {
  await page.evaluate((path) => { history.pushState({}, '', path); dispatchEvent(new PopStateEvent('popstate')); }, new URL(`shots/${shot}`, url).pathname);
  await page.waitForFunction(() => document.querySelector('[data-testid=stage]')?.getAttribute('data-settled') !== 'true', null, { polling: 2, timeout: 5000 }).catch(() => undefined);
  await settled(page);
}

/** The place beside: dragged by two thirds of the stage, after a moment of looking. */
async function beside(page: Page): Promise<number> {
  await page.waitForTimeout(1500);
  const box = (await page.getByTestId('stage').boundingBox())!;
  await page.mouse.move(box.x + box.width * 0.8, box.y + box.height / 2);
  await page.mouse.down();
  await page.mouse.move(box.x + box.width * 0.2, box.y + box.height / 2 + 20, { steps: 3 });
  const time = await timed(async () => {
    await page.mouse.up();
    await settled(page);
  });
  return time;
}

/** A spot that is searched in all frames: from the click to what every frame would give it, and from an arrow to the picture with the next one. The first search, which loads pixels, is not counted. */
async function spots(page: Page): Promise<{ searchMs: number; nextFrameMs: number }> {
  await page.keyboard.press('/');
  const box = (await page.getByTestId('stage').boundingBox())!;
  const [search, next]: number[][] = [[], []];
  for (let k = 0; k <= 2 * ROUNDS; k++) {
    const time = await timed(async () => {
      await page.mouse.click(box.x + box.width * (0.3 + 0.05 * k), box.y + box.height * 0.6);
      await page.waitForFunction(() => document.querySelector('[data-testid=spot-search] [role=radio]'), null, { polling: 2 });
    });
    await page.waitForTimeout(1200);
    const before = await page.evaluate(() => (window.shownPictures.length = 0, performance.now()));
    await page.keyboard.press('ArrowRight');
    const at = await page.waitForFunction(() => window.shownPictures[0]?.at, null, { polling: 2, timeout: 20_000 }).then((h) => h.jsonValue());
    if (k > 0) {
      search.push(time);
      next.push(at! - before);
    }
    await page.keyboard.press('Escape');
    await page.waitForTimeout(200);
  }
  return { searchMs: middle(search), nextFrameMs: middle(next) };
}

async function bench(): Promise<Record<string, unknown>> {
  const folder = mkdtempSync(join(tmpdir(), 'zaddle-bench-desk-'));
  chmodSync(folder, 0o755);
  const { url, process: server } = await startServer(join(folder, 'data'));
  try {
    const card = join(folder, 'card');
    execFileSync(join(ROOT, 'zaddle'), ['camera', 'demo', '--size', '1500', '--shots', 'sitting-room,kitchen', '--out', card]);
    const [first, second] = await shotsOf(url, card);
    const large = await shotOf(url, card, 7, 6000);
    const crowd = await shotOf(url, card, 26, 1500);
    const heavy = await shotOf(url, card, 26, 6000);
    await withPasses(url, crowd, 30);
    await withBundle(url, crowd);
    await drawn(url);
    const openColdMs = await several(async () => {
      const browser = await chromium.launch({ executablePath: '/usr/bin/chromium', args: ARGUMENTS });
      const page = await freshPage(browser);
      const time = await timed(async () => {
        await page.goto(`${url}shots/${first}`);
        await settled(page);
      });
      await browser.close();
      return time;
    });
    const browser = await chromium.launch({ executablePath: '/usr/bin/chromium', args: ARGUMENTS });
    const page = await freshPage(browser);
    await page.goto(`${url}shots/${first}`);
    await settled(page);
    const nextShotMs = await several(() => timed(() => goTo(page, url, second)).then(async (time) => { await goTo(page, url, first); return time; }));
    const openWarmMs = await several(async () => timed(async () => {
      await page.reload();
      await settled(page);
    }));
    const repaintMs = await repaint(page);
    const inkMs = await ink(page);
    await page.goto(`${url}shots/${crowd}`);
    await settled(page);
    const repaint26Ms = await repaint(page);
    await page.goto(`${url}shots/${large}`);
    await settled(page);
    const oneToOneMs = await timed(async () => {
      await page.keyboard.press('e');
      await settled(page, '0');
    });
    const oneToOneNearMs = await several(() => beside(page));
    const toured = tabMiB();
    await browser.close();
    const other = await chromium.launch({ executablePath: '/usr/bin/chromium', args: ARGUMENTS });
    const tab = await freshPage(other);
    await tab.goto(`${url}shots/${heavy}`);
    await settled(tab);
    await tab.keyboard.press('e');
    await settled(tab, '0');
    const memory = tabMiB();
    await tab.keyboard.press('w');
    await settled(tab);
    const spot = await spots(tab);
    const searched = tabMiB();
    await other.close();
    return { ...spot, tabSearchedMiB: searched, repaintMs, repaint26Ms, inkMs, openWarmMs, openColdMs, nextShotMs, oneToOneMs: Math.round(oneToOneMs), oneToOneNearMs, tabMiB: memory, tabAfterTourMiB: toured };
  } finally {
    await new Promise<void>((done) => {
      server.on('exit', () => done());
      server.kill('SIGINT');
    });
    rmSync(folder, { recursive: true, force: true });
  }
}

process.stdout.write(`${JSON.stringify(await bench())}\n`);
