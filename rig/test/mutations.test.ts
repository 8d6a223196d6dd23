import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, expect, test } from 'vitest';
import { mutated, mutationsOf } from '../src/mutation/mutations';
import { nearestTests } from '../src/mutation/nearestTests';

const folder = mkdtempSync(join(tmpdir(), 'zaddle-mutations-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));

test('each constant and each sign is one change; texts, types and imports are none', () => {
  const source = [
    "import { log2Of } from './log2Of';",
    'type Side = -1 | 0 | 1;',
    'const SOFT = 0.25;',
    'export const f = (a: number, name: string): string => { let b = -a + 0; b -= 1_000; return name + `${b} px` + \'2\'; };',
  ].join('\n');
  const found = mutationsOf(source);
  expect(found.map(({ line, was, becomes }) => `${line} ${was} ${becomes}`)).toEqual(['3 0.25 0.5', '4 -a (a)', '4 + -', '4 0 1', '4 -= +=', '4 1_000 2000']);
  expect(mutated(source, found[2])).toContain('let b = -a - 0;');
  for (const each of found) expect(mutated(source, each)).not.toBe(source);
});

test('tests that import a source themselves are asked first, then those that import what imports it; of those as near, the one of its name and those of little else', () => {
  const path = (name: string): string => join(folder, name);
  const put = (name: string, text: string): string => { mkdirSync(join(path(name), '..'), { recursive: true }); writeFileSync(path(name), text); return path(name); };
  const deep = put('src/light/deep.ts', 'export const deep = 1;');
  const near = put('src/near.ts', "import { deep } from './light/deep';\nexport const near = deep;");
  const far = put('src/far.ts', "import { near } from './near';\nexport { deep } from './light/deep';\nexport const far = near;");
  const unseen = put('src/unseen.ts', 'export const unseen = 1;');
  const ofNear = put('test/near.test.ts', "import { near } from '../src/near';\nimport { expect } from 'vitest';");
  const ofFar = put('test/far.test.ts', "import { far } from '../src/far';");
  const ofAll = put('test/all.test.ts', "import { far } from '../src/far';\nimport { near } from '../src/near';");
  const found = nearestTests([deep, near, far, unseen], [ofAll, ofFar, ofNear]);
  expect(Object.fromEntries(found)).toEqual({ [near]: [ofNear, ofAll, ofFar], [far]: [ofFar, ofAll], [deep]: [ofFar, ofNear, ofAll] });
});
