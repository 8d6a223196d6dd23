/** How far an upload is. */
export interface UploadProgress {
  readonly total: number;
  readonly done: number;
  /** Files that the server had already. */
  readonly known: number;
  readonly failed: readonly { readonly name: string; readonly why: string }[];
}

const PARALLEL = 3;

/** Null on a page that came over a line which is not encrypted: browsers compute none there. */
async function sha256(file: File): Promise<string | null> {
  if (!crypto.subtle) return null;
  const digest = await crypto.subtle.digest('SHA-256', await file.arrayBuffer());
  return Array.from(new Uint8Array(digest), (byte) => byte.toString(16).padStart(2, '0')).join('');
}

async function isKnown(shoot: string, hash: string): Promise<boolean> {
  const response = await fetch(`/api/shoots/${shoot}/frames/known`, { method: 'POST', headers: { 'Content-Type': 'application/json' }, body: JSON.stringify({ hashes: [hash] }) });
  return response.ok && ((await response.json()) as { known: string[] }).known.length > 0;
}

async function problemOf(response: Response): Promise<string> {
  const problem = (await response.json().catch(() => null)) as { detail?: string } | null;
  return problem?.detail ?? `refused (${response.status})`;
}

/**
 * Sends files to a shoot, a few at a time. Files are known by their content: dropping the same card again sends only
 * what is missing, so an upload that broke off goes on where it stopped.
 */
export async function uploadFiles(shoot: string, files: readonly File[], onProgress: (progress: UploadProgress) => void): Promise<UploadProgress> {
  let progress: UploadProgress = { total: files.length, done: 0, known: 0, failed: [] };
  const step = (change: Partial<UploadProgress>): void => onProgress((progress = { ...progress, done: progress.done + 1, ...change }));
  const queue = [...files];
  const sender = async (): Promise<void> => {
    for (let file = queue.shift(); file; file = queue.shift()) {
      try {
        const hash = await sha256(file);
        if (hash !== null && (await isKnown(shoot, hash))) {
          step({ known: progress.known + 1 });
          continue;
        }
        const response = await fetch(`/api/shoots/${shoot}/frames?name=${encodeURIComponent(file.name)}`, { method: 'POST', headers: { 'Content-Type': 'application/octet-stream' }, body: file });
        if (!response.ok) throw new Error(await problemOf(response));
        step({});
      } catch (error) {
        step({ failed: [...progress.failed, { name: file.name, why: (error as Error).message }] });
      }
    }
  };
  onProgress(progress);
  await Promise.all(Array.from({ length: PARALLEL }, sender));
  return progress;
}

/** Files of a drop, folders entered. */
export async function filesOfDrop(transfer: DataTransfer): Promise<File[]> {
  const entries = [...transfer.items].map((item) => item.webkitGetAsEntry()).filter((entry) => entry !== null);
  if (entries.length === 0) return [...transfer.files];
  const files: File[] = [];
  const enter = async (entry: FileSystemEntry): Promise<void> => {
    if (entry.name.startsWith('.')) return;
    if (entry.isFile) {
      files.push(await new Promise<File>((resolve, reject) => (entry as FileSystemFileEntry).file(resolve, reject)));
      return;
    }
    const reader = (entry as FileSystemDirectoryEntry).createReader();
    for (;;) {
      const batch = await new Promise<FileSystemEntry[]>((resolve, reject) => reader.readEntries(resolve, reject));
      if (batch.length === 0) return;
      for (const child of batch) await enter(child);
    }
  };
  for (const entry of entries) await enter(entry);
  return files;
}
