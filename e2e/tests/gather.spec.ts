import { execFileSync } from 'node:child_process';
import { readdirSync } from 'node:fs';
import { join } from 'node:path';
import { expect, test, type Locator, type Page } from '@playwright/test';

const card = (): string => process.env.ZADDLE_CARD!;
const shot = (page: Page, name: string): Locator => page.getByRole('region', { name, exact: true });
const frame = (page: Page, name: string): Locator => page.locator(`figure[aria-label="${name}.JPG"]`);

/** Drags with the real pointer, in small steps, as a hand does. */
async function drag(page: Page, from: Locator, to: Locator): Promise<void> {
  const [a, b] = [(await from.boundingBox())!, (await to.boundingBox())!];
  await page.mouse.move(a.x + 30, a.y + 30);
  await page.mouse.down();
  await page.mouse.move(a.x + 44, a.y + 40, { steps: 3 });
  await page.mouse.move(b.x + b.width / 2, b.y + 24, { steps: 12 });
  await page.mouse.up();
}

test('frames are regrouped by dragging and by keyboard, culled and marked in the review, all with undo', async ({ page }) => {
  const problems: string[] = [];
  page.on('pageerror', (error) => problems.push(error.message));
  await page.goto(process.env.ZADDLE_URL!);
  await page.getByRole('button', { name: 'New shoot' }).click();
  await page.getByLabel('Name').fill('Regrouping');
  await page.getByRole('button', { name: 'Make the shoot' }).click();
  await page.getByTestId('file-picker').setInputFiles(readdirSync(card()).map((name) => join(card(), name)));
  await expect(page.getByRole('link', { name: 'Open at the desk' })).toHaveCount(3, { timeout: 300_000 });
  const count = (name: string, n: number) => expect(shot(page, name).locator('figure')).toHaveCount(n);
  await count('Shot 1', 7);

  // Drag a frame into another shot, take it back.
  await drag(page, frame(page, 'MILL0041'), shot(page, 'Shot 1'));
  await count('Shot 1', 8);
  await count('Shot 3', 2);
  await page.keyboard.press('Control+z');
  await count('Shot 1', 7);
  await count('Shot 3', 3);

  // A run of frames becomes a shot of its own; a drop on the bar does the same.
  await frame(page, 'MILL0034').click();
  await frame(page, 'MILL0037').click({ modifiers: ['Shift'] });
  await expect(page.getByText('4 frames chosen')).toBeVisible();
  await page.keyboard.press('n');
  await count('Shot 1', 3);
  await page.getByRole('button', { name: 'Undo' }).click();
  await count('Shot 1', 7);
  await page.getByRole('button', { name: 'Redo' }).click();
  await count('Shot 1', 3);
  await page.getByRole('button', { name: 'Undo' }).click();
  await count('Shot 1', 7);

  // Split before a frame, join again.
  await frame(page, 'MILL0036').click();
  await page.keyboard.press('i');
  await count('Shot 1', 5);
  await page.keyboard.press('y');
  await count('Shot 1', 7);

  // Review by keyboard: mark two, see only these, drop one.
  await frame(page, 'MILL0031').click();
  await page.keyboard.press('Enter');
  const review = page.getByRole('dialog', { name: 'Review' });
  await expect(review).toContainText('1 of 11');
  await page.keyboard.press('v');
  await page.keyboard.press('ArrowRight');
  await page.keyboard.press('ArrowRight');
  await page.keyboard.press('v');
  await expect(review.locator('.review-picture')).toContainText('MILL0033.JPG');
  await page.keyboard.press('t');
  await page.keyboard.press('ArrowLeft');
  await expect(review.locator('.review-picture')).toHaveCount(2);
  await expect(review.locator('.review-picture').first()).toContainText('Held: MILL0033.JPG');
  await page.keyboard.press('t');
  await page.keyboard.press('Escape');
  await page.keyboard.press('f');
  await expect(page.locator('figure.frame')).toHaveCount(2);
  await page.keyboard.press('f');
  await frame(page, 'MILL0032').click();
  await page.keyboard.press('x');
  await expect(page.getByLabel('Dropped frames').locator('figure')).toHaveCount(1);
  await count('Shot 1', 6);
  await page.reload();
  await expect(page.getByLabel('Dropped frames').locator('figure')).toHaveCount(1);
  await page.keyboard.press('Control+z');
  await count('Shot 1', 7);
  expect(problems).toEqual([]);
});

test('a tethered camera: each frame shows within seconds, and what is still missing', async ({ page }) => {
  await page.goto(`${process.env.ZADDLE_URL!}live`);
  await expect(page.getByRole('heading', { name: 'Waiting for the first frame' })).toBeVisible();
  const camera = (from: number, count: number): void =>
    void execFileSync(join(import.meta.dirname, '..', '..', 'zaddle'), ['camera', 'tether', '--room', 'kitchen', '--out', process.env.ZADDLE_TETHER!, '--every', '0', '--from', String(from), '--count', String(count)]);
  const live = page.getByTestId('live');
  camera(1, 1);
  await expect(live.getByRole('heading', { name: '1 frame' })).toBeVisible();
  // The window is white in the metered frame alone; a shorter one mends that.
  await expect(live.getByText('Still white')).toBeVisible();
  await expect(live.locator('.lacking rect.clipped').first()).toBeAttached();
  camera(2, 4);
  await expect(live.getByRole('heading', { name: '5 frames' })).toBeVisible();
  await expect(live.getByText('Still white')).toBeHidden();
  await expect(live.getByRole('img', { name: 'MILL0005.JPG' })).toBeVisible();
});
