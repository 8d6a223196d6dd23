import yazl from 'yazl';
import type { FileStore } from '../data/fileStore';
import type { ShootFile } from './shootFiles';
import type { ShootRecord } from './shootRecord';

/** The list of a shoot within its archive. */
export const RECORD = 'shoot.json';
/** Folders of an archive. */
export const FRAMES_FOLDER = 'frames/';
export const KEPT_FOLDER = 'kept/';

/** What an archive says of itself: the record, and which of its files is which frame's. */
export interface ArchiveList extends ShootRecord {
  /** Originals by their place in the archive. */
  readonly originals: readonly { readonly path: string; readonly sha256: string }[];
}

/** Where originals lie in an archive: by the names that the camera gave them, so that the archive is of use without this program, too. */
function originalPaths(files: readonly ShootFile[]): Map<string, string> {
  const taken = new Set<string>();
  const paths = new Map<string, string>();
  for (const file of files) {
    if (file.kind !== 'original') continue;
    const plain = file.name.replace(/[^\p{L}\p{N}._ -]+/gu, '_').replace(/^\.+/, '') || 'frame';
    const name = taken.has(plain.toLowerCase()) ? `${file.id.slice(0, 8)}-${plain}` : plain;
    taken.add(name.toLowerCase());
    paths.set(file.id, `${FRAMES_FOLDER}${name}`);
  }
  return paths;
}

/** An archive of a shoot, ZIP, as a stream. Small pictures and findings go along so that the desk opens at once; compressed pictures are stored as they are. */
export function writeArchive(store: FileStore, record: ShootRecord, files: readonly ShootFile[]): NodeJS.ReadableStream {
  const archive = new yazl.ZipFile();
  const paths = originalPaths(files);
  const list: ArchiveList = { ...record, originals: [...paths].map(([sha256, path]) => ({ sha256, path })) };
  archive.addBuffer(Buffer.from(JSON.stringify(list)), RECORD);
  for (const file of files) {
    if (file.kind === 'original') archive.addFile(store.original(file.id), paths.get(file.id)!, { compress: false });
    else archive.addFile(store.derived(file.kind, file.id), `${KEPT_FOLDER}${file.kind}/${file.id}`, { compress: file.kind !== 'delivery' && file.kind !== 'thumbnail' });
  }
  archive.end();
  return archive.outputStream;
}
