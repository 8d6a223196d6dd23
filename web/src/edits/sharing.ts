/**
 * The same values as `next`, with every part that equals one of `before` being that very part: so that who remembers what
 * was made of a part finds it again, also when all of it came over the wire anew. Plain JSON values.
 */
export function sharing<T>(before: unknown, next: T): T {
  if (before === next || typeof before !== 'object' || typeof next !== 'object' || before === null || next === null) return next;
  if (Array.isArray(before) && Array.isArray(next)) return sharedList(before, next) as T;
  return Array.isArray(before) || Array.isArray(next) ? next : (sharedObject(before as Record<string, unknown>, next as Record<string, unknown>) as T);
}

function sharedList(before: readonly unknown[], next: readonly unknown[]): readonly unknown[] {
  const shared = next.map((value, i) => (i < before.length ? sharing(before[i], value) : value));
  return shared.length === before.length && shared.every((value, i) => value === before[i]) ? before : shared;
}

function sharedObject(before: Record<string, unknown>, next: Record<string, unknown>): Record<string, unknown> {
  const keys = Object.keys(next);
  let same = keys.length === Object.keys(before).length;
  // By entries: a key that objects have of their own, too, is one like any other.
  const shared = keys.map((key): [string, unknown] => {
    const value = Object.hasOwn(before, key) ? sharing(before[key], next[key]) : next[key];
    same &&= Object.hasOwn(before, key) && value === before[key];
    return [key, value];
  });
  return same ? before : Object.fromEntries(shared);
}
