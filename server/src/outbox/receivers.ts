/** Addresses that pictures may be sent to, by the names that a person knows them by. */
export type Receivers = Readonly<Record<string, string>>;

const NAME = /^[\p{L}\p{N}][\p{L}\p{N} ._-]{0,39}$/u;

/** Receivers as they are given at the command line, `name=address`. @throws Error in words for a person */
export function receiversOf(given: readonly string[]): Receivers {
  return Object.fromEntries(given.map((text) => {
    const at = text.indexOf('=');
    const [name, address] = [text.slice(0, at).trim(), text.slice(at + 1).trim()];
    if (at < 1 || !NAME.test(name) || name === '__proto__') throw new Error(`“${text}” is no receiver: give a name and an address, such as "Estuary lettings=http://127.0.0.1:8491/uploads".`);
    const { protocol } = URL.canParse(address) ? new URL(address) : { protocol: '' };
    if (protocol !== 'http:' && protocol !== 'https:') throw new Error(`The address of ${name} must begin with http:// or https://.`);
    return [name, address];
  }));
}

/** Receivers that whoever started the server named, told to workers by their surroundings: addresses never come from a page. */
export const receivers = (): Receivers => JSON.parse(process.env.ZADDLE_RECEIVERS || '{}') as Receivers;
