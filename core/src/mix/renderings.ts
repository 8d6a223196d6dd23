import type { AdjustPass, Command, MixDocument, Pass } from '@zaddle/document';

/** Ways to render the tones of a picture, or of one pass of it. */
export const RENDERINGS = ['plain', 'soft', 'open', 'clear', 'full', 'etched'] as const;
export type Rendering = (typeof RENDERINGS)[number];

type Settings = Pick<AdjustPass, 'contrast' | 'highlights' | 'shadows' | 'saturation' | 'curve'> & { readonly localContrast: number; readonly glow: number };

const SETTINGS: Readonly<Record<Rendering, { readonly label: string; readonly what: string; readonly settings: Settings }>> = {
  plain: { label: 'Plain', what: 'as the light was, nothing changed', settings: { contrast: 1, highlights: 0, shadows: 0, saturation: 1, localContrast: 0, glow: 0, curve: [] } },
  soft: { label: 'Soft', what: 'gentle tones, windows and lamps glow', settings: { contrast: 0.96, highlights: -0.8, shadows: 0.45, saturation: 0.98, localContrast: -0.15, glow: 0.3, curve: [] } },
  open: { label: 'Open', what: 'dark corners opened wide', settings: { contrast: 1.04, highlights: -0.7, shadows: 0.95, saturation: 1.03, localContrast: 0.2, glow: 0, curve: [] } },
  clear: { label: 'Clear', what: 'contrast and surfaces, bright things held', settings: { contrast: 1.15, highlights: -0.55, shadows: 0.3, saturation: 1.05, localContrast: 0.5, glow: 0, curve: [] } },
  full: { label: 'Full', what: 'deep tones, strong colour', settings: { contrast: 1.28, highlights: -0.45, shadows: 0.1, saturation: 1.12, localContrast: 0.35, glow: 0, curve: [[-4, -0.15], [-1.5, 0]] } },
  etched: { label: 'Etched', what: 'grain of wood, stone and cloth brought out', settings: { contrast: 1.08, highlights: -0.6, shadows: 0.4, saturation: 1, localContrast: 1, glow: 0, curve: [] } },
};

/** What a rendering is called, and what it does, for people. */
export const renderingLabel = (rendering: Rendering): string => SETTINGS[rendering].label;
export const renderingWhat = (rendering: Rendering): string => SETTINGS[rendering].what;

const isOwn = (pass: Pass, host: Pass): boolean => pass.kind === 'adjust' && pass.tied && pass.within === host.within;

/**
 * The pass whose tones renderings set: the selected tone pass; for a pass that brings light, the tone pass that is tied to it; for
 * anything else the topmost tone pass that changes all of the picture. Null: there is none yet.
 * @param of id of the selected pass
 */
export function renderedBy({ passes }: Pick<MixDocument, 'passes'>, of: string | null): AdjustPass | null {
  const index = passes.findIndex(({ id }) => id === of);
  const selected = passes[index];
  if (selected?.kind === 'adjust') return selected;
  if (selected && 'source' in selected) {
    const next = passes[index + 1];
    return next?.kind === 'adjust' && isOwn(next, selected) ? next : null;
  }
  return passes.filter((pass): pass is AdjustPass => pass.kind === 'adjust' && !pass.tied && pass.within === null && pass.mask.length === 0 && (pass.evenness ?? 0) === 0).at(-1) ?? null;
}

/**
 * The step that gives a picture, or the light of the selected pass, a rendering: settings of the tone pass that there is, or a new one.
 * Its exposure, balance, hues and mask stay. @param id of a pass that is to be made
 */
export function renderingCommand(mix: Pick<MixDocument, 'passes'>, of: string | null, rendering: Rendering, id: string): Command {
  const { label, settings } = SETTINGS[rendering];
  const pass = renderedBy(mix, of);
  if (pass) return { kind: 'changePass', id: pass.id, changes: { ...settings } };
  const index = mix.passes.findIndex((each) => each.id === of);
  const host = mix.passes[index];
  const tied = host !== undefined && 'source' in host;
  const made: AdjustPass = { id, name: `Tone, ${label.toLowerCase()}`, why: '', kind: 'adjust', on: true, opacity: 1, mask: [], exposure: 0, balance: [1, 1, 1], within: tied ? host.within : null, tied, ...settings };
  return { kind: 'addPass', pass: made, index: tied ? index + 1 : mix.passes.length };
}

/** The rendering that a pass has the settings of; null: none, or somebody went on from there. */
export function renderingNow(pass: AdjustPass | null): Rendering | null {
  if (!pass) return null;
  const is = ({ curve, ...settings }: Settings): boolean => JSON.stringify(curve) === JSON.stringify(pass.curve) && Object.entries(settings).every(([key, value]) => ((pass as unknown as Record<string, number | null | undefined>)[key] ?? 0) === value);
  return RENDERINGS.find((rendering) => is(SETTINGS[rendering].settings)) ?? null;
}
