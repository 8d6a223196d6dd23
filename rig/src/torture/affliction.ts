import fs from 'node:fs';

/** What a process and all that it starts suffer from. */
export interface Affliction {
  /** By how much its clock is wrong, milliseconds: ahead where positive. */
  readonly clock: number;
  /** How much longer the disk takes for each thing that is asked of it, milliseconds. */
  readonly disk: number;
}
export const SOUND: Affliction = { clock: 0, disk: 0 };

/** What the environment of a process tells that it and all that it starts suffer from what is written at a place. */
export const afflictedBy = (path: string): { readonly NODE_OPTIONS: string; readonly ZADDLE_TORTURE_AFFLICTION: string } => ({ NODE_OPTIONS: `--import ${new URL('./afflicted.mjs', import.meta.url).href}`, ZADDLE_TORTURE_AFFLICTION: path });

/** Writes an affliction so that nobody reads half of it. */
export function writeAffliction(path: string, affliction: Affliction): void {
  fs.writeFileSync(`${path}.new`, JSON.stringify(affliction));
  fs.renameSync(`${path}.new`, path);
}

/** Reads an affliction; sound where none is written. */
export function readAffliction(path: string): Affliction {
  try {
    return JSON.parse(fs.readFileSync(path, 'utf8')) as Affliction;
  } catch {
    return SOUND;
  }
}
