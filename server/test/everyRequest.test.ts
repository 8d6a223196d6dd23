import { readdirSync, readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { expect, test } from 'vitest';
import { everyRequest, type Ids } from '../../rig/src/torture/everyRequest';

test('hostile requests are made of every route that there is', () => {
  const folder = fileURLToPath(new URL('../src/api', import.meta.url));
  const shape = (path: string): string => path.split('?')[0].replace(/:\w+/g, ':id');
  const routes = readdirSync(folder).flatMap((file) => [...readFileSync(`${folder}/${file}`, 'utf8').matchAll(/router\.(get|post|put|patch|delete)\('([^']+)'/g)].map(([, method, path]) => `${method.toUpperCase()} ${shape(path)}`));
  const ids = { shoot: 's', shot: 'k', frames: ['f', 'g'], hashes: [], document: { passes: [{ id: 'p', name: 'Base' }], frames: { f: {} }, lens: null } } as unknown as Ids;
  const asked = new Set(everyRequest(ids).map(({ method, path }) => `${method} ${shape(path)}`));
  expect(routes.length).toBeGreaterThan(80);
  expect(routes.filter((route) => !asked.has(route))).toEqual([]);
  expect([...asked].filter((route) => !routes.includes(route) && !/\/(health|events)$/.test(route))).toEqual([]);
});
