/** What stands in braces in the name of a file. */
export const NAME_TOKENS = ['property', 'room', 'number', 'date', 'frame', 'output', 'client'] as const;
export type NameToken = (typeof NAME_TOKENS)[number];

/** What names of a picture's files are made of. */
export interface NamedPicture {
  /** The shoot. */
  readonly property: string;
  /** The shot's label. */
  readonly room: string;
  /** Its place on the tour, from 1. */
  readonly number: number;
  /** When its reference was taken, YYYY-MM-DD. */
  readonly date: string;
  /** File of its reference. */
  readonly frame: string;
}

const TOKEN = /\{([^{}]*)\}/g;

/** Tokens of a pattern as they are written, with digits that a number is padded to: `{number:3}`. */
export const tokensOf = (pattern: string): { readonly token: string; readonly digits: number }[] => [...pattern.matchAll(TOKEN)].map(([, inside]) => {
  const [token, digits = ''] = inside.split(':');
  return { token: digits === '' || (token === 'number' && /^[1-6]$/.test(digits)) ? token : inside, digits: Number(digits) || 2 };
});

/** What an order gives to names: what it is called, and whom it is for. */
interface NamedBy {
  readonly output: string;
  readonly client?: string;
}

/** A pattern with its tokens told. */
export const told = (pattern: string, picture: NamedPicture, { output, client = '' }: NamedBy): string => pattern.replace(TOKEN, (as) => {
  const [{ token, digits }] = tokensOf(as);
  if (token === 'number') return String(picture.number).padStart(digits, '0');
  if (token === 'frame') return picture.frame.replace(/\.[^.]*$/, '');
  if (token === 'output') return output;
  if (token === 'client') return client;
  return token === 'property' || token === 'room' || token === 'date' ? picture[token] : as;
});

/** Longest name of a file, without its ending: some systems take 255 bytes in all. */
const LONGEST = 120;
/** Names that some systems have for devices. */
const DEVICE = /^(con|prn|aux|nul|com\d|lpt\d)$/i;

/** Text as a name that every system takes: letters and digits of any script, no path. */
export function safeName(text: string): string {
  const safe = Array.from(text.normalize('NFC').replace(/[^\p{L}\p{N} _-]+/gu, '').trim().replace(/\s+/g, '-')).slice(0, LONGEST).join('');
  return safe === '' ? 'picture' : DEVICE.test(safe) ? `${safe}-` : safe;
}

/** A name of an order as part of a file's. */
export const outputName = (name: string): string => safeName(name).toLowerCase();

/** A name, with a number where it is there already, and an ending. Case does not make files distinct everywhere. */
function distinct(name: string, taken: Set<string>, ending = ''): string {
  let free = `${name}${ending}`;
  for (let n = 2; taken.has(free.toLowerCase()); n++) free = `${name}-${n}${ending}`;
  taken.add(free.toLowerCase());
  return free;
}

/** An order as far as names go: what it is called, its pattern, and what its files end with. */
export interface NamingOrder {
  readonly name: string;
  /** Null: the room, and the order's name unless `alone`. */
  readonly naming: string | null;
  readonly extension: string;
  /** Whom it is for. */
  readonly client?: string;
  /** It is the plain one, whose files need no name of it. */
  readonly alone: boolean;
}

/**
 * Names of files of pictures by orders: the same for a picture whichever others are delivered with it, so all pictures of a shoot are to
 * be given. Rooms that are called alike are numbered in the order of the tour; what is alike all the same, too.
 * @param taken names that are given already, in lower case; those that are given now are added
 * @returns for each order, names in the order of `pictures`
 */
export function fileNames(pictures: readonly NamedPicture[], orders: readonly NamingOrder[], taken = new Set<string>()): string[][] {
  const rooms = new Set<string>();
  const numbered = pictures.map((picture) => ({ ...picture, room: distinct(safeName(picture.room), rooms) }));
  return orders.map(({ name, naming, extension, client, alone }) => {
    const pattern = naming ?? (alone ? '{room}' : '{room}-{output}');
    return numbered.map((picture) => distinct(safeName(told(pattern, picture, { output: outputName(name), client })), taken, `.${extension}`));
  });
}
