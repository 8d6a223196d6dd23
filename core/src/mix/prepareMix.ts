import { localTone } from '../finish/localTone';
import { createLight, luminance, mapPlane, type Light, type Plane } from '../image/plane';
import { shrunkSize } from '../image/shrink';
import { blendPixel } from './blendPixel';
import { litBy, roomLight, shareAmong, type RoomLight } from '../light/litBy';
import { matteEdges } from '../mask/matteEdges';
import { paintBrush, paintRamp } from '../mask/paintAreas';
import type { Change } from '../read/findChanges';
import { findIntruders } from '../read/findIntruders';
import { findGlass } from '../window/findGlass';
import { ownRadiance } from '../window/ownRadiance';
import type { GuideSet } from './guides';
import { gained } from './guides';
import type { AdjustPass, Area, FrameId, Mix, Pass, SourcePass } from './mix';

/** Longer side of the grid that brush strokes are painted on, in pixels. */
const BRUSH_SIDE = 1500;
/** Guide rows beyond the found glass that its edge may reach. */
const EDGE_REACH = 8;

/** An area ready for any scale: a plane to read bilinearly, or the guided filter's model over the luminance of a frame. */
export type PreparedArea = { readonly join: Area['join']; readonly inverted: boolean } & (
  | { readonly kind: 'plane'; readonly plane: Plane }
  | { readonly kind: 'edge'; readonly a: Plane; readonly b: Plane; readonly edge: FrameId; readonly top: number; readonly bottom: number }
);

export interface PreparedPass {
  readonly pass: Pass;
  readonly mask: readonly PreparedArea[];
  /** Local gain over log luminance, for adjust passes that change broad tones. */
  readonly tone: { readonly a: Plane; readonly b: Plane } | null;
}

/** A mix with everything of wide context worked out on the guide. */
export interface PreparedMix {
  readonly mix: Mix;
  readonly guideWidth: number;
  readonly guideHeight: number;
  readonly passes: readonly PreparedPass[];
}

/** Detections that several passes share, made once when first asked for. */
export class Findings {
  private glassPlane: Plane | null = null;
  private ownPlane: Plane | null = null;
  private room: RoomLight | null = null;
  private readonly lit = new Map<FrameId, Plane>();
  private readonly shares = new Map<string, Plane>();
  private readonly intruders = new Map<string, readonly Change[]>();
  constructor(readonly guides: GuideSet, private readonly frames: Mix['frames']) {}

  private exposures(): Record<FrameId, number> {
    return Object.fromEntries([...this.guides.frames.keys()].map((id) => [id, this.frames[id].stops]));
  }

  /** The view through glass, 0..1. */
  glass(): Plane {
    return (this.glassPlane ??= findGlass(this.guides, this.exposures(), this.own()));
  }

  /** What each place gives off by itself, in white of the reference. */
  own(): Plane {
    return (this.ownPlane ??= ownRadiance(this.guides, this.exposures()));
  }

  /** The part of a flash where those of `among` light too. */
  shareOf(frame: FrameId, among: readonly FrameId[]): Plane {
    const key = [frame, ...among].join();
    let plane = this.shares.get(key);
    if (!plane) this.shares.set(key, (plane = shareAmong(this.litBy(frame), among.map((id) => this.litBy(id)))));
    return plane;
  }

  /** Who or what stands in single ones of these flash frames. */
  intrudersAmong(flashes: readonly FrameId[]): readonly Change[] {
    const key = [...flashes].sort().join();
    let changes = this.intruders.get(key);
    if (!changes) this.intruders.set(key, (changes = findIntruders(this.guides, this.exposures(), flashes, this.glass())));
    return changes;
  }

  litBy(frame: FrameId): Plane {
    let plane = this.lit.get(frame);
    if (!plane) this.lit.set(frame, (plane = litBy(this.guides, (this.room ??= roomLight(this.guides.merge)), frame, this.frames[frame].stops, this.glass())));
    return plane;
  }
}

/** log2 luminance as the kernel computes it. */
export const logLuminance = (light: Light): Plane => mapPlane(luminance(light), (v) => Math.log2(Math.max(1 / 4096, v)));

/** Longer side of the reference, pixels: what positions in a mask are shares of. */
const longerSide = ({ frames, reference }: Mix): number => Math.max(frames[reference].width, frames[reference].height);

/** @param full longer side of the reference, pixels. */
function prepareArea(area: Area, findings: Findings, full: number): PreparedArea {
  const { width, height } = findings.guides;
  const base = { join: area.join, inverted: area.inverted };
  if (area.kind === 'brush') {
    const size = shrunkSize(width * 8, height * 8, BRUSH_SIDE);
    return { ...base, kind: 'plane', plane: paintBrush(area.strokes, size.width, size.height, full) };
  }
  if (area.kind === 'ramp') return { ...base, kind: 'plane', plane: paintRamp(area.from, area.to, width, height, full) };
  if (area.what === 'lit') return { ...base, kind: 'plane', plane: findings.shareOf(area.frame, area.among) };
  const glass = findings.glass();
  const guidance = logLuminance(findings.guides.frames.get(area.edge)!.light);
  const { a, b } = matteEdges(guidance, glass);
  let top = height;
  let bottom = -1;
  for (let i = 0; i < glass.data.length; i++) {
    if (glass.data[i] === 0) continue;
    const y = Math.floor(i / width);
    top = Math.min(top, y);
    bottom = Math.max(bottom, y);
  }
  return { ...base, kind: 'edge', a, b, edge: area.edge, top: top - EDGE_REACH, bottom: bottom + EDGE_REACH };
}

/** Coverage of one area on the guide grid, before it joins the others. */
function coverageOnGuide(area: PreparedArea, guides: GuideSet): Float32Array {
  const { width, height } = guides;
  if (area.kind === 'plane') {
    if (area.plane.width === width && area.plane.height === height) return area.plane.data;
    const out = new Float32Array(width * height);
    for (let y = 0; y < height; y++) {
      const v = Math.min(area.plane.height - 1, Math.round(((y + 0.5) * area.plane.height) / height - 0.5));
      for (let x = 0; x < width; x++) out[y * width + x] = area.plane.data[v * area.plane.width + Math.min(area.plane.width - 1, Math.round(((x + 0.5) * area.plane.width) / width - 0.5))];
    }
    return out;
  }
  const guidance = logLuminance(guides.frames.get(area.edge)!.light).data;
  return guidance.map((v, i) => Math.min(1, Math.max(0, area.a.data[i] * v + area.b.data[i])));
}

/** The mask of a pass on the guide grid. */
export function maskOnGuide(prepared: readonly PreparedArea[], guides: GuideSet): Float32Array {
  const mask = new Float32Array(guides.width * guides.height).fill(prepared.length === 0 || prepared[0].join !== 'add' ? 1 : 0);
  for (const area of prepared) {
    const coverage = coverageOnGuide(area, guides);
    for (let i = 0; i < mask.length; i++) {
      const v = area.inverted ? 1 - coverage[i] : coverage[i];
      mask[i] = area.join === 'add' ? mask[i] + v - mask[i] * v : area.join === 'subtract' ? mask[i] * (1 - v) : mask[i] * v;
    }
  }
  return mask;
}

/** Light of a source pass on the guide, exposure and balance applied. */
export function sourceOnGuide(pass: SourcePass, guides: GuideSet, frames: Mix['frames']): Light {
  if (pass.source.kind === 'merge') return gained(guides.merge, pass.exposure, pass.balance);
  const { light } = guides.frames.get(pass.source.frame)!;
  if (pass.source.kind === 'frame') return gained(light, pass.exposure, pass.balance);
  const share = 2 ** frames[pass.source.frame].stops;
  const out = createLight(light.width, light.height);
  for (const c of ['r', 'g', 'b'] as const) for (let i = 0; i < out.r.length; i++) out[c][i] = Math.max(0, light[c][i] - share * guides.merge[c][i]);
  return gained(out, pass.exposure, pass.balance);
}

function applySource(below: Light, pass: SourcePass, mask: Float32Array, guides: GuideSet, frames: Mix['frames']): void {
  const source = sourceOnGuide(pass, guides, frames);
  const cover = pass.source.kind === 'merge' ? null : guides.frames.get(pass.source.frame)!.cover.data;
  for (let i = 0; i < mask.length; i++) blendPixel(below, source, i, mask[i] * pass.opacity * (cover ? cover[i] : 1), pass.mode, pass.brightness, pass.colour);
}

function applyAdjust(below: Light, pass: AdjustPass, mask: Float32Array, logY: Plane, tone: PreparedPass['tone']): void {
  const pivot = Math.log2(0.18);
  const { r, g, b } = below;
  const [kr, kg, kb] = pass.balance.map((v) => v - 1);
  for (let i = 0; i < mask.length; i++) {
    const m = mask[i] * pass.opacity;
    if (m === 0) continue;
    const l = logY.data[i];
    const stops = (tone ? tone.a.data[i] * l + tone.b.data[i] : 0) + (pass.contrast - 1) * (l - pivot) + pass.exposure;
    const gain = 2 ** (m * stops);
    const nr = r[i] * (1 + m * kr) * gain;
    const ng = g[i] * (1 + m * kg) * gain;
    const nb = b[i] * (1 + m * kb) * gain;
    const y = 0.2627 * nr + 0.678 * ng + 0.0593 * nb;
    const s = m * (pass.saturation - 1);
    r[i] = nr + s * (nr - y);
    g[i] = ng + s * (ng - y);
    b[i] = nb + s * (nb - y);
  }
}

/**
 * Works out masks and local tone of every pass on the guide, evaluating the mix there from the bottom up.
 * @returns the prepared mix, and the picture on the guide before the display curve (working light).
 */
export function prepareMix(mix: Mix, guides: GuideSet, findings = new Findings(guides, mix.frames)): { prepared: PreparedMix; picture: Light } {
  const below = createLight(guides.width, guides.height);
  const passes: PreparedPass[] = [];
  for (const pass of mix.passes) {
    if (!pass.on || pass.opacity === 0) continue;
    const areas = pass.mask.map((area) => prepareArea(area, findings, longerSide(mix)));
    const mask = maskOnGuide(areas, guides);
    if (pass.kind === 'adjust') {
      const logY = logLuminance(below);
      const tone = pass.highlights === 0 && pass.shadows === 0 ? null : localTone(logY, pass.highlights, pass.shadows);
      applyAdjust(below, pass, mask, logY, tone);
      passes.push({ pass, mask: areas, tone });
    } else {
      applySource(below, pass, mask, guides, mix.frames);
      passes.push({ pass, mask: areas, tone: null });
    }
  }
  return { prepared: { mix, guideWidth: guides.width, guideHeight: guides.height, passes }, picture: below };
}

/**
 * The mix prepared anew for the middle of a drag: masks whose areas did not change and local tone are taken from
 * before, so that only what a fader or a stroke touches is worked out.
 */
export function reprepareMix(mix: Mix, before: PreparedMix, findings: Findings): PreparedMix {
  const known = new Map(before.passes.map((p) => [p.pass.id, p]));
  const passes: PreparedPass[] = [];
  for (const pass of mix.passes) {
    if (!pass.on || pass.opacity === 0) continue;
    const old = known.get(pass.id);
    const mask = pass.mask.map((area, k) => (old && JSON.stringify(old.pass.mask[k]) === JSON.stringify(area) ? old.mask[k] : prepareArea(area, findings, longerSide(mix))));
    passes.push({ pass, mask, tone: old?.tone ?? null });
  }
  return { ...before, mix, passes };
}
