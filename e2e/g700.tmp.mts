import { chromium } from '@playwright/test';
const browser = await chromium.launch({ executablePath: '/usr/bin/chromium', args: ['--no-sandbox','--disable-gpu','--disable-quic','--no-first-run','--disable-background-networking','--disable-component-update','--disable-sync'] });
const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
await page.addInitScript('globalThis.__name = (f) => f');
page.on('pageerror', (e) => console.log('ERR', e.message));
const base = 'http://127.0.0.1:8499'; const [s] = await (await fetch(base + '/api/shoots')).json();
let t = Date.now(); await page.goto(base + '/shoots/' + s.id); await page.locator('img').first().waitFor(); console.log('first picture', Date.now() - t, 'ms');
await page.waitForTimeout(2500); await page.screenshot({ path: '/tmp/g1.png' });
console.log('nodes', await page.evaluate(() => document.querySelectorAll('*').length), 'images', await page.evaluate(() => document.images.length));
// frame times while scrolling
const list = await page.evaluate(async () => {
  const el = [...document.querySelectorAll('*')].filter((e) => e.scrollHeight > e.clientHeight + 200 && getComputedStyle(e).overflowY !== 'visible').sort((a, b) => b.scrollHeight - a.scrollHeight)[0] as HTMLElement;
  const times: number[] = []; let last = performance.now(); let y = 0;
  await new Promise<void>((done) => { const step = () => { const now = performance.now(); times.push(now - last); last = now; y += 120; el.scrollTop = y; if (y < Math.min(el.scrollHeight, 15000)) requestAnimationFrame(step); else done(); }; requestAnimationFrame(step); });
  times.sort((a, b) => a - b); return { class: el.className, height: el.scrollHeight, median: times[times.length >> 1], p95: times[Math.floor(times.length * 0.95)], worst: times[times.length - 1], n: times.length };
});
console.log(list); await page.waitForTimeout(1500); await page.screenshot({ path: '/tmp/g2.png' });
await page.keyboard.press('ArrowRight'); const k0 = Date.now(); for (let k = 0; k < 20; k++) await page.keyboard.press('ArrowRight'); console.log('20 keys', Date.now() - k0, 'ms');
await page.keyboard.press('Enter'); await page.waitForTimeout(1500); await page.screenshot({ path: '/tmp/g3.png' });
const r0 = Date.now(); for (let k = 0; k < 10; k++) { await page.keyboard.press('ArrowRight'); } await page.waitForTimeout(200); console.log('10 in review', Date.now() - r0);
await browser.close();
