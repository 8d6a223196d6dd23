import { ADJUST_LEFT_OUT, stepWords, type Command, type MixDocument, type Pass, type PassChanges } from '@zaddle/document';

/** One thing in which another state of a mix differs from the one at hand, and how to take it over. */
interface Difference {
  readonly key: string;
  readonly words: string;
  readonly command: Command;
}

/** What a pass is, and where it lies, is not a setting of it. */
const NO_SETTING = new Set(['id', 'kind', 'within', 'why']);

function settingsOf(own: Pass, other: Pass, words: (command: Command) => string): Difference[] {
  return Object.entries(other).filter(([key, value]) => !NO_SETTING.has(key) && (key in own || key in ADJUST_LEFT_OUT) && JSON.stringify(value) !== JSON.stringify(own[key as keyof Pass])).map(([key, value]) => {
    const command: Command = { kind: 'changePass', id: own.id, changes: { [key]: value } as PassChanges };
    return { key: `${own.id} ${key}`, words: words(command), command };
  });
}

/** How pictures of one reference are framed, freed of noise and sharpened, where that differs. */
function wholeOf(now: MixDocument, other: MixDocument, words: (command: Command) => string): Difference[] {
  const differs = (key: 'geometry' | 'noise' | 'sharpening'): boolean => JSON.stringify(now[key] ?? null) !== JSON.stringify(other[key] ?? null);
  const { geometry, width, height, framing = null, noise = null, sharpening = null } = other;
  const commands: { key: string; command: Command }[] = [
    ...(now.reference === other.reference && differs('geometry') ? [{ key: 'framing', command: { kind: 'changeMix', changes: { geometry, width, height, framing } } } as const] : []),
    ...(differs('noise') ? [{ key: 'noise', command: { kind: 'changeMix', changes: { noise } } } as const] : []),
    ...(differs('sharpening') ? [{ key: 'sharpening', command: { kind: 'changeMix', changes: { sharpening } } } as const] : []),
  ];
  return commands.map(({ key, command }) => ({ key, words: words(command), command }));
}

/** Every single setting in which another state of a mix differs: values of passes that both have, passes that only one has, framing, noise and sharpening. */
export function differencesOf(now: MixDocument, other: MixDocument, frameName: (id: string) => string): Difference[] {
  const names = new Map([...now.passes, ...other.passes].map(({ id, name }) => [id, name]));
  const words = (command: Command): string => stepWords(command, { pass: (id) => names.get(id) ?? 'A pass', frame: frameName });
  const here = new Map(now.passes.map((pass) => [pass.id, pass]));
  const there = new Set(other.passes.map(({ id }) => id));
  const found = other.passes.flatMap((pass): Difference[] => {
    const own = here.get(pass.id);
    if (own) return own.kind === pass.kind ? settingsOf(own, pass, words) : [];
    // Its bundle may not be here: it comes on top, by itself.
    if (pass.kind === 'bundle') return [];
    const command: Command = { kind: 'addPass', pass: { ...pass, within: null }, index: now.passes.length };
    return [{ key: pass.id, words: words(command), command }];
  });
  const gone = now.passes.filter((pass) => !there.has(pass.id) && pass.kind !== 'bundle').map((pass): Difference => ({ key: pass.id, words: words({ kind: 'removePass', id: pass.id }), command: { kind: 'removePass', id: pass.id } }));
  return [...found, ...gone, ...wholeOf(now, other, words)];
}
