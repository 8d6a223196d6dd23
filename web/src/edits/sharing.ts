/**
 * The same values as `next`, with every part that equals one of `before` being that very part: so that who remembers what
 * was made of a part finds it again, also when all of it came over the wire anew. Plain JSON values.
 */
export function sharing<T>(before: unknown, next: T): T {
  if (before === next || typeof before !== 'object' || typeof next !== 'object' || before === null || next === null || Array.isArray(before) !== Array.isArray(next)) return next;
  const keys = Object.keys(next);
  const old = before as Record<string, unknown>;
  let same = keys.length === Object.keys(before).length;
  const shared: Record<string, unknown> = {};
  for (const key of keys) {
    const value = (next as Record<string, unknown>)[key];
    shared[key] = Object.hasOwn(old, key) ? sharing(old[key], value) : value;
    same &&= shared[key] === old[key];
  }
  if (same) return before as T;
  return (Array.isArray(next) ? keys.map((key) => shared[key]) : shared) as T;
}
