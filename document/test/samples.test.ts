import { readdirSync, readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { describe, expect, test } from 'vitest';
import { applyCommand, openMix, type MixDocument } from '../src';
import { CURRENT_VERSION } from '../src/mixDocument';

const folder = fileURLToPath(new URL('samples', import.meta.url));
const sample = (version: number): Record<string, unknown> => JSON.parse(readFileSync(`${folder}/mix-${version}.json`, 'utf8')) as Record<string, unknown>;
const versions = Array.from({ length: CURRENT_VERSION }, (_, k) => k + 1);

/** What a document says in fields that it had: those that came later are not looked at. */
function expectKept(old: unknown, now: unknown, at: string): void {
  if (old === null || typeof old !== 'object') return void expect([at, now]).toEqual([at, old]);
  if (Array.isArray(old)) expect([at, (now as unknown[]).length]).toEqual([at, old.length]);
  for (const [key, value] of Object.entries(old)) if (!(at === '' && key === 'version')) expectKept(value, (now as Record<string, unknown>)[key], `${at}/${key}`);
}

describe('documents of earlier versions, as they were kept', () => {
  test('there is a sample of each', () => {
    expect(readdirSync(folder).sort()).toEqual(versions.map((version) => `mix-${version}.json`));
    for (const version of versions) expect(sample(version).version).toBe(version);
  });
  test.each(versions)('version %i opens, says what it said, and can be worked on', (version) => {
    const old = sample(version);
    const mix = openMix(structuredClone(old));
    expect(mix.version).toBe(CURRENT_VERSION);
    expectKept(old, mix, '');
    const { id, opacity } = mix.passes[0];
    const { document, inverse } = applyCommand(mix, { kind: 'changePass', id, changes: { opacity: opacity / 2 } });
    expect(document.passes[0].opacity).toBe(opacity / 2);
    expect(applyCommand(document, inverse).document).toEqual(mix satisfies MixDocument);
    // Written and read once more it is the same.
    expect(openMix(JSON.parse(JSON.stringify(mix)))).toEqual(mix);
  });
  test('one of a version to come is refused in words', () => {
    expect(() => openMix({ ...sample(CURRENT_VERSION), version: CURRENT_VERSION + 1 })).toThrow(/Update it/);
  });
});
