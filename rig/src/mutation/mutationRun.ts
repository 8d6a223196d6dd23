import { spawn } from 'node:child_process';
import { cpSync, mkdtempSync, readdirSync, readFileSync, rmSync, symlinkSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join, relative } from 'node:path';
import { Dice } from '../dice';
import { mutated, mutationsOf, type Mutation } from './mutations';
import { nearestTests } from './nearestTests';

/** What became of one change. */
interface Tried {
  readonly file: string;
  readonly mutation: Mutation;
  /** How the tests noticed it; `not` where they did not. */
  readonly noticed: 'failed' | 'hung' | 'not';
  readonly tests: readonly string[];
}
interface MutationReport {
  readonly seed: number;
  readonly tried: number;
  readonly noticed: number;
  readonly share: number;
  /** Of each folder of the core: changes that were noticed, and all. */
  readonly folders: Readonly<Record<string, readonly [number, number]>>;
  /** Changes that no test noticed, as `file:line was -> becomes`. */
  readonly missed: readonly string[];
}

/** Milliseconds after which tests hang that took less before. */
const LONGEST = 240_000;
/** Test files that are asked of one change at once, and how many times as many, further and further off, before it counts as missed. */
const ASKED = 4;
const TIMES = 3;

const filesBelow = (folder: string): string[] => readdirSync(folder, { recursive: true, withFileTypes: true }).filter((entry) => entry.isFile() && entry.name.endsWith('.ts')).map((entry) => join(entry.parentPath, entry.name)).sort();

/** Runs tests in a folder. @returns whether they passed; null: they did not end */
function testsPass(folder: string, tests: readonly string[]): Promise<boolean | null> {
  return new Promise((resolve) => {
    const child = spawn(process.execPath, [join(folder, 'node_modules', 'vitest', 'vitest.mjs'), 'run', '--root', folder, ...tests], { cwd: folder, stdio: 'ignore', detached: true });
    const hangs = setTimeout(() => { process.kill(-child.pid!, 'SIGKILL'); resolve(null); }, LONGEST);
    child.on('exit', (code) => { clearTimeout(hangs); resolve(code === 0); });
  });
}

/** A copy of the core and its tests that may be changed; what it stands on is the project's own. @param root of the project */
function copyOfCore(root: string): string {
  const folder = mkdtempSync(join(tmpdir(), 'zaddle-mutation-'));
  for (const name of ['package.json', 'tsconfig.json']) cpSync(join(root, name), join(folder, name));
  cpSync(join(root, 'core'), join(folder, 'core'), { recursive: true });
  for (const name of ['node_modules', 'kernels', 'document']) symlinkSync(join(root, name), join(folder, name));
  writeFileSync(join(folder, 'vitest.config.ts'), `export default { test: { include: ['core/test/**/*.test.ts'], setupFiles: [${JSON.stringify(join(root, 'rig/test/propertySeed.ts'))}], bail: 1, testTimeout: ${LONGEST} } };\n`);
  return folder;
}

/**
 * Changes a constant or a sign of the core at random, one at a time, and asks the tests nearest to it whether they notice. The same seed
 * makes the same changes of the same sources.
 * @param root of the project @param tell told of each change @throws Error where tests fail with nothing changed
 */
export async function runMutations(root: string, count: number, seed: number, tell: (words: string) => void): Promise<MutationReport> {
  const folder = copyOfCore(root);
  try {
    const sources = filesBelow(join(folder, 'core', 'src'));
    const tests = nearestTests(sources, filesBelow(join(folder, 'core', 'test')).filter((path) => path.endsWith('.test.ts')));
    const all = sources.filter((path) => tests.has(path)).flatMap((path) => mutationsOf(readFileSync(path, 'utf8')).map((mutation) => ({ path, mutation })));
    const dice = new Dice(seed);
    const tried: Tried[] = [];
    /** Tests that were seen to pass where nothing is changed. */
    const sound = new Set<string>();
    while (tried.length < Math.min(count, all.length)) {
      const { path, mutation } = all.splice(all.indexOf(dice.pick(all)), 1)[0];
      const source = readFileSync(path, 'utf8');
      const asked: string[] = [];
      let noticed: Tried['noticed'] = 'not';
      for (let time = 0; time < TIMES && noticed === 'not'; time++) {
        const next = tests.get(path)!.slice(time * ASKED, (time + 1) * ASKED);
        if (next.length === 0) break;
        asked.push(...next);
        const fresh = next.filter((test) => !sound.has(test));
        if (fresh.length > 0 && !(await testsPass(folder, fresh))) throw new Error(`Nothing is changed, and yet some of these fail: ${fresh.map((test) => relative(folder, test)).join(', ')}. Mend them first.`);
        for (const test of fresh) sound.add(test);
        writeFileSync(path, mutated(source, mutation));
        const pass = await testsPass(folder, next).finally(() => writeFileSync(path, source));
        noticed = pass === null ? 'hung' : pass ? 'not' : 'failed';
      }
      tried.push({ file: relative(folder, path), mutation, noticed, tests: asked.map((test) => relative(folder, test)) });
      tell(`${tried.length} of ${count}: ${words(tried.at(-1)!)}: ${noticed === 'not' ? `not noticed by ${tried.at(-1)!.tests.join(', ')}` : noticed}`);
    }
    const noticed = tried.filter((each) => each.noticed !== 'not').length;
    return { seed, tried: tried.length, noticed, share: noticed / Math.max(1, tried.length), folders: byFolder(tried), missed: tried.filter((each) => each.noticed === 'not').map(words) };
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
}

function byFolder(tried: readonly Tried[]): Record<string, readonly [number, number]> {
  const out: Record<string, [number, number]> = {};
  for (const { file, noticed } of tried) {
    const of = (out[dirname(relative('core/src', file))] ??= [0, 0]);
    if (noticed !== 'not') of[0]++;
    of[1]++;
  }
  return out;
}

const words = ({ file, mutation: { line, was, becomes } }: Tried): string => `${file}:${line} ${was} -> ${becomes}`;
