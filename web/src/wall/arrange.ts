import type { WallShot } from '../store/api';
import type { WallOrder } from '../store/wallSlice';

/** Pictures that lie together on the wall, under a heading or none. */
interface WallGroup {
  readonly title: string | null;
  readonly shots: readonly WallShot[];
}

/** A room as people write it: the label of its first shot that names it, without the number. */
function roomTitle(of: readonly WallShot[]): string {
  const [{ room }] = of;
  if (!room) return 'Each by itself';
  const naming = of.find((shot) => shot.room?.seen === false);
  return naming ? naming.label.slice(0, room.name.length) : `${room.name.charAt(0).toLocaleUpperCase()}${room.name.slice(1)}, told by what its pictures show`;
}

/**
 * The wall in an order. @param shots in the order of the tour
 * @returns for 'room' a group a room, in the order in which the tour first comes to it; else one group
 */
export function arranged(shots: readonly WallShot[], order: WallOrder): readonly WallGroup[] {
  if (order === 'gain') return [{ title: null, shots: [...shots].sort((a, b) => Number(a.review?.state === 'approved' && !a.review.changedSince) - Number(b.review?.state === 'approved' && !b.review.changedSince) || b.gain - a.gain) }];
  if (order === 'tour') return [{ title: null, shots }];
  const rooms = new Map<string | null, WallShot[]>();
  for (const shot of shots) rooms.set(shot.room?.name ?? null, [...(rooms.get(shot.room?.name ?? null) ?? []), shot]);
  return [...rooms.values()].map((of) => ({ title: roomTitle(of), shots: of }));
}

/** The picture that a step leads to, in rows of so many; it stays where there is none. @param groups each begins a row */
export function stepped(groups: readonly WallGroup[], current: string | null, columns: number, [dx, dy]: readonly [number, number]): string | null {
  const rows = groups.flatMap(({ shots }) => Array.from({ length: Math.ceil(shots.length / columns) }, (_, k) => shots.slice(k * columns, (k + 1) * columns)));
  const all = rows.flat();
  if (all.length === 0) return null;
  const row = rows.findIndex((each) => each.some(({ id }) => id === current));
  if (row < 0) return all[0].id;
  if (dx !== 0) return all[Math.max(0, Math.min(all.length - 1, all.findIndex(({ id }) => id === current) + dx))].id;
  const column = rows[row].findIndex(({ id }) => id === current);
  const to = rows[Math.max(0, Math.min(rows.length - 1, row + dy))];
  return to[Math.min(column, to.length - 1)].id;
}

/** A list with one of its things moved to the place of another. */
export function movedTo(ids: readonly string[], id: string, place: string): readonly string[] {
  const [from, to] = [ids.indexOf(id), ids.indexOf(place)];
  if (from < 0 || to < 0 || from === to) return ids;
  const without = ids.filter((each) => each !== id);
  return [...without.slice(0, to), id, ...without.slice(to)];
}

/** What people think of a picture, in words; a picture that was changed since says so. */
export function reviewWords({ review }: WallShot): string | null {
  if (!review) return null;
  const word = { approved: 'Approved', 'sent back': 'Sent back', later: 'Later' }[review.state];
  return review.changedSince ? `${word}, changed since` : word;
}

/** How many pictures are where. */
export function tally(shots: readonly WallShot[]): { readonly approved: number; readonly back: number; readonly later: number; readonly open: number } {
  const is = (state: string) => (shot: WallShot): boolean => shot.review?.state === state && !(state === 'approved' && shot.review.changedSince);
  const [approved, back, later] = ['approved', 'sent back', 'later'].map((state) => shots.filter(is(state)).length);
  return { approved, back, later, open: shots.length - approved - back - later };
}

/** Drawing a picture was begun several times and never came to its end: it is not tried again until its mix changes. */
export const isGivenUp = ({ drawing, revision, preview }: Pick<WallShot, 'drawing' | 'revision' | 'preview'>): boolean => !drawing && revision !== null && preview !== revision;
