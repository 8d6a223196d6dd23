import { expect, test } from '@playwright/test';
import sharp from 'sharp';
import { address, cardToDrop } from '../shoot';

test('T12: a card with a file that is cut off, ordered before it is read; the page is closed, and everything is delivered', async ({ page, request }) => {
  await page.goto(address());
  await page.getByRole('button', { name: 'New shoot' }).click();
  await page.getByLabel('Name').fill('Eel house');
  await page.getByRole('button', { name: 'Make the shoot' }).click();
  await expect(page.getByText('Drop a camera card')).toBeVisible();
  await page.waitForURL(/shoots\/[0-9a-f]/);
  const shoot = page.url().split('/shoots/')[1].split(/[/?]/)[0];
  // Nothing is there to be ordered.
  await expect(page.getByRole('button', { name: 'Deliver when ready' })).toHaveCount(0);
  const { count, transfer } = await cardToDrop(page);
  await page.getByTestId('gather').dispatchEvent('drop', { dataTransfer: transfer });

  await page.getByRole('button', { name: 'Orders: Full size' }).click();
  await page.getByRole('checkbox', { name: /^Listing/ }).check();
  await page.getByRole('checkbox', { name: /^Full size/ }).uncheck();
  await page.keyboard.press('Escape');
  await page.getByRole('button', { name: 'Deliver when ready' }).click();
  await expect(page.getByText('Will be delivered as soon as all is there: Listing. You can close this page.')).toBeVisible();
  // Thought better of, and once more.
  await page.getByRole('button', { name: 'Not then' }).click();
  await page.getByRole('button', { name: 'Deliver when ready' }).click();
  await expect(page.getByRole('button', { name: 'Not then' })).toBeVisible();
  await expect.poll(async () => ((await (await request.get(address(`api/shoots/${shoot}`))).json()) as { frames: unknown[] }).frames.length).toBe(count);
  await page.goto('about:blank');

  // Nobody looks.
  const shots = async (): Promise<{ id: string; state: string }[]> => ((await (await request.get(address(`api/shoots/${shoot}`))).json()) as { shots: { id: string; state: string }[] }).shots;
  const delivered = async (): Promise<{ id: string; shotId: string; state: string; order: string }[]> => {
    const own = new Set((await shots()).map(({ id }) => id));
    return ((await (await request.get(address('api/deliveries'))).json()) as { id: string; shotId: string; state: string; order: string }[]).filter(({ shotId }) => own.has(shotId));
  };
  await expect.poll(async () => (await delivered()).map(({ order, state }) => `${order} ${state}`), { timeout: 400_000 }).toEqual(['listing done', 'listing done', 'listing done']);
  for (const { id } of await delivered()) {
    const { width = 0, height = 0 } = await sharp(await (await request.get(address(`api/deliveries/${id}/file`))).body()).metadata();
    expect(Math.max(width, height) / Math.min(width, height)).toBeCloseTo(4 / 3, 2);
  }

  // What came of it, and what was refused.
  await page.goto(address(`shoots/${shoot}`));
  await expect(page.getByText('Delivered as ordered beforehand (Listing); shots that come later will be, too.')).toBeVisible();
  await expect(page.getByLabel('Rejected files')).toContainText('CUT.JPG: damaged or cut off');
  await page.getByRole('button', { name: 'No more' }).click();
  await expect(page.getByText('Delivered as ordered beforehand')).toHaveCount(0);
  await expect(page.getByRole('button', { name: 'Deliver all 3 shots' })).toBeVisible();
});
