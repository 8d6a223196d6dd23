import { readFileSync } from 'node:fs';
import { dirname, resolve } from 'node:path';

const IMPORTED = /(?:from|import)\s*\(?\s*'(\.[^']+)'/g;

/** Source files that a file imports by a relative path. */
function importsOf(path: string): string[] {
  return [...readFileSync(path, 'utf8').matchAll(IMPORTED)].map(([, name]) => resolve(dirname(path), name.endsWith('.ts') ? name : `${name}.ts`));
}

/**
 * The tests that are nearest to each source by what imports what: those that import it themselves, else those that import what imports
 * it, and so on.
 * @param sources,tests absolute paths @returns for each source that any test reaches
 */
export function nearestTests(sources: readonly string[], tests: readonly string[]): ReadonlyMap<string, readonly string[]> {
  const known = new Set(sources);
  const imports = new Map([...sources, ...tests].map((path) => [path, importsOf(path).filter((other) => known.has(other))]));
  const nearest = new Map<string, { readonly away: number; readonly tests: string[] }>();
  for (const test of tests) {
    const seen = new Set<string>();
    for (let [layer, away] = [imports.get(test)!, 1]; layer.length > 0; away++) {
      const fresh = [...new Set(layer)].filter((path) => !seen.has(path));
      for (const path of fresh) {
        seen.add(path);
        const before = nearest.get(path);
        if (!before || away < before.away) nearest.set(path, { away, tests: [test] });
        else if (away === before.away) before.tests.push(test);
      }
      layer = fresh.flatMap((path) => imports.get(path)!);
    }
  }
  return new Map([...nearest].map(([path, found]) => [path, found.tests]));
}
