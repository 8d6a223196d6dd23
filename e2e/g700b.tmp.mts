import { chromium } from '@playwright/test';
const browser = await chromium.launch({ executablePath: '/usr/bin/chromium', args: ['--no-sandbox','--disable-gpu','--disable-quic','--no-first-run','--disable-background-networking','--disable-component-update','--disable-sync'] });
const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
await page.addInitScript('globalThis.__name = (f) => f');
page.on('pageerror', (e) => console.log('ERR', e.message));
let asked = 0, got = 0; page.on('request', (r) => { if (r.url().includes('thumbnail')) asked++; }); page.on('requestfinished', (r) => { if (r.url().includes('thumbnail')) got++; });
const base = 'http://127.0.0.1:8499'; const [s] = await (await fetch(base + '/api/shoots')).json();
console.log('nodes', await page.evaluate(() => document.querySelectorAll('*').length));
await page.waitForTimeout(8000); await page.screenshot({ path: '/tmp/h3.png' });
await page.goto(base + '/shoots/' + s.id); await page.waitForTimeout(3000);
const list = await page.evaluate(async () => {
  const el = [...document.querySelectorAll('*')].filter((e) => e.scrollHeight > e.clientHeight + 200 && getComputedStyle(e).overflowY !== 'visible').sort((a, b) => b.scrollHeight - a.scrollHeight)[0] as HTMLElement;
  const times: number[] = []; let last = performance.now(); let y = 0;
  await new Promise<void>((done) => { const step = () => { const now = performance.now(); times.push(now - last); last = now; y += 120; el.scrollTop = y; if (y < Math.min(el.scrollHeight, 15000)) requestAnimationFrame(step); else done(); }; requestAnimationFrame(step); });
  times.sort((a, b) => a - b); return { median: times[times.length >> 1], p95: times[Math.floor(times.length * 0.95)], worst: times[times.length - 1], n: times.length };
});
console.log(list, 'requested', asked, 'answered', got); const q0 = Date.now(); for (let k = 0; k < 40; k++) { const left = await page.evaluate(() => [...document.querySelectorAll('figure img')].filter((i) => { const r = i.getBoundingClientRect(); return r.bottom > 130 && r.top < 800 && !(i as HTMLImageElement).complete; }).length); const blank = await page.evaluate(() => document.querySelectorAll('figure .blank').length); console.log(Date.now() - q0, 'incomplete in view', left, 'blank', blank, 'asked', asked, 'got', got); if (left + blank === 0) break; await page.waitForTimeout(200); } await page.waitForTimeout(700); await page.screenshot({ path: '/tmp/h4.png' });
await page.goto(base + '/shoots/' + s.id); await page.waitForTimeout(2500); await page.screenshot({ path: '/tmp/h5.png' }); await browser.close();
