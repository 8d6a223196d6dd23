/** A shot, by what its room is told. */
export interface RoomMember {
  readonly id: string;
  readonly label: string;
  /** Things that others show as well (`matchViews`), by their ids. */
  readonly shows: Readonly<Record<string, number>>;
}

/** The room of a shot: as its label names it, or numbered where only what is seen tells. */
export interface TheRoom {
  readonly name: string;
  /** Told by what the picture shows, and by no label of its own. */
  readonly seen: boolean;
}

/** Things that two pictures of one room have in common, at least: anywhere in a shoot, and one right after the other. Pictures of different rooms of ours had ten at most. */
const SURE = 12;
const IN_A_ROW = 11;

/** The room that a shot's label names: the label without the number that tells shots of one room apart; null: it names none. */
export function roomOf(label: string): string | null {
  const room = label.trim().replace(/[\s\-–—_]*\d+$|[\s\-–—_]+[a-d]$/iu, '').trim().toLocaleLowerCase();
  return room === '' || room === 'shot' ? null : room;
}

/** Pairs of members that show the same place, the surest first. */
function links(members: readonly RoomMember[]): { readonly a: number; readonly b: number; readonly things: number }[] {
  const at = new Map(members.map(({ id }, k) => [id, k]));
  const found = members.flatMap(({ shows }, a) => Object.entries(shows).flatMap(([id, things]) => {
    const b = at.get(id);
    return b === undefined ? [] : [{ a, b, things }];
  }));
  return found.filter(({ a, b, things }) => things >= (Math.abs(b - a) === 1 ? IN_A_ROW : SURE)).sort((p, q) => q.things - p.things);
}

/**
 * The rooms of shots. What a person called a room is one; shots that name none belong to the room whose pictures show the same things, link
 * by link from the surest on, and two rooms that have names stay two. @param members in the order in which they were taken
 */
export function roomsOf(members: readonly RoomMember[]): ReadonlyMap<string, TheRoom | null> {
  const own = members.map(({ label }) => roomOf(label));
  const firstOf = members.map((_, k) => (own[k] === null ? k : own.indexOf(own[k])));
  const root = (k: number): number => (firstOf[k] === k ? k : root(firstOf[k]));
  const named = new Map<number, string>(own.flatMap((name, k) => (name === null ? [] : [[root(k), name]])));
  for (const { a, b } of links(members)) {
    const [p, q] = [root(a), root(b)];
    if (p === q || (named.has(p) && named.has(q))) continue;
    const [into, from] = named.has(q) ? [q, p] : [p, q];
    firstOf[from] = into;
  }
  const sizes = new Map<number, number>();
  members.forEach((_, k) => sizes.set(root(k), (sizes.get(root(k)) ?? 0) + 1));
  const numbers = new Map<number, number>();
  return new Map(members.map(({ id }, k) => {
    const at = root(k);
    const name = named.get(at);
    if (name !== undefined) return [id, { name, seen: own[k] === null }];
    if (sizes.get(at) === 1) return [id, null];
    if (!numbers.has(at)) numbers.set(at, numbers.size + 1);
    return [id, { name: `room ${numbers.get(at)}`, seen: true }];
  }));
}
