import { holders, hostOf, linkOf, type Area, type FrameId, type Mix, type Pass } from '@zaddle/document';
import { areaEvaluation } from '../area/areas';
import type { Bordered } from '../area/border';
import { passEvaluation } from '../pass/passes';
import type { CastField } from '../colour/castField';
import type { Found } from '../found/found';
import { NO_TABLES, type ColourTable, type ColourTables } from '../finish/colourTable';
import type { ToneModel } from '../finish/localTone';
import type { Light, Plane } from '../image/plane';
import type { AroundMask } from '../kind/passEvaluation';

/** An area ready for any grid. */
export interface PreparedArea {
  readonly of: Area;
  /** What it refers to, as its kind wants it; null: not found yet, so it is nothing until it is. */
  readonly prepared: unknown;
  /** The mask of another pass, in its place; null: it is no link. */
  readonly linked: readonly PreparedArea[] | null;
  /** What becomes of it when its border is changed, once that is worked out; null: nothing. */
  readonly bordered: Bordered | null;
}

export interface PreparedPass {
  readonly pass: Pass;
  /** Whether it changes only the pass under it. */
  readonly tied: boolean;
  readonly mask: readonly PreparedArea[];
  /** For passes that change tones by what lies around them, once that is worked out. */
  readonly tone: ToneModel | null;
  /** For passes that take a veil away, luminance of that, once it is worked out. */
  readonly veil: Plane | null;
  /** For passes that let bright light glow, that glow, once it is worked out. */
  readonly glow: Light | null;
  /** For passes that even out the colour of light, how it goes, once that is worked out. */
  readonly cast: CastField | null;
  /** For passes that name a colour table, that, where it is at hand. */
  readonly table: ColourTable | null;
  /** For passes that bring what lies around their mask, or join it, that on the guide, once it is worked out. */
  readonly around: AroundMask | null;
}

/** A mix with what its passes refer to. */
export interface PreparedMix {
  readonly mix: Mix;
  /** The reference that planes of what was found lie on. */
  readonly foundOn: FrameId;
  readonly passes: readonly PreparedPass[];
}

/** Whether anything of a pass is to be seen: neither it nor what holds it is muted or at no opacity. */
export function isSeen(passes: readonly Pass[], index: number): boolean {
  const pass = passes[index];
  const shows = ({ on, opacity }: Pass): boolean => on && opacity > 0;
  if (!shows(pass) || !holders(passes, pass).every(shows)) return false;
  if (pass.kind !== 'adjust' || !pass.tied) return true;
  const host = hostOf(passes, index);
  return host !== null && shows(host);
}

/** The passes that are to be seen, with what they refer to; what has a wide context is still to be worked out (`GuideLevel.workOut`). */
export function prepareMix(mix: Mix, found: Found, tables: ColourTables = NO_TABLES): PreparedMix {
  const byId = new Map(mix.passes.map((pass) => [pass.id, pass]));
  const prepareArea = (of: Area): PreparedArea => {
    const link = linkOf(of);
    return { of, prepared: areaEvaluation(of.kind).prepare(of, found), linked: link === null ? null : (byId.get(link)?.mask ?? []).map(prepareArea), bordered: null };
  };
  const tableOf = (pass: Pass): ColourTable | null => (pass.kind === 'adjust' && pass.table ? tables.get(pass.table.digest) ?? null : null);
  const passes = mix.passes.filter((_, index) => isSeen(mix.passes, index)).map((pass): PreparedPass => ({ pass, tied: pass.kind === 'adjust' && pass.tied, mask: pass.mask.map(prepareArea), tone: null, veil: null, glow: null, cast: null, table: tableOf(pass), around: null }));
  return { mix, foundOn: found.reference, passes: withoutEmpty(mix.passes, passes) };
}

/** Bundles in which nothing is to be seen are left out. */
function withoutEmpty(all: readonly Pass[], passes: readonly PreparedPass[]): PreparedPass[] {
  const kept: PreparedPass[] = [];
  for (const pass of passes) if (!gathers(pass.pass) || kept[kept.length - 1]?.pass.within === pass.pass.id) kept.push(pass);
  // What is tied to one of them is left without a host.
  return kept.filter(({ pass, tied }) => !tied || kept.some((host) => host.pass === hostOf(all, all.indexOf(pass))));
}

/** Whether a pass composes those that lie within it. */
export function gathers(pass: Pass): boolean {
  const evaluation = passEvaluation(pass.kind);
  return evaluation.does === 'brings' && evaluation.gathers;
}

/** Passes without one of them, what it holds, and what is tied to it. */
export function withoutPass(passes: readonly PreparedPass[], index: number): PreparedPass[] {
  const gone = new Set([passes[index].pass.id]);
  for (let k = index - 1; k >= 0 && passes[k].pass.within !== null && gone.has(passes[k].pass.within!); k--) gone.add(passes[k].pass.id);
  for (let k = index + 1; !passes[index].tied && passes[k]?.tied; k++) gone.add(passes[k].pass.id);
  const left = passes.filter(({ pass }) => !gone.has(pass.id));
  // A bundle that held nothing else goes along.
  return left.filter(({ pass }, k) => !gathers(pass) || left[k - 1]?.pass.within === pass.id);
}
