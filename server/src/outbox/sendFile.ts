import { createReadStream } from 'node:fs';
import { stat } from 'node:fs/promises';
import { Upload, type DetailedError } from 'tus-js-client';

/** What is sent, and how it is known there. */
export interface Sending {
  readonly file: string;
  readonly name: string;
  /** The same for the same picture, however often it is sent. */
  readonly reference: string;
  /** Where an upload that was begun goes on; null: none was. */
  readonly url: string | null;
}
/** What came of it: taken; refused for good, in the receiver's words; or worth another try. */
export type Sent = { readonly kind: 'taken' } | { readonly kind: 'refused'; readonly why: string } | { readonly kind: 'later'; readonly why: string };

/** Bytes that go in one request: what is lost when it is cut off. */
const PART = 4 << 20;
/** Longest words of a receiver that are kept. */
const WORDS = 300;
/** Pauses before further tries within one go, milliseconds. */
const PAUSES = [300, 1000, 3000];
/** Answers that another try may change: the upload is gone there or taken by another request, or the receiver has enough to do. */
const PASSING = [404, 408, 409, 410, 423, 425, 429, 460];

function outcome(error: Error | DetailedError): Sent {
  const answer = 'originalResponse' in error ? error.originalResponse : null;
  const status = answer?.getStatus() ?? 0;
  const words = (answer?.getBody() ?? '').replace(/\p{Cc}+/gu, ' ').trim().slice(0, WORDS);
  if (status >= 400 && status < 500 && !PASSING.includes(status)) return { kind: 'refused', why: words || `It answers ${status}.` };
  return { kind: 'later', why: status === 0 ? 'it does not answer' : words || `it answers ${status}` };
}

/**
 * Sends a file by the open protocol for resumable uploads (tus 1.0.0), going on where an earlier try ended.
 * @param begun called with the place where it can be gone on with, before any of it is sent
 */
export async function sendFile(endpoint: string, { file, name, reference, url }: Sending, begun: (url: string) => Promise<void>): Promise<Sent> {
  const { size } = await stat(file);
  return new Promise((resolve) => {
    const upload: Upload = new Upload(createReadStream(file) as never, {
      endpoint, uploadUrl: url, uploadSize: size, chunkSize: PART, retryDelays: PAUSES, metadata: { filename: name, reference },
      onShouldRetry: (error) => outcome(error).kind === 'later',
      onUploadUrlAvailable: () => void begun(upload.url!).catch(() => undefined),
      onSuccess: () => resolve({ kind: 'taken' }),
      onError: (error) => resolve(outcome(error)),
    });
    upload.start();
  });
}
