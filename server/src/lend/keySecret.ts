import { createHash, randomBytes, timingSafeEqual } from 'node:crypto';

/** 120 bits, in groups that can be read out and typed. */
const BYTES = 15;
const GROUP = 5;
const FORM = /^[0-9a-f]{5}(-[0-9a-f]{5}){5}$/;

/** A key that nobody guesses: `3f09a-…`, six groups of five. */
export const newSecret = (): string => randomBytes(BYTES).toString('hex').match(new RegExp(`.{${GROUP}}`, 'g'))!.join('-');

/** A key as it is kept. One of 120 random bits needs no slow hash: there are too many to try. */
export const hashOf = (secret: string): string => createHash('sha256').update(`zaddle key ${secret}`).digest('hex');

/** A key as a person may have typed it. @returns null where it is none */
export function typedSecret(text: string): string | null {
  const secret = text.trim().toLowerCase();
  return FORM.test(secret) ? secret : null;
}

/** Whether a key is the one that was kept; takes as long for any other. */
export const isSecret = (secret: string, hash: string): boolean => timingSafeEqual(Buffer.from(hashOf(secret), 'hex'), Buffer.from(hash, 'hex'));

/** The database role that goes with a key for work. */
export const roleOf = (hash: string): string => `lends_${hash.slice(0, 16)}`;

/** How a computer that has a key for work comes into the database: known to it by itself, and kept nowhere. */
export const loginOf = (secret: string): { readonly role: string; readonly password: string } => ({ role: roleOf(hashOf(secret)), password: createHash('sha256').update(`zaddle database ${secret}`).digest('hex') });
