import { join } from 'node:path';
import { chromium, type Page } from '@playwright/test';
import { onScreen, settled } from './canvas';

/*
 * Pictures of the main views for the documents, from the demo data. Run it against the application as it first starts, once all is mixed:
 * npm run screenshots -- http://127.0.0.1:4600/ [name ...]
 */

const FOLDER = join(import.meta.dirname, '../docs/screenshots');
const [url, ...wanted] = process.argv.slice(2);
if (!url) throw new Error('Say where the application runs: npm run screenshots -- http://127.0.0.1:4600/');
const address = (path: string): string => new URL(path, url).href;
const get = async <T>(path: string): Promise<T> => (await fetch(address(path))).json() as Promise<T>;

const [shoot] = await get<{ id: string; name: string }[]>('api/shoots');
const { shots } = await get<{ shots: { id: string; state: string }[] }>(`api/shoots/${shoot.id}`);
if (shots.length === 0 || shots.some(({ state }) => state !== 'mixed')) throw new Error('Not all shots of the demo are mixed yet. Wait a minute, then try again.');

/** A shot of the demo at the desk, by its number. */
async function desk(page: Page, number: number): Promise<void> {
  await page.goto(address(`shots/${shots[number - 1].id}`));
  await settled(page);
}
const keys = (...pressed: readonly string[]) => async (page: Page): Promise<void> => {
  for (const key of pressed) await page.keyboard.press(key);
};
const click = (page: Page, name: string) => page.getByRole('button', { name, exact: true }).first().click();

/** Main views, and how to come to each. */
const VIEWS: Readonly<Record<string, (page: Page) => Promise<void>>> = {
  shoots: async (page) => void (await page.goto(url)),
  gather: async (page) => void (await page.goto(address(`shoots/${shoot.id}`))),
  wall: async (page) => void (await page.goto(address(`shoots/${shoot.id}/wall`))),
  methods: async (page) => void (await page.goto(address('methods'))),
  review: async (page) => {
    await page.goto(address(`shoots/${shoot.id}`));
    await page.locator('figure.frame').first().click();
    await keys('Enter')(page);
  },
  desk: (page) => desk(page, 1),
  starts: async (page) => {
    await desk(page, 1);
    await click(page, 'Begin with');
  },
  'add-pass': async (page) => {
    await desk(page, 8);
    await keys('n')(page);
  },
  compare: async (page) => {
    await desk(page, 1);
    await click(page, 'Compare');
    await click(page, 'Wipe');
  },
  shares: async (page) => {
    await desk(page, 1);
    await click(page, 'Shares');
  },
  framing: async (page) => {
    await desk(page, 3);
    await keys('Shift+F')(page);
  },
  'line-up': async (page) => {
    await desk(page, 1);
    await page.getByRole('group', { name: 'Pass Flash 2' }).locator('.name').click();
    await keys('a')(page);
    await page.getByRole('complementary', { name: 'Line-up' }).locator('.frame-row > button:first-child').nth(4).click();
    await keys('d')(page);
  },
  'methods-desk': async (page) => {
    await desk(page, 1);
    await keys('Shift+M')(page);
    await page.getByRole('radio', { name: 'Bright and open' }).click();
    await settled(page);
  },
  'spot-search': async (page) => {
    await desk(page, 8);
    await keys('/')(page);
    const [x, y] = await onScreen(page, 2850, 1010);
    await page.mouse.move(x, y);
    await page.mouse.down();
    await page.mouse.move(x + 30, y, { steps: 4 });
    await page.mouse.up();
    await page.getByTestId('spot-search').getByRole('radio').nth(2).waitFor();
  },
};

const unknown = wanted.filter((name) => !(name in VIEWS));
if (unknown.length > 0) throw new Error(`There is no view ${unknown.join(', ')}. There are: ${Object.keys(VIEWS).join(', ')}.`);
const browser = await chromium.launch({ executablePath: '/usr/bin/chromium', args: ['--no-sandbox', '--disable-gpu', '--disable-quic', '--no-first-run'] });
for (const [name, come] of Object.entries(VIEWS)) {
  if (wanted.length > 0 && !wanted.includes(name)) continue;
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
  await come(page);
  // Pictures, small ones too, have come.
  await page.waitForTimeout(4000);
  await page.screenshot({ path: join(FOLDER, `${name}.png`) });
  process.stdout.write(`${name}\n`);
  await page.close();
}
await browser.close();
