import { expect, test } from 'vitest';
import type { Reading } from '@zaddle/core/read/readings';
import { reportPage, type Reported } from '../src/commands/reportPage';

const reading = (kind: Reading['kind'], state: Reading['state'], text: string): Reading => ({ kind, value: 1, unit: '', state, text });
const report = (more: Partial<Reported> = {}): Reported => ({ title: 'Salt house <b>', shots: [], failed: [], rejected: [], ms: 64_000, out: '/a/pictures', beside: '/a', ...more });

test('shots are told where a hand would gain most first; what is well comes after', () => {
  const page = reportPage(report({
    shots: [
      { name: 'shot-01', frames: 3, files: ['shot-01.jpg'], readings: [reading('cast', 'good', 'Neutral.')] },
      { name: 'shot-02', frames: 1, files: ['shot-02-linear.tif', 'shot 02.webp'], readings: [reading('view', 'check', 'The view is bright.')] },
      { name: 'shot-03', frames: 5, files: ['shot-03.jpg'], readings: [reading('leaning', 'bad', 'Leans by 2°.'), reading('view', 'bad', 'White.')] },
    ],
  }));
  expect([...page.matchAll(/article id="([^"]+)"/g)].map(([, name]) => name)).toEqual(['shot-03', 'shot-02', 'shot-01']);
  expect(page).toContain('3 shots delivered · 2 may deserve a hand · 64 s');
  expect(page).toContain('<li class="bad">Leans by 2°.</li>');
  expect(page).not.toContain('Neutral.');
  // Pictures that a browser shows, from where they lie.
  expect([...page.matchAll(/<img src="([^"]+)"/g)].map(([, src]) => src)).toEqual(['pictures/shot-03.jpg', 'pictures/shot%2002.webp', 'pictures/shot-01.jpg']);
});

test('what failed and what was rejected is told with its reason; names of files are text, not markup', () => {
  const page = reportPage(report({ failed: [{ name: 'shot-04', files: ['<img src=x onerror=alert(1)>.JPG'], why: 'too "dark"' }], rejected: [{ file: 'a&b.JPG', why: 'no picture' }] }));
  expect(page).toContain('1 shot could not be made · 1 file rejected');
  expect(page).toContain('&#60;img src=x onerror=alert(1)&#62;.JPG');
  expect(page).toContain('a&#38;b.JPG');
  // Nothing but the page's own elements.
  expect(page.match(/<(img|script|b>Salt)/g)).toBeNull();
  expect(page).toContain('<title>Salt house &#60;b&#62;</title>');
});
