import { expect, test, type Page } from '@playwright/test';
import { spawn } from 'node:child_process';
import { copyFileSync, chmodSync, mkdirSync, mkdtempSync, readdirSync, renameSync, rmSync } from 'node:fs';
import { createServer } from 'node:net';
import { networkInterfaces, tmpdir } from 'node:os';
import { join } from 'node:path';
import AxeBuilder from '@axe-core/playwright';

const ZADDLE = join(import.meta.dirname, '..', '..', 'zaddle');
/** An address of this computer that browsers do not trust as they trust loopback, where it has one. */
const HOST = Object.values(networkInterfaces()).flat().find((found) => found && !found.internal && found.family === 'IPv4')?.address ?? '127.0.0.1';
const freePort = (): Promise<number> => new Promise((resolve) => {
  const server = createServer().listen(0, HOST, () => { const { port } = server.address() as { port: number }; server.close(() => resolve(port)); });
});

const seriousFaults = async (page: Page): Promise<string[]> => (await new AxeBuilder({ page }).analyze()).violations.filter((v) => v.impact === 'serious' || v.impact === 'critical').map((v) => v.id);

test('a tablet comes in over the network by a key, and follows the camera live, until the key is revoked', async ({ page, browser }) => {
  test.setTimeout(240_000);
  const folder = mkdtempSync(join(tmpdir(), 'zaddle-network-'));
  chmodSync(folder, 0o755);
  const tether = join(folder, 'tether');
  mkdirSync(tether);
  const port = await freePort();
  const server = spawn(ZADDLE, ['start', '--empty', '--port', '0', '--data', join(folder, 'data'), '--watch', tether, '--listen', `${HOST}:${port}`], { stdio: ['ignore', 'pipe', 'inherit'] });
  try {
    let said = '';
    const home = await new Promise<string>((resolve, reject) => {
      server.stdout.on('data', (chunk: Buffer) => {
        said += chunk.toString();
        const found = /ready: (http\S+)/.exec(said);
        if (found && said.includes('by key')) resolve(found[1]);
      });
      server.on('exit', (code) => reject(new Error(`zaddle start ended with ${code}: ${said}`)));
    });
    const there = `http://${HOST}:${port}/`;
    expect(said).toContain(there);

    await page.goto(home);
    await page.getByRole('button', { name: 'Network: open' }).click();
    await expect(page.getByRole('dialog')).toContainText(there);
    await expect(page.getByRole('dialog')).toContainText('not encrypted');
    await page.getByLabel('A key for').fill('Tablet');
    await page.getByRole('button', { name: 'Make', exact: true }).click();
    const secret = (await page.getByRole('region', { name: 'The new key' }).locator('code').first().textContent())!;
    expect(await seriousFaults(page)).toEqual([]);

    const tablet = await (await browser.newContext({ viewport: { width: 1024, height: 768 } })).newPage();
    await tablet.goto(`${there}live`);
    await expect(tablet.getByRole('heading', { name: 'asks for a key' })).toBeVisible();
    await tablet.getByLabel('Key').fill('0'.repeat(20));
    await tablet.keyboard.press('Enter');
    await expect(tablet.getByRole('alert')).toContainText('no key of this server');
    expect(await seriousFaults(tablet)).toEqual([]);
    await tablet.getByLabel('Key').fill(secret);
    await tablet.keyboard.press('Enter');
    await expect(tablet.getByRole('button', { name: 'Over the network' })).toBeVisible();
    await tablet.getByRole('link', { name: 'Live' }).click();
    await expect(tablet.getByText('Waiting for the first frame')).toBeVisible();
    const [first] = readdirSync(process.env.ZADDLE_CARD!).filter((name) => /\.jpe?g$/i.test(name)).sort();
    copyFileSync(join(process.env.ZADDLE_CARD!, first), join(folder, first));
    renameSync(join(folder, first), join(tether, first));
    // Told by the server: nobody loads the page anew.
    await expect(tablet.getByTestId('live')).toContainText(first, { timeout: 60_000 });
    await expect(tablet.getByRole('img', { name: first })).toHaveJSProperty('complete', true);

    await page.getByRole('button', { name: 'Revoke Tablet' }).click();
    await page.getByRole('dialog', { name: 'Revoke Tablet?' }).getByRole('button', { name: 'Revoke' }).click();
    await expect(page.getByRole('row', { name: /Tablet/ })).toHaveCount(0);
    await tablet.reload();
    await expect(tablet.getByRole('heading', { name: 'asks for a key' })).toBeVisible();
  } finally {
    server.removeAllListeners('exit');
    await new Promise<void>((done) => {
      server.on('exit', () => done());
      server.kill('SIGINT');
    });
    rmSync(folder, { recursive: true, force: true });
  }
});
