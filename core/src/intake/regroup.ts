/** How a shoot's frames lie in shots, twins and all. Shots and the frames in them are in the order of taking. */
export interface Grouping {
  readonly shots: readonly { readonly id: string; readonly frames: readonly string[] }[];
  /** Frames that a person took out. */
  readonly dropped: readonly string[];
}

/** What a person does to the grouping. Ids of new shots come from the caller. */
export type GroupingCommand =
  | { readonly kind: 'move'; readonly frames: readonly string[]; readonly to: string }
  /** Frames become a shot of their own. */
  | { readonly kind: 'gather'; readonly frames: readonly string[] }
  /** A shot ends before this frame. */
  | { readonly kind: 'split'; readonly before: string }
  /** Shots become one, which keeps the first one's id. */
  | { readonly kind: 'join'; readonly shots: readonly string[] }
  /** Each frame of a shot becomes a shot. */
  | { readonly kind: 'singles'; readonly shot: string }
  /** Every so many of these frames, in the order of taking, become a shot. */
  | { readonly kind: 'every'; readonly frames: readonly string[]; readonly count: number }
  | { readonly kind: 'drop'; readonly frames: readonly string[] };

/** A command that does not fit the grouping; the message is for the person. */
export class RegroupError extends Error {}

interface Draft {
  shots: { id: string; frames: string[] }[];
  dropped: string[];
}

function takeOut(draft: Draft, frames: readonly string[]): void {
  const wanted = new Set(frames);
  const known = new Set([...draft.shots.flatMap((s) => s.frames), ...draft.dropped]);
  for (const frame of wanted) if (!known.has(frame)) throw new RegroupError('A frame is not there any more. Load the page again.');
  if (wanted.size === 0) throw new RegroupError('Choose at least one frame.');
  for (const shot of draft.shots) shot.frames = shot.frames.filter((f) => !wanted.has(f));
  draft.dropped = draft.dropped.filter((f) => !wanted.has(f));
}

function shotOf(draft: Draft, id: string): Draft['shots'][number] {
  const shot = draft.shots.find((s) => s.id === id);
  if (!shot) throw new RegroupError('A shot is not there any more. Load the page again.');
  return shot;
}

function act(draft: Draft, command: GroupingCommand, rank: ReadonlyMap<string, number>, newId: () => string): void {
  switch (command.kind) {
    case 'move': {
      const shot = shotOf(draft, command.to);
      takeOut(draft, command.frames);
      shot.frames.push(...command.frames);
      break;
    }
    case 'gather':
      takeOut(draft, command.frames);
      draft.shots.push({ id: newId(), frames: [...command.frames] });
      break;
    case 'split': {
      const shot = draft.shots.find((s) => s.frames.includes(command.before));
      if (!shot) throw new RegroupError('That frame is in no shot.');
      const at = shot.frames.indexOf(command.before);
      if (at === 0) throw new RegroupError('The shot begins with that frame already.');
      draft.shots.push({ id: newId(), frames: shot.frames.splice(at) });
      break;
    }
    case 'join': {
      if (new Set(command.shots).size < 2) throw new RegroupError('Choose two shots or more to join.');
      const [first, ...rest] = command.shots.map((id) => shotOf(draft, id)).sort((a, b) => rank.get(a.frames[0])! - rank.get(b.frames[0])!);
      for (const shot of rest) first.frames.push(...shot.frames.splice(0));
      break;
    }
    case 'singles':
      draft.shots.push(...shotOf(draft, command.shot).frames.splice(1).map((frame) => ({ id: newId(), frames: [frame] })));
      break;
    case 'every': {
      if (!Number.isInteger(command.count) || command.count < 1) throw new RegroupError('Give a whole number of frames, 1 or more.');
      takeOut(draft, command.frames);
      const frames = [...command.frames].sort((a, b) => rank.get(a)! - rank.get(b)!);
      for (let at = 0; at < frames.length; at += command.count) draft.shots.push({ id: newId(), frames: frames.slice(at, at + command.count) });
      break;
    }
    case 'drop':
      takeOut(draft, command.frames);
      draft.dropped.push(...command.frames);
      break;
  }
}

/**
 * The grouping after a command. Shots that are left empty vanish; shots whose frames stay the same keep their id.
 * @param order all frames of the shoot in the order of taking. @throws RegroupError when the command does not fit.
 */
export function regroup(grouping: Grouping, command: GroupingCommand, order: readonly string[], newId: () => string): Grouping {
  const rank = new Map(order.map((frame, k) => [frame, k]));
  const draft: Draft = { shots: grouping.shots.map(({ id, frames }) => ({ id, frames: [...frames] })), dropped: [...grouping.dropped] };
  act(draft, command, rank, newId);
  const byRank = (a: string, b: string): number => rank.get(a)! - rank.get(b)!;
  for (const shot of draft.shots) shot.frames.sort(byRank);
  return {
    shots: draft.shots.filter((s) => s.frames.length > 0).sort((a, b) => byRank(a.frames[0], b.frames[0])),
    dropped: draft.dropped.sort(byRank),
  };
}

/**
 * Puts frames that came later into a grouping that a person has touched: with the frames that sorting puts them beside,
 * or into shots of their own.
 * @param sorted what sorting makes of all frames.
 */
export function addLater(grouping: Grouping, sorted: readonly { readonly frames: readonly string[] }[], newId: () => string): Grouping {
  const home = new Map(grouping.shots.flatMap(({ id, frames }) => frames.map((frame) => [frame, id] as const)));
  const dropped = new Set(grouping.dropped);
  const shots = new Map(grouping.shots.map(({ id, frames }) => [id, [...frames]]));
  for (const { frames } of sorted) {
    const late = frames.filter((frame) => !home.has(frame) && !dropped.has(frame));
    if (late.length === 0) continue;
    const counts = new Map<string, number>();
    for (const frame of frames) if (home.has(frame)) counts.set(home.get(frame)!, (counts.get(home.get(frame)!) ?? 0) + 1);
    const [most] = [...counts].sort((a, b) => b[1] - a[1]);
    if (most) shots.get(most[0])!.push(...late);
    else shots.set(newId(), late);
  }
  return { shots: [...shots].map(([id, frames]) => ({ id, frames })), dropped: grouping.dropped };
}
