import { readdir } from 'node:fs/promises';
import { join } from 'node:path';

const MAX_DEPTH = 8;

/** All plain files below a folder, in name order as people count. Hidden files and symbolic links are not followed. */
export async function listCard(folder: string, depth = 0): Promise<string[]> {
  if (depth > MAX_DEPTH) return [];
  const entries = await readdir(folder, { withFileTypes: true });
  entries.sort((a, b) => a.name.localeCompare(b.name, 'en', { numeric: true }));
  const files: string[] = [];
  for (const entry of entries) {
    if (entry.name.startsWith('.')) continue;
    const path = join(folder, entry.name);
    if (entry.isDirectory()) files.push(...(await listCard(path, depth + 1)));
    else if (entry.isFile()) files.push(path);
  }
  return files;
}
