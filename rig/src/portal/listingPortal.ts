import { mkdir, readFile, rename, rm, stat, writeFile } from 'node:fs/promises';
import { createServer, type IncomingMessage, type ServerResponse } from 'node:http';
import type { AddressInfo } from 'node:net';
import { join } from 'node:path';
import { FileStore } from '@tus/file-store';
import { Server, type Upload } from '@tus/server';
import { Dice } from '../dice';
import { USUAL_RULES, whyRefused, type PictureRules } from './pictureRules';

/** How the site behaves on a bad day. */
export interface BadDay {
  /** Share of requests that fail: half of these are answered by 503, half are cut off in the middle. */
  readonly failing: number;
  /** Longest wait before a request is looked at, milliseconds. */
  readonly delay: number;
  readonly seed: number;
}
/** A picture that the site has taken. */
export interface Received {
  readonly reference: string;
  readonly name: string;
  readonly bytes: number;
  /** Where it lies. */
  readonly file: string;
  /** How often it came: the same picture again is acknowledged, and kept once. */
  readonly times: number;
}

const ENDPOINT = '/uploads';

/**
 * A stand-in for a listing site: it takes pictures by the open protocol for resumable uploads (tus 1.0.0) at `/uploads`, refuses those that are
 * not as it wants them with 422 and why, and lists what it has at `/received`. Each upload names its picture by the metadata `reference`.
 */
export class ListingPortal {
  private readonly received = new Map<string, Received>();
  private readonly http = createServer((request, response) => void this.answer(request, response));
  private readonly uploads: Server;
  private readonly dice: Dice;
  private noted = 0;

  private constructor(private readonly folder: string, private readonly rules: PictureRules, private readonly day: BadDay) {
    this.dice = new Dice(day.seed);
    // A file that is too large is refused with words when it is there; this only bounds what is written.
    this.uploads = new Server({ path: ENDPOINT, datastore: new FileStore({ directory: folder }), maxSize: 10 * rules.mostBytes, onUploadFinish: (_request, upload) => this.finish(upload) });
  }

  /** Opens the site on loopback. @param folder where pictures lie @param port 0: any */
  static async open(folder: string, port = 0, rules: PictureRules = USUAL_RULES, day: BadDay = { failing: 0, delay: 0, seed: 1 }): Promise<ListingPortal> {
    await mkdir(folder, { recursive: true });
    const portal = new ListingPortal(folder, rules, day);
    await portal.remember();
    await new Promise<void>((resolve, reject) => portal.http.once('error', reject).listen(port, '127.0.0.1', resolve));
    return portal;
  }

  /** Address that uploads go to. */
  get url(): string {
    return `http://127.0.0.1:${(this.http.address() as AddressInfo).port}${ENDPOINT}`;
  }

  get pictures(): readonly Received[] {
    return [...this.received.values()];
  }

  close(): Promise<void> {
    this.http.closeAllConnections();
    return new Promise((resolve) => this.http.close(() => resolve()));
  }

  /** Where it notes what it has taken, so that it knows after it was started again. */
  private get notes(): string {
    return join(this.folder, 'received.json');
  }
  private async remember(): Promise<void> {
    const text = await readFile(this.notes, 'utf8').catch(() => '[]');
    for (const each of JSON.parse(text) as Received[]) this.received.set(each.reference, each);
  }
  private async note(): Promise<void> {
    const whole = join(this.folder, `received-${this.noted++}.json`);
    await writeFile(whole, JSON.stringify(this.pictures));
    await rename(whole, this.notes);
  }

  private async finish(upload: Upload): Promise<{ status_code?: number; body?: string }> {
    const { reference, filename } = upload.metadata ?? {};
    const file = join(this.folder, upload.id);
    const refuse = async (why: string): Promise<never> => {
      // Nothing stays of it, so that whoever asks how far it is begins anew.
      await Promise.all([rm(file, { force: true }), rm(`${file}.json`, { force: true })]);
      // The library sends what is thrown.
      throw Object.assign(new Error(why), { status_code: 422, body: why });
    };
    if (!reference || !filename) return refuse('An upload needs the metadata reference and filename.');
    const bytes = (await stat(file)).size;
    const why = await whyRefused(file, bytes, this.rules);
    if (why) return refuse(why);
    const known = this.received.get(reference);
    if (known && known.file !== file) await rm(file, { force: true });
    this.received.set(reference, known ? { ...known, times: known.times + 1 } : { reference, name: filename, bytes, file, times: 1 });
    await this.note();
    return {};
  }

  private async answer(request: IncomingMessage, response: ServerResponse): Promise<void> {
    if (this.day.delay > 0) await new Promise((resolve) => setTimeout(resolve, this.day.delay * this.dice.between(0, 1)));
    if (request.method === 'GET' && request.url === '/received') return void response.writeHead(200, { 'Content-Type': 'application/json' }).end(JSON.stringify(this.pictures));
    const luck = this.dice.between(0, 1);
    if (luck < this.day.failing / 2) {
      request.resume();
      return void response.writeHead(503, { 'Content-Type': 'text/plain' }).end('Busy. Try again later.');
    }
    // Cut off after some of it has arrived, or before the answer is sent: the sender cannot tell which.
    if (luck < this.day.failing) setTimeout(() => request.socket.destroy(), 20 * this.dice.between(0, 1));
    await this.uploads.handle(request, response).catch(() => response.destroy());
  }
}
