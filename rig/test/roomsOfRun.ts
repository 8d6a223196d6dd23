import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { TestProject } from 'vitest/node';

declare module 'vitest' {
  interface ProvidedContext {
    /** Folder in which files of tests leave rooms for each other; it lasts as long as the run. */
    rooms: string;
  }
}

export default function makeFolder(project: TestProject): () => void {
  const folder = mkdtempSync(join(tmpdir(), 'zaddle-rooms-'));
  project.provide('rooms', folder);
  return () => rmSync(folder, { recursive: true });
}
