import type { ErrorRequestHandler, RequestHandler } from 'express';
import Joi, { type Schema } from 'joi';
import { InvalidMix, wholeText } from '@zaddle/document';
import { isAway } from '../data/patientDatabase';
import { PlainError } from '../picture/limits';
import { isFull } from '../jobs/failures';
import { TooLarge } from '../data/fileStore';

/** An error as RFC 9457 tells it: what is wrong, and in `detail` what to do. */
export class Problem extends Error {
  /** @param more what a program needs to go on, beside the words. */
  constructor(readonly status: number, readonly title: string, readonly detail: string, readonly more: Readonly<Record<string, unknown>> = {}) {
    super(title);
  }
}

export const notFound = (what: string): Problem => new Problem(404, 'Not found', `There is no such ${what}. It may have been removed; reload the page.`);

/** Ids as we make them; the database takes other spellings for the same, or chokes on them. */
const UUID = /^[0-9a-f]{8}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{12}$/;
export const uuid = Joi.string().pattern(UUID, 'id');
export const isUuid = (id: unknown): id is string => typeof id === 'string' && UUID.test(id);
/** Text that a person typed: something, and nothing but text. */
export const typed = (longest: number): Joi.StringSchema => Joi.string().trim().max(longest).custom(wholeText);

/** A time that a calendar and a database can hold. */
export function inReach(value: string, helpers: Joi.CustomHelpers): string | Joi.ErrorReport {
  const year = new Date(value).getUTCFullYear();
  return year >= 1970 && year < 2200 ? value : helpers.message({ custom: '{{#label}} must be a time between 1970 and 2200' });
}

/** Validates a body, which must be there. @throws Problem 400 naming the field. */
export function valid<T>(schema: Schema<T>, body: unknown): T {
  const { error, value } = schema.required().validate(body, { convert: false, abortEarly: true });
  if (error) throw new Problem(400, 'Invalid request', error.message);
  return value as T;
}

const asProblem = (error: unknown): Problem => {
  if (error instanceof Problem) return error;
  if (error instanceof InvalidMix) return new Problem(422, 'Not a valid change', error.message);
  if (error instanceof TooLarge) return new Problem(413, 'File too large', error.message);
  if (error instanceof PlainError) return new Problem(422, 'Not possible', error.message);
  if (isAway(error)) return new Problem(503, 'Database away', 'The database is being started again. Nothing is lost; try again in a moment.');
  // What no column can hold: class 22 of PostgreSQL's error codes.
  if (/^22[0-9A-Z]{3}$/.test((error as { code?: string }).code ?? '')) return new Problem(400, 'Invalid request', 'A value in the request cannot be stored.');
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
  response.status(problem.status).set('Cache-Control', 'no-store').type('application/problem+json').send(JSON.stringify({ type: 'about:blank', title: problem.title, status: problem.status, detail: problem.detail, ...problem.more }));
};

const LOCAL = /^(localhost|127\.0\.0\.1|\[::1\])(:(\d{1,5}))?$/;
const isLocal = (host: string): boolean => Number(LOCAL.exec(host)?.[3] ?? 80) <= 65535 && LOCAL.test(host);

/**
 * Refuses requests that come by way of a foreign name or page: DNS rebinding and cross-site requests. Pages of other
 * programs on this machine are foreign, too.
 */
export const localOnly: RequestHandler = (request, _response, next) => {
  const { origin, host = '' } = request.headers;
  const site = request.headers['sec-fetch-site'];
  // A person may follow a link to our pages from anywhere.
  const visit = request.method === 'GET' && !request.path.startsWith('/api') && request.headers['sec-fetch-mode'] === 'navigate';
  if (!isLocal(host) || (origin && origin !== `http://${host}`) || (site && site !== 'same-origin' && site !== 'none' && !visit)) {
    return next(new Problem(403, 'Foreign request', 'This server answers only its own pages on this machine.'));
  }
  next();
};

/** Types of bodies that a form of another page can send without asking. */
const SIMPLE = /^(text\/plain|application\/x-www-form-urlencoded|multipart\/form-data)\b/i;

/**
 * Requests that change something carry a header that no form of another page can send: a content type of ours, or
 * `X-Requested-With` where there is no body.
 */
export const notAForm: RequestHandler = (request, _response, next) => {
  const type = request.headers['content-type'] ?? '';
  if (request.method === 'GET' || request.method === 'HEAD' || request.headers['x-requested-with'] || (type !== '' && !SIMPLE.test(type))) return next();
  next(new Problem(403, 'Header missing', 'A request that changes something needs the content type application/json, or the header X-Requested-With.'));
};
