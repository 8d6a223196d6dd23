import { readFileSync } from 'node:fs';
import { expect, test } from '@playwright/test';
import exifr from 'exifr';
import sharp, { type Sharp } from 'sharp';
import { canvasPixels, meanIn, onScreen, screenPixels, settled } from '../canvas';
import { asShot, cardToDrop } from '../shoot';

const address = (path = ''): string => process.env.ZADDLE_URL! + path;

test('the whole way: drop a card, open a shot, move a fader, paint, undo, reload, redo, deliver, open the file', async ({ page }) => {
  const problems: string[] = [];
  page.on('pageerror', (error) => problems.push(error.message));

  await page.goto(address());
  await page.getByRole('button', { name: 'New shoot' }).click();
  await page.getByLabel('Name').fill('Tide mill');
  await page.getByRole('button', { name: 'Make the shoot' }).click();
  await expect(page.getByText('Drop a camera card')).toBeVisible();

  // A real drop event with real files, one of them cut off.
  const { transfer } = await cardToDrop(page);
  await page.getByTestId('gather').dispatchEvent('drop', { dataTransfer: transfer });
  const doing = page.getByRole('status').filter({ hasText: /^(Reading|Sorting|Lining up)/ });
  await expect(doing).toBeVisible();
  await expect(page.getByRole('link', { name: 'Open at the desk' })).toHaveCount(3, { timeout: 300_000 });
  await expect(doing).toHaveCount(0);
  await expect(page.getByLabel('Rejected files')).toContainText('CUT.JPG: damaged or cut off');
  await expect(page.getByRole('region', { name: 'Shot 1' }).locator('figure')).toHaveCount(7);

  // Dropping the same card again sends only what could not be read, to have it tried again, and changes nothing.
  await page.getByTestId('gather').dispatchEvent('drop', { dataTransfer: transfer });
  await expect(page.getByText('11 were here already')).toBeVisible();
  await expect(page.locator('figure')).toHaveCount(11);

  await page.getByRole('region', { name: 'Shot 1' }).getByRole('link', { name: 'Open at the desk' }).click();
  await settled(page);
  // Places are those of the reference; how pictures are straightened is told elsewhere.
  await asShot(page.request, page.url().split('/shots/')[1]);
  await page.reload();
  await settled(page);
  const first = await canvasPixels(page);
  expect([first.width, first.height]).toEqual([1500, 1000]);

  // A fader, moved by keyboard: everything gets darker by the ambient's share.
  const strip = page.getByRole('group', { name: 'Pass View', exact: true });
  await strip.locator('.name').click();
  const fader = page.getByLabel('View: exposure in stops');
  await fader.focus();
  for (let k = 0; k < 20; k++) await page.keyboard.press('ArrowDown');
  await settled(page);
  const faded = await canvasPixels(page);
  const [vx, vy] = [660, 480];
  expect(meanIn(faded, vx, vy, 20)).toBeLessThan(meanIn(first, vx, vy, 20) - 15);
  expect(Math.abs(meanIn(faded, 200, 800, 20) - meanIn(first, 200, 800, 20))).toBeLessThan(0.01);

  // A stroke that hides the view pass in the middle of the window.
  await page.keyboard.press('o');
  await expect(page.getByText('Less of “View”')).toBeVisible();
  const from = await onScreen(page, vx - 40, vy + 10);
  const to = await onScreen(page, vx + 60, vy + 10);
  await page.mouse.move(...from);
  await page.mouse.down();
  await page.mouse.move((from[0] + to[0]) / 2, from[1], { steps: 6 });
  await page.mouse.move(...to, { steps: 6 });
  await page.mouse.up();
  await expect(page.getByText('Brush, 1 stroke')).toBeVisible();
  await settled(page);
  const painted = await canvasPixels(page);
  expect(meanIn(painted, vx, vy, 20)).toBeGreaterThan(meanIn(faded, vx, vy, 20) + 20);

  // Undo the stroke, reload the page, redo it: the history lies on the server.
  await page.keyboard.press('Escape');
  await page.keyboard.press('Control+z');
  await expect(page.getByText('Brush, 1 stroke')).toBeHidden();
  await page.reload();
  await settled(page);
  expect((await canvasPixels(page)).data.equals(faded.data)).toBe(true);
  await page.getByRole('button', { name: 'Redo' }).click();
  await expect(page.getByRole('button', { name: 'Redo' })).toBeDisabled();
  await settled(page);
  const redone = await canvasPixels(page);
  expect(redone.data.equals(painted.data)).toBe(true);
  const screen = await screenPixels(page);

  // Deliver and open the file.
  await page.getByRole('button', { name: 'Deliver' }).click();
  const row = page.locator('tr[data-state]').first();
  await expect(row).toHaveAttribute('data-state', 'done', { timeout: 300_000 });
  const download = page.waitForEvent('download');
  await row.getByRole('link', { name: 'Download' }).click();
  const file = readFileSync((await (await download).path())!);
  const meta = await sharp(file).metadata();
  expect([meta.width, meta.height, meta.hasProfile]).toEqual([1500, 1000, true]);
  const exif = await exifr.parse(meta.exif!.subarray(6));
  expect(exif.Software).toBe('Zaddle');
  expect(exif.DateTimeOriginal.toISOString()).toContain('2026-06-11');

  // What is seen is what is delivered: both at one third, away from edges.
  const small = (input: Sharp): Promise<Buffer> => input.resize(500, 333, { kernel: 'cubic', fit: 'fill' }).raw().toBuffer();
  const seen = await small(sharp(screen.data, { raw: { width: screen.width, height: screen.height, channels: 3 } }));
  const delivered = await small(sharp(file).toColourspace('srgb'));
  let sum = 0;
  let calmOnes = 0;
  let apart = 0;
  const around = [-3, -2, -1, 0, 1, 2, 3].flatMap((row) => [-3, -2, -1, 0, 1, 2, 3].map((column) => row * 1500 + column * 3));
  for (let i = 0; i < seen.length; i++) {
    const difference = Math.abs(seen[i] - delivered[i]);
    sum += difference;
    // JPEG rings within its 8-pixel blocks, which are three pixels at this size: so far counts as an edge's neighbourhood.
    const inside = i % 1500 > 9 && i % 1500 < 1490 && i > 6000 && i < seen.length - 6000;
    const calm = inside && around.every((by) => Math.abs(seen[i + by] - seen[i]) < 10);
    if (!calm) continue;
    calmOnes++;
    if (difference > 4) apart++;
  }
  // Edges are sharpened within the span of their neighbours, which lie closer together at full size.
  expect(sum / seen.length).toBeLessThanOrEqual(1.2);
  expect(calmOnes).toBeGreaterThan(0.1 * seen.length);
  expect(apart / calmOnes).toBeLessThanOrEqual(0.001);
  expect(problems).toEqual([]);
});

test('a ramp limits a pass, faders of drags repaint at once, looks switch by key', async ({ page }) => {
  await page.goto(address());
  await page.locator('.shoot-row').filter({ hasText: 'Tide mill' }).first().click();
  await page.getByRole('region', { name: 'Shot 3' }).getByRole('link', { name: 'Open at the desk' }).click();
  await settled(page);
  const before = await canvasPixels(page);

  // A ramp on the tone pass, from left to right: the left side loses the tone, the right side keeps it.
  await page.getByRole('group', { name: 'Pass Tone' }).locator('.name').click();
  await page.keyboard.press('r');
  await page.mouse.move(...(await onScreen(page, 300, 500)));
  await page.mouse.down();
  await page.mouse.move(...(await onScreen(page, 1200, 500)), { steps: 8 });
  await page.mouse.up();
  await expect(page.locator('.area .named', { hasText: 'Ramp' })).toBeVisible();
  await settled(page);
  const ramped = await canvasPixels(page);
  expect(Math.abs(meanIn(ramped, 60, 700, 40) - meanIn(before, 60, 700, 40))).toBeGreaterThan(1.5);
  expect(Math.abs(meanIn(ramped, 1400, 700, 40) - meanIn(before, 1400, 700, 40))).toBeLessThan(0.6);

  // Dragging a slider shows at once what it will be, before anything is saved.
  await page.keyboard.press('Escape');
  const slider = page.getByLabel('Saturation', { exact: true });
  const box = (await slider.boundingBox())!;
  await page.mouse.move(box.x + box.width / 2, box.y + box.height / 2);
  await page.mouse.down();
  await page.mouse.move(box.x + 3, box.y + box.height / 2, { steps: 5 });
  await expect(page.getByTestId('stage')).toHaveAttribute('data-settled', 'false');
  await page.mouse.up();
  await settled(page);
  const grey = await canvasPixels(page);
  const at = (700 * grey.width + 1400) * 3;
  expect(Math.max(...grey.data.subarray(at, at + 3)) - Math.min(...grey.data.subarray(at, at + 3))).toBeLessThan(14);

  // Before shows the reference as shot; pressing again comes back.
  await page.keyboard.press('b');
  await expect(page.getByText('Before: the reference as shot')).toBeVisible();
  await settled(page);
  expect((await canvasPixels(page)).data.equals(grey.data)).toBe(false);
  await page.keyboard.press('b');
  await settled(page);
  expect((await canvasPixels(page)).data.equals(grey.data)).toBe(true);

  // 1:1 puts one picture pixel on one screen pixel.
  await page.keyboard.press('e');
  await expect(page.getByTestId('stage')).toHaveAttribute('data-scale', '1');
});

test('a spot limits a pass where it is drawn; a version is kept, gone back to, and that is undone', async ({ page }) => {
  await page.goto(address());
  await page.locator('.shoot-row').filter({ hasText: 'Tide mill' }).first().click();
  await page.getByRole('region', { name: 'Shot 3' }).getByRole('link', { name: 'Open at the desk' }).click();
  await settled(page);
  await page.getByRole('group', { name: 'Pass Tone' }).locator('.name').click();
  // What was drawn on it before goes: it is everywhere.
  await page.getByRole('button', { name: 'Remove Ramp' }).click();
  await settled(page);
  const before = await canvasPixels(page);
  await page.keyboard.press('t');
  await page.mouse.move(...(await onScreen(page, 700, 500)));
  await page.mouse.down();
  await page.mouse.move(...(await onScreen(page, 900, 500)), { steps: 5 });
  await page.mouse.up();
  await expect(page.locator('.area .named', { hasText: 'Spot' })).toBeVisible();
  await page.keyboard.press('Escape');
  await settled(page);
  const spotted = await canvasPixels(page);
  expect(Math.abs(meanIn(spotted, 700, 500, 20) - meanIn(before, 700, 500, 20))).toBeLessThan(0.6);
  expect(Math.abs(meanIn(spotted, 60, 700, 40) - meanIn(before, 60, 700, 40))).toBeGreaterThan(1.5);

  await page.getByRole('button', { name: 'Versions' }).click();
  // Letters that are typed are a name, not keys of the desk.
  await page.getByLabel('Keep this state as').fill('With a spot');
  await page.getByLabel('Keep this state as').press('Enter');
  await expect(page.getByText('With a spot')).toBeVisible();
  await page.keyboard.press('Escape');
  await page.getByRole('button', { name: 'Remove Spot' }).click();
  await expect(page.locator('.area .named', { hasText: 'Spot' })).toBeHidden();
  await settled(page);
  expect((await canvasPixels(page)).data.equals(before.data)).toBe(true);
  await page.getByRole('button', { name: 'Versions (1)' }).click();
  await page.getByRole('button', { name: 'Go back to it' }).click();
  await expect(page.locator('.area .named', { hasText: 'Spot' })).toBeVisible();
  await settled(page);
  expect((await canvasPixels(page)).data.equals(spotted.data)).toBe(true);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.locator('.area .named', { hasText: 'Spot' })).toBeHidden();

  // A name can be typed anew; Escape leaves it.
  await page.getByRole('button', { name: 'Versions (1)' }).click();
  await page.getByRole('button', { name: 'With a spot', exact: true }).click();
  await page.getByLabel('New name of With a spot').fill('Not this');
  await page.getByLabel('New name of With a spot').press('Escape');
  await expect(page.getByLabel('New name of With a spot')).toBeHidden();
  await page.keyboard.press('Escape');
  await expect(page.getByLabel('Keep this state as')).toBeHidden();
  await page.getByRole('button', { name: 'Versions (1)' }).click();
  await page.getByRole('button', { name: 'With a spot', exact: true }).click();
  await page.getByLabel('New name of With a spot').fill('Spot on the wall');
  await page.getByLabel('New name of With a spot').press('Enter');
  await expect(page.getByRole('button', { name: 'Spot on the wall', exact: true })).toBeVisible();
  await page.keyboard.press('Escape');
  await expect(page.getByLabel('Keep this state as')).toBeHidden();

  // Throwing a version away is asked first; kept, it is still there.
  await page.getByRole('button', { name: 'Versions (1)' }).click();
  await page.getByRole('button', { name: 'Throw away Spot on the wall' }).click();
  await page.getByRole('dialog', { name: 'Throw away “Spot on the wall”?' }).getByRole('button', { name: 'Keep' }).click();
  await page.getByRole('button', { name: 'Versions (1)' }).click();
  await page.getByRole('button', { name: 'Throw away Spot on the wall' }).click();
  await page.getByRole('dialog', { name: 'Throw away “Spot on the wall”?' }).getByRole('button', { name: 'Throw away' }).click();
  await expect(page.getByRole('button', { name: 'Versions', exact: true })).toBeVisible();
});
