import { readFileSync } from 'node:fs';
import { basename, dirname, resolve } from 'node:path';

const IMPORTED = /(?:from|import)\s*\(?\s*'(\.[^']+)'/g;

/** Source files that a file imports by a relative path. */
function importsOf(path: string): string[] {
  return [...readFileSync(path, 'utf8').matchAll(IMPORTED)].map(([, name]) => resolve(dirname(path), name.endsWith('.ts') ? name : `${name}.ts`));
}

/** How a test stands to a source. */
interface Reach {
  readonly test: string;
  /** Imports between the two; 1: the test imports it itself. */
  readonly away: number;
  /** Sources that the test imports itself: of few, it looks at each more closely. */
  readonly breadth: number;
}

const nameOf = (path: string): string => basename(path).replace(/(\.test)?\.ts$/, '').toLowerCase();

/**
 * The tests that reach each source by what imports what, the nearest first: those that import it themselves, then those that import what imports it, and
 * so on; of those as near, one that has its name, then those that import little else.
 * @param sources,tests absolute paths @returns for each source that any test reaches
 */
export function nearestTests(sources: readonly string[], tests: readonly string[]): ReadonlyMap<string, readonly string[]> {
  const known = new Set(sources);
  const imports = new Map([...sources, ...tests].map((path) => [path, importsOf(path).filter((other) => known.has(other))]));
  const reached = new Map<string, Reach[]>();
  for (const test of tests) {
    const seen = new Set<string>();
    const breadth = new Set(imports.get(test)!).size;
    for (let [layer, away] = [imports.get(test)!, 1]; layer.length > 0; away++) {
      const fresh = [...new Set(layer)].filter((path) => !seen.has(path));
      for (const path of fresh) {
        seen.add(path);
        reached.set(path, [...(reached.get(path) ?? []), { test, away, breadth }]);
      }
      layer = fresh.flatMap((path) => imports.get(path)!);
    }
  }
  return new Map([...reached].map(([source, all]) => {
    const named = ({ test }: Reach): number => (nameOf(test) === nameOf(source) ? 0 : 1);
    return [source, [...all].sort((a, b) => a.away - b.away || named(a) - named(b) || a.breadth - b.breadth || a.test.localeCompare(b.test)).map(({ test }) => test)];
  }));
}
