import type { ErrorRequestHandler, RequestHandler } from 'express';
import type { Schema } from 'joi';
import { InvalidMix } from '@zaddle/document';
import { isFull } from '../jobs/failures';
import { TooLarge } from '../data/fileStore';

/** An error as RFC 9457 tells it: what is wrong, and in `detail` what to do. */
export class Problem extends Error {
  constructor(readonly status: number, readonly title: string, readonly detail: string) {
    super(title);
  }
}

export const notFound = (what: string): Problem => new Problem(404, 'Not found', `There is no such ${what}. It may have been removed; reload the page.`);

/** Validates a body. @throws Problem 400 naming the field. */
export function valid<T>(schema: Schema<T>, body: unknown): T {
  const { error, value } = schema.validate(body, { convert: false, abortEarly: true });
  if (error) throw new Problem(400, 'Invalid request', error.message);
  return value as T;
}

const asProblem = (error: unknown): Problem => {
  if (error instanceof Problem) return error;
  if (error instanceof InvalidMix) return new Problem(422, 'Not a valid change', error.message);
  if (error instanceof TooLarge) return new Problem(413, 'File too large', error.message);
  if (isFull(error)) return new Problem(507, 'No room', 'The disk of this server is full. Make room and drop the files again: those that are there already are not sent twice.');
  const status = (error as { status?: number }).status;
  if (status && status < 500) return new Problem(status, 'Invalid request', (error as Error).message);
  return new Problem(500, 'Something went wrong here', 'Nothing was lost. Try again; the server log tells more.');
};

/** Turns whatever was thrown into a problem document. */
export const problems: ErrorRequestHandler = (error, request, response, next) => {
  if (response.headersSent) return next(error);
  const problem = asProblem(error);
  if (problem.status >= 500) process.stderr.write(`${request.method} ${request.path}: ${(error as Error).stack}\n`);
  response.status(problem.status).type('application/problem+json').send(JSON.stringify({ type: 'about:blank', title: problem.title, status: problem.status, detail: problem.detail }));
};

const LOCAL = /^(localhost|127\.0\.0\.1|\[::1\])(:\d+)?$/;

/** Refuses requests that come by way of a foreign name or page: DNS rebinding and cross-site requests. */
export const localOnly: RequestHandler = (request, _response, next) => {
  const origin = request.headers.origin;
  if (!LOCAL.test(request.headers.host ?? '') || (origin && !LOCAL.test(origin.replace(/^https?:\/\//, '')))) {
    return next(new Problem(403, 'Foreign request', 'This server answers only its own pages on this machine.'));
  }
  next();
};
