import { ADJUST_LEFT_OUT, type Command, type Pass, type PassChanges } from '@zaddle/document';

/** Ways to begin with a shot: how evenly it is lit, and how its tones are laid out. */
export const STARTS = ['even', 'stood', 'airy', 'deep'] as const;
export type Start = (typeof STARTS)[number];
/** What a shoot begins with where nobody chose. */
export const FIRST_START: Start = 'even';

interface StartSettings {
  readonly label: string;
  readonly what: string;
  /** How much of the ambient's fall of light, and of its colour, lies over the flash. */
  readonly fall: { readonly brightness: number; readonly colour: number };
  /** How much of the light's own play of colours over paint is evened out. */
  readonly evenness: number;
  readonly finish: { readonly exposure: number; readonly contrast: number; readonly highlights: number; readonly shadows: number; readonly saturation: number; readonly localContrast: number; readonly glow: number };
}

const SETTINGS: Readonly<Record<Start, StartSettings>> = {
  even: {
    label: 'Even', what: 'flash opens the room, light still falls as it did',
    fall: { brightness: 0.6, colour: 0.1 }, evenness: 0.85, finish: { exposure: 0, contrast: 1.14, highlights: -0.55, shadows: 0.35, saturation: 1.04, localContrast: 0.35, glow: 0 },
  },
  stood: {
    label: 'As it stood', what: 'the light of the room itself, warm lamps, darker corners',
    fall: { brightness: 0.92, colour: 0.3 }, evenness: 0.3, finish: { exposure: 0.05, contrast: 1.1, highlights: -0.45, shadows: 0.12, saturation: 1.02, localContrast: 0.25, glow: 0.2 },
  },
  airy: {
    label: 'Airy', what: 'bright and soft, open shadows',
    fall: { brightness: 0.4, colour: 0.05 }, evenness: 0.9, finish: { exposure: 0.28, contrast: 1.04, highlights: -0.7, shadows: 0.6, saturation: 1, localContrast: 0.25, glow: 0.3 },
  },
  deep: {
    label: 'Deep', what: 'fuller tones and colour, so that the view stands out',
    fall: { brightness: 0.7, colour: 0.12 }, evenness: 0.7, finish: { exposure: -0.22, contrast: 1.24, highlights: -0.5, shadows: 0.25, saturation: 1.1, localContrast: 0.45, glow: 0 },
  },
};

/** What a start is called, and what it does, for people. */
export const startLabel = (start: Start): string => SETTINGS[start].label;
export const startWhat = (start: Start): string => SETTINGS[start].what;

/** Ids of the passes that starts differ in, as proposals name them. */
export const FALL_PASS = 'fall';
export const PAINT_PASS = 'paint';
export const FINISH_PASS = 'finish';
/** Id of the pass for lamps that were switched between frames. */
export const LAMPS_PASS = 'lamps';
/** Id of the bundle that holds the view where it comes from two frames. */
export const VIEWS_BUNDLE = 'views';

/** What a start asks of a pass; null where it leaves it alone. */
function asked(pass: Pass, start: Start): PassChanges | null {
  const { fall, evenness, finish } = SETTINGS[start];
  if (pass.id === PAINT_PASS && pass.kind === 'adjust') return { evenness };
  if (pass.id === FALL_PASS && pass.kind === 'light') return { ...fall };
  if (pass.id === FINISH_PASS && pass.kind === 'adjust') return { ...finish };
  return null;
}

/** Passes with the settings of a start; what a person removed or made by hand is left alone. */
export const withStart = (passes: readonly Pass[], start: Start): Pass[] => passes.map((pass) => ({ ...pass, ...asked(pass, start) }) as Pass);

/** The same as one step of a history; null where there is nothing that it could change. */
export function startCommand(passes: readonly Pass[], start: Start): Command | null {
  const commands = passes.flatMap((pass): Command[] => {
    const changes = asked(pass, start);
    return changes ? [{ kind: 'changePass', id: pass.id, changes }] : [];
  });
  return commands.length > 0 ? { kind: 'several', commands } : null;
}

/** The start that passes have the settings of; null: somebody went on from there, or its passes are gone. */
export function startOf(passes: readonly Pass[]): Start | null {
  // Passes that were proposed before there was a setting do not have it.
  const is = (now: unknown, value: unknown, key: string): boolean => now === value || (now === undefined && key in ADJUST_LEFT_OUT);
  const has = (pass: Pass, changes: PassChanges): boolean => Object.entries(changes).every(([key, value]) => is((pass as unknown as Record<string, unknown>)[key], value, key));
  const from = passes.filter((pass) => asked(pass, FIRST_START));
  return from.length === 0 ? null : STARTS.find((start) => from.every((pass) => has(pass, asked(pass, start)!))) ?? null;
}

/** Whether a step of a history only chose a start. */
export const choosesStart = (command: Command): boolean =>
  command.kind === 'several' && command.commands.every((part) => part.kind === 'changePass' && (part.id === FALL_PASS || part.id === PAINT_PASS || part.id === FINISH_PASS));
