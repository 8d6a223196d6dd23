import { createReadStream } from 'node:fs';
import { rm } from 'node:fs/promises';
import type { Readable } from 'node:stream';
import { buffer } from 'node:stream/consumers';
import yauzl, { type Entry, type ZipFile } from 'yauzl';
import type { ServerWorkshop } from '../jobs/workshop';
import { announceIn } from '../data/events';
import { releaseFiles } from '../data/frames';
import type { Derived, FileStore } from '../data/fileStore';
import { MAX_FILE, PlainError } from '../picture/limits';
import { anyTaken, checkRecord, newIds, renamed, renameRecord, writeShootRecord, type ShootRecord } from './shootRecord';
import { FRAMES_FOLDER, KEPT_FOLDER, RECORD, type ArchiveList } from './writeArchive';

/** Largest list of a shoot, bytes: a thousand frames with years of history are a tenth of it. */
const MOST_RECORD = 400_000_000;
/** Most entries of an archive. */
const MOST_ENTRIES = 200_000;
/** What is taken in of what was kept of frames and shots. */
const KEPT: readonly Derived[] = ['proxy', 'half', 'structure', 'thumbnail', 'found', 'delivery'];

const open = (path: string): Promise<ZipFile> => new Promise((resolve, reject) => yauzl.open(path, { lazyEntries: true, autoClose: false }, (error, zip) => (error ? reject(new PlainError('This file is no archive, or not all of it arrived. Send it again.', { cause: error })) : resolve(zip))));
const read = (zip: ZipFile, entry: Entry): Promise<Readable> => new Promise((resolve, reject) => zip.openReadStream(entry, (error, stream) => (error ? reject(error) : resolve(stream))));

/** All entries of an archive by their paths. @throws PlainError where it is damaged */
function entriesOf(zip: ZipFile): Promise<Map<string, Entry>> {
  const entries = new Map<string, Entry>();
  return new Promise((resolve, reject) => {
    zip.on('entry', (entry: Entry) => {
      entries.set(entry.fileName, entry);
      if (entries.size > MOST_ENTRIES) return reject(new PlainError('This archive has more files than a shoot can have.'));
      zip.readEntry();
    });
    zip.on('end', () => resolve(entries));
    zip.on('error', (error: Error) => reject(new PlainError('This archive is damaged. Send it again, or take another copy of it.', { cause: error })));
    zip.readEntry();
  });
}

/** Which files of the store an archive has, each with the id that it gets here. */
function keptIn(entries: ReadonlyMap<string, Entry>, record: ShootRecord, ids: ReadonlyMap<string, string>): { entry: Entry; kind: Derived; id: string }[] {
  const own = new Set((['frames', 'shots', 'deliveries'] as const).flatMap((table) => (record.tables[table] ?? []).map(({ id }) => String(id))));
  return [...entries].flatMap(([path, entry]) => {
    const [, kind, id] = new RegExp(`^${KEPT_FOLDER}([a-z]+)/([0-9a-f-]+)$`).exec(path) ?? [];
    const name = id === undefined ? '' : renamed(id, ids);
    // Only what belongs to a row that comes along, so that nothing of another shoot is written over.
    return KEPT.includes(kind as Derived) && own.has(name.slice(0, 36)) ? [{ entry, kind: kind as Derived, id: name }] : [];
  });
}

/** Takes in what was kept. Findings name frames within. */
async function takeKept(store: FileStore, zip: ZipFile, kept: readonly { entry: Entry; kind: Derived; id: string }[], ids: ReadonlyMap<string, string>): Promise<void> {
  for (const { entry, kind, id } of kept) {
    if (entry.uncompressedSize > MAX_FILE * 4) throw new PlainError('This archive holds a file that is larger than any of a shoot.');
    if (kind === 'delivery') {
      await store.takeDerived(kind, id, await store.putIncoming(await read(zip, entry), entry.uncompressedSize));
    } else {
      const data = await buffer(await read(zip, entry));
      await store.putDerived(kind, id, kind === 'found' ? Buffer.from(renamed(data.toString('latin1'), ids), 'latin1') : data);
    }
  }
}

/**
 * Makes a shoot of an archive. It keeps its ids where they are free, as on another machine, so that its pictures are the same to the byte; else all of
 * it gets new ones. Files come first: a shoot that is listed is whole.
 * @param stream the archive @returns id of the shoot, and how many frames came without their files
 * @throws PlainError where it is damaged; nothing is listed then
 */
export async function restoreArchive(workshop: ServerWorkshop, stream: Readable, limit: number): Promise<{ readonly id: string; readonly withoutFiles: number }> {
  const { database, store } = workshop;
  const path = await store.putIncoming(stream, limit);
  let zip: ZipFile | null = null;
  let wanted: readonly string[] = [];
  try {
    zip = await open(path);
    const entries = await entriesOf(zip);
    const head = entries.get(RECORD);
    if (!head || head.uncompressedSize > MOST_RECORD) throw new PlainError('This file is no archive of a shoot.');
    const list = parsed(await buffer(await read(zip, head)));
    checkRecord(list);
    const ids = (await anyTaken(database.manager, list)) ? newIds(list) : new Map<string, string>();
    const record = renameRecord({ format: list.format, version: list.version, tables: list.tables, colours: list.colours ?? [] }, ids);
    wanted = [...new Set((record.tables.frames ?? []).map((frame) => String(frame.sha256)))];
    await takeOriginals(store, zip, entries, list.originals, new Set(wanted));
    await takeKept(store, zip, keptIn(entries, record, ids), ids);
    const [shoot] = record.tables.shoots;
    await database.transaction(async (manager) => {
      await writeShootRecord(manager, record, String(shoot.name));
      await announceIn(manager, { kind: 'shoot', shoot: String(shoot.id) });
    });
    const there = await Promise.all(wanted.map((file) => store.hasOriginal(file)));
    return { id: String(shoot.id), withoutFiles: there.filter((has) => !has).length };
  } catch (error) {
    // What came of it belongs to no shoot.
    await releaseFiles(workshop, wanted);
    throw error;
  } finally {
    zip?.close();
    await rm(path, { force: true });
  }
}

function parsed(json: Buffer): ArchiveList {
  try {
    return JSON.parse(json.toString('utf8')) as ArchiveList;
  } catch (error) {
    throw new PlainError('This archive is damaged: its list cannot be read. Send it again, or take another copy of it.', { cause: error });
  }
}

/** Takes frames' files in, each held against its SHA-256. */
async function takeOriginals(store: FileStore, zip: ZipFile, entries: ReadonlyMap<string, Entry>, originals: ArchiveList['originals'], wanted: ReadonlySet<string>): Promise<void> {
  for (const { path, sha256 } of Array.isArray(originals) ? originals : []) {
    const entry = entries.get(String(path));
    if (!entry || !String(path).startsWith(FRAMES_FOLDER) || !wanted.has(sha256) || (await store.hasOriginal(sha256))) continue;
    if (!(await store.putKnownOriginal(await read(zip, entry), MAX_FILE, sha256))) throw new PlainError(`${path} in this archive is damaged. Take another copy of it.`);
  }
}

/** Makes a second shoot of one that is here: all work on it, under new ids; its frames' files are shared. @returns its id */
export async function duplicateShoot({ database, store }: ServerWorkshop, record: ShootRecord, files: readonly { readonly kind: string; readonly id: string }[]): Promise<string> {
  const ids = newIds(record);
  const copy = renameRecord(record, ids);
  const [shoot] = copy.tables.shoots;
  for (const { kind, id } of files) {
    if (kind === 'original') continue;
    const target = renamed(id, ids);
    if (kind === 'found') await store.putDerived('found', target, Buffer.from(renamed((await store.readDerived('found', id)).toString('latin1'), ids), 'latin1'));
    else {
      await store.takeDerived(kind as Derived, target, await store.putIncoming(createReadStream(store.derived(kind as Derived, id)), Infinity));
    }
  }
  await database.transaction(async (manager) => {
    await writeShootRecord(manager, copy, `${String(shoot.name).slice(0, 110)}, copy`);
    await announceIn(manager, { kind: 'shoot', shoot: String(shoot.id) });
  });
  return String(shoot.id);
}
