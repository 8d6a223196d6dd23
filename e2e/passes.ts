import type { Page } from '@playwright/test';
import { settled } from './canvas';

/** Adds a Tone pass above all others. */
export async function addTone(page: Page): Promise<void> {
  await page.locator('.strip .name').last().click();
  await page.keyboard.press('n');
  await page.getByRole('region', { name: 'Add a pass' }).getByRole('button', { name: 'Tone', exact: true }).click();
  await page.keyboard.press('Escape');
  await settled(page);
}
