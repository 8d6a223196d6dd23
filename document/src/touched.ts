import type { Command } from './commands';

/** Ends the path of something that is only added to, or taken from: two of those do not disturb each other. */
const ADDED = '+';

/**
 * Which places of a document a command changes, as paths. Two commands that were made on the same document can both be
 * applied, in either order, when their paths do not collide.
 */
export function touchedPaths(command: Command): readonly string[] {
  switch (command.kind) {
    case 'addPass':
      return [`pass/${command.pass.id}`, `order/${ADDED}`];
    case 'removePass':
      return [`pass/${command.id}`, `order/${ADDED}`];
    case 'movePass':
      return ['order'];
    case 'changePass':
      return Object.keys(command.changes).map((key) => `pass/${command.id}/${key}`);
    case 'addArea':
      return [`pass/${command.pass}/mask/${command.area.id}`];
    case 'removeArea':
      return [`pass/${command.pass}/mask/${command.area}`];
    case 'addStroke':
      return [`pass/${command.pass}/mask/${command.area}/${command.index === undefined ? ADDED : 'strokes'}`];
    case 'removeStroke':
      return [`pass/${command.pass}/mask/${command.area}/strokes`];
    case 'addFrame':
    case 'removeFrame':
      return [`frame/${command.id}`];
    case 'changeFrame':
      return Object.keys(command.changes).map((key) => `frame/${command.id}/${key}`);
    case 'changeMix':
      return Object.keys(command.changes).flatMap((key) => (key === 'passes' ? ['pass', 'order'] : key === 'frames' ? ['frame'] : [`mix/${key}`]));
    case 'several':
      return command.commands.flatMap(touchedPaths);
  }
}

const meets = (a: string, b: string): boolean => (a === b ? !a.endsWith(`/${ADDED}`) : a.startsWith(`${b}/`) || b.startsWith(`${a}/`));

/** Whether two sets of touched places have one in common, or one within another. */
export const collide = (some: readonly string[], others: readonly string[]): boolean => some.some((a) => others.some((b) => meets(a, b)));
