import fs from 'node:fs';
import { syncBuiltinESMExports } from 'node:module';

/*
 * Loaded before anything else into a server's processes and their threads, and so no TypeScript: their clock is wrong, and their disk slow, by as much
 * as is written (`affliction.ts`) at a place that is read again and again. Time that is measured and not told by the clock (`performance.now`, timers)
 * goes on as it does when a machine's clock is put right. The database has its own clock and files; it stands for one on another machine.
 */

/** Milliseconds between looks at what is written. */
const LOOK = 50;
/** @type {import('./affliction').Affliction} */
let affliction = { clock: 0, disk: 0 };
const readSync = fs.readFileSync;
function read() {
  try {
    affliction = JSON.parse(readSync(process.env.ZADDLE_TORTURE_AFFLICTION, 'utf8'));
  } catch {
    // Nothing is written: it stays as it is.
  }
}
read();
setInterval(read, LOOK).unref();

const Clock = Date;
const told = () => Clock.now() + affliction.clock;
globalThis.Date = new Proxy(Clock, {
  construct: (target, given, made) => Reflect.construct(target, given.length === 0 ? [told()] : given, made),
  apply: () => new Clock(told()).toString(),
  get: (target, key) => (key === 'now' ? told : Reflect.get(target, key)),
});

const waited = () => new Promise((resolve) => setTimeout(resolve, affliction.disk));
/** What answers by a promise answers later. */
const laterAnswered = (ask) => async function (...given) {
  if (affliction.disk > 0) await waited();
  return ask.apply(this, given);
};
/** What calls back is asked later. */
const laterAsked = (ask) => function (...given) {
  if (affliction.disk === 0) return ask.apply(this, given);
  setTimeout(() => ask.apply(this, given), affliction.disk);
};
function slow(owner, names, later) {
  for (const name of names) owner[name] = later(owner[name]);
}

const handle = await fs.promises.open(new URL(import.meta.url), 'r');
const handles = Object.getPrototypeOf(handle);
await handle.close();
slow(handles, ['read', 'readFile', 'write', 'writev', 'writeFile', 'appendFile', 'sync', 'datasync', 'stat', 'truncate'], laterAnswered);
slow(fs.promises, ['access', 'appendFile', 'copyFile', 'link', 'lstat', 'mkdir', 'open', 'readdir', 'readFile', 'rename', 'rm', 'stat', 'statfs', 'unlink', 'utimes', 'writeFile'], laterAnswered);
slow(fs, ['close', 'fsync', 'open', 'read', 'write', 'writev'], laterAsked);
syncBuiltinESMExports();
