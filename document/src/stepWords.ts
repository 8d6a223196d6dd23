import type { Area } from './area/areas';
import type { Command, PassChanges } from './commands';
import type { AppliedMethod } from './method';
import type { Pass } from './pass/passes';
import type { TableUse } from './pass/tableUse';
import { frameOfSource, type Source } from './pass/sourcePass';

/** Names of passes and frames by their ids, as people know them. */
export interface StepNames {
  readonly pass: (id: string) => string;
  readonly frame: (id: string) => string;
}

const signed = (v: number, digits: number): string => `${v > 0 ? '+' : v < 0 ? '−' : ''}${Math.abs(v).toFixed(digits)}`;
const percent = (v: unknown): string => `${Math.round(Number(v) * 100)} %`;
const stops = (v: unknown): string => `${signed(Number(v), 2)} stops`;
const sourceWords = (source: Source, { frame }: StepNames): string => (source.kind === 'merge' ? 'the ambient' : source.kind === 'below' ? 'what is below' : `${frame(frameOfSource(source)!)}${source.kind === 'flash' ? ', flash alone' : source.kind === 'switched' ? ', lamps alone' : ''}`);
const AREA_WORDS: Readonly<Record<Area['kind'], string>> = { brush: 'what was painted', ramp: 'a ramp', spot: 'a spot', outline: 'an outline', box: 'a box', tones: 'a tonal range', channel: 'a colour component', hues: 'a band of hues', found: 'what was found', same: 'a linked mask' };

/** One changed value of a pass, in words. */
function changeWords(key: string, value: unknown, names: StepNames): string {
  switch (key as keyof PassChanges) {
    case 'name': return `named “${String(value)}”`;
    case 'on': return value ? 'heard again' : 'muted';
    case 'opacity': return `opacity ${percent(value)}`;
    case 'exposure': return stops(value);
    case 'balance': return 'white balance';
    case 'mask': return 'mask';
    case 'source': return `takes ${sourceWords(value as Source, names)}`;
    case 'alignment': return value === null ? 'lies as its frame' : 'lined up by itself';
    case 'matched': return value ? 'its light brought to what lies around' : 'its light as it comes';
    case 'patches': return 'takes its pixels from elsewhere';
    case 'softness': return 'softness';
    case 'mode': return String(value);
    case 'brightness': return `brightness ${percent(value)}`;
    case 'colour': return `colour ${percent(value)}`;
    case 'contrast': return `contrast ${percent(value)}`;
    case 'highlights': return `highlights ${stops(value)}`;
    case 'shadows': return `shadows ${stops(value)}`;
    case 'saturation': return `saturation ${percent(value)}`;
    case 'curve': return 'tones';
    case 'bands': return 'colours by their hue';
    case 'muted': return `muted colours ${percent(value ?? 0)}`;
    case 'evenness': return `colour of light evened out ${percent(value ?? 0)}`;
    case 'localContrast': return `local contrast ${percent(value ?? 0)}`;
    case 'glow': return `glow ${percent(value ?? 0)}`;
    case 'veil': return `veil taken away ${percent(value ?? 0)}`;
    case 'table': return value ? `colour table “${(value as TableUse).name}”, ${percent((value as TableUse).strength)}` : 'no colour table';
    case 'tied': return value ? 'tied to the pass under it' : 'for all below';
    default: return key;
  }
}

const MIX_WORDS: Readonly<Record<string, string>> = { noise: 'noise', sharpening: 'sharpening', lens: 'lens', corrects: 'lens corrections', response: 'camera response', geometry: 'crop', width: 'crop', height: 'crop', merge: 'frames that are joined', reference: 'reference', frames: 'frames', passes: 'passes' };

const methodWords = (applied: AppliedMethod | null): string => (applied ? `Method “${applied.method.name}”, ${percent(applied.strength)}` : 'Method taken off');

/** The sentence for several commands in one step: what most of them do. */
function severalWords(commands: readonly Command[], names: StepNames): string {
  const method = commands.find((c): c is Extract<Command, { kind: 'changeMix' }> => c.kind === 'changeMix' && 'method' in c.changes);
  if (method) return stepWords(method, names);
  const bundled = commands.find((c): c is Extract<Command, { kind: 'addPass' }> => c.kind === 'addPass' && c.pass.kind === 'bundle');
  if (bundled && commands.some((c) => c.kind === 'movePass')) return `${bundled.pass.name}: bundled`;
  if (commands.every((c) => c.kind === 'changeFrame') && new Set(commands.map((c) => 'id' in c && c.id)).size > 1) return `${commands.every((c) => 'stops' in c.changes) ? 'Exposure' : 'White balance'} of all frames`;
  if (commands.every((c) => c.kind === 'movePass' || c.kind === 'removePass') && commands.some((c) => c.kind === 'movePass')) return 'Bundle dissolved';
  const all = [...new Set(commands.map((command) => stepWords(command, names)))];
  return all.length <= 2 ? all.join('; ') : `${all[0]} and ${all.length - 1} more`;
}

/** What a command did, as a history says it: 'Flash 2: +0.30 stops', 'Painted less of Fall of light'. */
export function stepWords(command: Command, names: StepNames): string {
  switch (command.kind) {
    case 'addPass': return `${command.pass.name}: added`;
    case 'removePass': return `${names.pass(command.id)}: removed`;
    case 'movePass': return `${names.pass(command.id)}: moved${command.within === undefined ? '' : command.within === null ? ' out of its bundle' : ` into ${names.pass(command.within)}`}`;
    case 'changePass': return `${names.pass(command.id)}: ${Object.entries(command.changes).map(([key, value]) => changeWords(key, value, names)).join(', ')}`;
    case 'addArea': return command.area.kind === 'brush' ? `Painted ${command.area.join === 'subtract' ? 'less' : 'more'} of ${names.pass(command.pass)}` : `${names.pass(command.pass)}: ${AREA_WORDS[command.area.kind]} added to its mask`;
    case 'removeArea': return `${names.pass(command.pass)}: a part of its mask removed`;
    case 'addStroke': return `Painted ${command.stroke.reveal ? 'more' : 'less'} of ${names.pass(command.pass)}`;
    case 'removeStroke': return `${names.pass(command.pass)}: a stroke removed`;
    case 'several': return severalWords(command.commands, names);
    case 'addFrame': return `${names.frame(command.id)}: lined up by hand`;
    case 'removeFrame': return `${names.frame(command.id)}: left out`;
    case 'changeFrame': return `${names.frame(command.id)}: ${'homography' in command.changes ? 'moved into line' : 'stops' in command.changes ? 'exposure' : 'white balance'}`;
    case 'changeMix': return 'method' in command.changes ? methodWords(command.changes.method ?? null) : command.changes.framing ? 'Framed anew' : `${[...new Set(Object.keys(command.changes).map((key) => MIX_WORDS[key] ?? key))].join(', ')} changed`.replace(/^./, (c) => c.toUpperCase());
  }
}

/** Names of passes that commands and their inverses bring with them, for those that are not there any more. */
export function namesIn(commands: readonly Command[]): Map<string, string> {
  const names = new Map<string, string>();
  const note = (pass: Pass): void => void names.set(pass.id, pass.name);
  const look = (command: Command): void => {
    if (command.kind === 'addPass') note(command.pass);
    else if (command.kind === 'several') command.commands.forEach(look);
    else if (command.kind === 'changeMix') (command.changes.passes ?? []).forEach(note);
  };
  commands.forEach(look);
  return names;
}
