import { spawn, execFileSync } from 'node:child_process';
import { chmodSync, mkdirSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

const ROOT = join(import.meta.dirname, '..');

/** Starts the whole application as a person would, empty, on a free port; shoots a demo card for the tests to drop, watches a folder for a tethered camera, and may deliver into another and to a listing site. */
export default async function serveForTests(): Promise<() => Promise<void>> {
  const folder = mkdtempSync(join(tmpdir(), 'zaddle-e2e-'));
  chmodSync(folder, 0o755);
  // Whoever runs all tests has shot it already.
  const card = process.env.ZADDLE_TEST_CARD || join(folder, 'card');
  if (!process.env.ZADDLE_TEST_CARD) execFileSync(join(ROOT, 'zaddle'), ['camera', 'demo', '--size', '1500', '--shots', 'sitting-room,kitchen', '--out', card], { stdio: 'inherit' });
  const tether = join(folder, 'tether');
  mkdirSync(tether);
  const delivered = join(folder, 'delivered');
  mkdirSync(delivered);
  const portal = spawn(join(ROOT, 'zaddle'), ['portal', '--out', join(folder, 'portal'), '--port', '0', '--failing', '0.2', '--delay', '50'], { stdio: ['ignore', 'pipe', 'inherit'] });
  const receiver = await new Promise<string>((resolve, reject) => {
    portal.stdout.on('data', (chunk: Buffer) => {
      const found = /pictures: (http\S+)/.exec(chunk.toString());
      if (found) resolve(found[1]);
    });
    portal.on('exit', (code) => reject(new Error(`zaddle portal ended with ${code}`)));
  });
  const server = spawn(join(ROOT, 'zaddle'), ['start', '--empty', '--port', '0', '--data', join(folder, 'data'), '--watch', tether, '--deliver-to', delivered, '--receiver', `Estuary lettings=${receiver}`], { stdio: ['ignore', 'pipe', 'inherit'] });
  const url = await new Promise<string>((resolve, reject) => {
    let said = '';
    server.stdout.on('data', (chunk: Buffer) => {
      said += chunk.toString();
      const found = /ready: (http\S+)/.exec(said);
      if (found) resolve(found[1]);
    });
    server.on('exit', (code) => reject(new Error(`zaddle start ended with ${code}: ${said}`)));
  });
  process.env.ZADDLE_URL = url;
  process.env.ZADDLE_CARD = card;
  process.env.ZADDLE_TETHER = tether;
  process.env.ZADDLE_DELIVERED = delivered;
  return async () => {
    portal.kill('SIGTERM');
    server.removeAllListeners('exit');
    await new Promise<void>((done) => {
      server.on('exit', () => done());
      server.kill('SIGINT');
    });
    rmSync(folder, { recursive: true, force: true });
  };
}
