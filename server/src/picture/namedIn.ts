/** Text from a file, without what is no text: a database takes neither NUL nor half of a surrogate pair. */
export function named(value: unknown): string | null {
  if (typeof value !== 'string') return null;
  const text = value.replace(/\p{Cc}|\p{Cs}/gu, ' ').replace(/\s+/g, ' ').trim();
  // By characters, so that none is cut in two.
  return text === '' ? null : Array.from(text).slice(0, 120).join('');
}
