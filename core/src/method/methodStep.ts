import equal from 'fast-deep-equal';
import type { AppliedMethod, Command, Method, Mix, MixChanges, MixDocument, Pass, PassChanges, Settings } from '@zaddle/document';
import type { ToldStance } from '../geometry/estimateStance';
import { placeMethod, type Lacking, type MethodChoice, type PutIn } from './placeMethod';

/** What applying a method, or taking it off, comes to. */
export interface MethodStep {
  /** One step of a history. */
  readonly command: Command;
  /** What the shot has no use for. */
  readonly lacking: readonly Lacking[];
}

/** Equal whatever order their keys come in, since a database keeps none; what is left out is null. */
const same = (a: unknown, b: unknown): boolean => equal(a ?? null, b ?? null);
type Values = Readonly<Record<string, unknown>>;

/** Keys of a mix that only mean something together. */
const FRAMED = ['geometry', 'width', 'height', 'framing'] as const;
const isFramed = (key: string): boolean => (FRAMED as readonly string[]).includes(key);

/** Values as they stand where they would be set. */
const standing = (thing: object, set: object): Values => Object.fromEntries(Object.keys(set).map((key) => [key, (thing as Values)[key] ?? null]));

/** Settings that still are as a method made them; the others are a person's. */
function untouched(thing: object, set: object): string[] {
  const now = thing as Values;
  const wasFramed = FRAMED.every((key) => !(key in set) || same(now[key], (set as Values)[key]));
  return Object.keys(set).filter((key) => (isFramed(key) ? wasFramed : same(now[key], (set as Values)[key])));
}

const pick = (values: object, keys: readonly string[]): Values => Object.fromEntries(keys.map((key) => [key, (values as Values)[key] ?? null]));

/** A mix with its method taken off: what it set, and nobody changed since, goes back to what was before; what it put in is gone. */
function without(mix: MixDocument, { before, set, added }: AppliedMethod): MixDocument {
  const putIn = new Set(Object.values(added));
  const passes = mix.passes.filter(({ id }) => !putIn.has(id)).map((pass): Pass => {
    const made = Object.hasOwn(set.passes, pass.id) ? set.passes[pass.id] : null;
    return made ? ({ ...pass, ...pick(before.passes[pass.id] ?? {}, untouched(pass, made)) } as Pass) : pass;
  });
  return { ...mix, ...pick(before.mix, untouched(mix, set.mix)), passes, method: null };
}

/** Settings of the same method that a person changed since: they are left alone. */
function ownSettings(mix: MixDocument, { set, added }: AppliedMethod): { readonly passes: ReadonlyMap<string, ReadonlySet<string>>; readonly mix: ReadonlySet<string> } {
  const changed = (thing: object, made: object): Set<string> => {
    const still = new Set(untouched(thing, made));
    return new Set(Object.keys(made).filter((key) => !still.has(key)));
  };
  const putIn = new Set(Object.values(added));
  return { passes: new Map(mix.passes.flatMap((pass) => (Object.hasOwn(set.passes, pass.id) && !putIn.has(pass.id) ? [[pass.id, changed(pass, set.passes[pass.id])] as const] : []))), mix: changed(mix, set.mix) };
}

const drop = <T extends object>(values: T, keys: ReadonlySet<string> | undefined): T => (keys && keys.size > 0 ? (Object.fromEntries(Object.entries(values).filter(([key]) => !keys.has(key))) as T) : values);

function insert(passes: readonly Pass[], { pass, at }: PutIn): Pass[] {
  const index = at === 'top' ? passes.length : 'above' in at ? passes.findIndex(({ id }) => id === at.above) + 1 : passes.findIndex(({ id }) => id === at.under);
  return [...passes.slice(0, index), pass, ...passes.slice(index)];
}

/** What a pass is, and where it counts, is no setting of it. */
const NO_SETTING = new Set(['id', 'kind', 'name', 'why', 'within', 'mask']);
const settingsOf = (pass: Pass): PassChanges => Object.fromEntries(Object.entries(pass).filter(([key]) => !NO_SETTING.has(key)));

/** A pass that the method put in before, as a person has it since; settings that nobody changed are as the method has them now. */
function asKept(kept: Pass, pass: Pass, set: PassChanges): { readonly next: Pass; readonly set: PassChanges } {
  const still = untouched(kept, set);
  const own = Object.keys(set).filter((key) => !still.includes(key));
  return { next: { ...kept, ...pick(pass, still) } as Pass, set: { ...settingsOf(pass), ...pick(set, own) } };
}

/** Settings that are a person's now, noted as the method had them: so they are told from its own later, too. */
function noted(settings: Settings, from: Settings, own: ReturnType<typeof ownSettings>): Settings {
  const passes = { ...settings.passes };
  for (const [id, keys] of own.passes) if (keys.size > 0) passes[id] = { ...passes[id], ...pick(from.passes[id] ?? {}, [...keys]) };
  return { passes, mix: { ...settings.mix, ...pick(from.mix, [...own.mix]) } };
}

/** A mix with a method on it. @param bare without any */
function withMethod(mix: MixDocument, bare: MixDocument, choice: MethodChoice, stance: ToldStance | null): { readonly document: MixDocument; readonly lacking: readonly Lacking[] } {
  const last = mix.method && hasMethod(mix, choice.method) ? mix.method : null;
  const own = last && ownSettings(mix, last);
  const placed = placeMethod(bare, choice, stance);
  const wished: Record<string, PassChanges> = Object.fromEntries(Object.entries(placed.passes).map(([id, changes]) => [id, drop(changes, own?.passes.get(id))] as const).filter(([, changes]) => Object.keys(changes).length > 0));
  const whole: MixChanges = drop(placed.mix, own?.mix);
  let passes: readonly Pass[] = bare.passes.map((pass) => (Object.hasOwn(wished, pass.id) ? ({ ...pass, ...wished[pass.id] } as Pass) : pass));
  const set: Record<string, PassChanges> = { ...wished };
  const added: Record<string, string> = {};
  for (const { slot, pass, at } of placed.putIn) {
    // What it put in before is as a person left it since, and stays away where they removed it.
    const known = last && Object.hasOwn(last.added, slot) ? last.added[slot] : null;
    const there = mix.passes.find(({ id }) => id === known);
    added[slot] = known ?? pass.id;
    if (known && !there) continue;
    const kept = there ? asKept(there, pass, last!.set.passes[there.id] ?? {}) : { next: pass, set: settingsOf(pass) };
    passes = insert(passes, { slot, pass: kept.next, at });
    set[added[slot]] = kept.set;
  }
  const before: Settings = { passes: Object.fromEntries(Object.entries(wished).map(([id, changes]) => [id, standing(bare.passes.find((p) => p.id === id)!, changes) as PassChanges])), mix: standing(bare, whole) as MixChanges };
  const made = { before, set: { passes: set, mix: whole } };
  const method: AppliedMethod = { method: choice.method, strength: choice.strength, off: [...choice.off], ...(own ? { before: noted(before, last.before, own), set: noted(made.set, last.set, own) } : made), added };
  return { document: { ...bare, ...whole, passes, method }, lacking: placed.lacking };
}

/** What leads from one state of a mix to another that differs by settings and by whole passes. */
function between(from: MixDocument, to: MixDocument): Command {
  const [here, there] = [new Map(from.passes.map((p) => [p.id, p])), new Map(to.passes.map((p) => [p.id, p]))];
  const commands: Command[] = from.passes.filter(({ id }) => !there.has(id)).map(({ id }) => ({ kind: 'removePass', id }));
  to.passes.forEach((pass, index) => {
    const old = here.get(pass.id);
    if (!old) return void commands.push({ kind: 'addPass', pass, index });
    const changes = Object.fromEntries(Object.entries(pass).filter(([key, value]) => !same(value, old[key as keyof Pass])));
    if (Object.keys(changes).length > 0) commands.push({ kind: 'changePass', id: pass.id, changes: changes as PassChanges });
  });
  const keys = [...FRAMED, 'noise', 'sharpening', 'corrects', 'method'] as const;
  commands.push({ kind: 'changeMix', changes: pick(to, keys.filter((key) => key === 'method' || !same(from[key], to[key]))) as MixChanges });
  return { kind: 'several', commands };
}

/** Whether a mix has this method on it, at whatever strength. */
export const hasMethod = ({ method }: Mix, wanted: Method): boolean => same(method?.method, wanted);

/**
 * The step that gives a mix a method, or gives the one that it has another strength or other parts, or takes it off: a mix has one
 * at most, so another takes its place. What a person changed since the method set it stays theirs; all of it is undone by one step.
 * @param choice null takes it off @param stance how the camera stood, where that was told
 */
export function methodStep(mix: MixDocument, choice: MethodChoice | null, stance: ToldStance | null): MethodStep {
  const bare: MixDocument = mix.method ? without(mix, mix.method) : mix;
  if (!choice) return { command: between(mix, bare), lacking: [] };
  const { document, lacking } = withMethod(mix, bare, choice, stance);
  return { command: between(mix, document), lacking };
}
