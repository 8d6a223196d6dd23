import type { Reading } from '@zaddle/core/read/readings';
import type { ContributionMap } from '@zaddle/core/graph/contributionMap';
import type { Probe } from '@zaddle/core/graph/probeMix';
import type { CandidateWord, WhyLooked } from '@zaddle/core/clean/rateCandidates';
import type { StanceFound } from '@zaddle/core/geometry/estimateStance';
import type { Area, DrawnLine, Grain, Matrix3, MixDocument, SourcePass, TableSpace, Triple } from '@zaddle/document';
import type { Check } from './checkMix';
import type { ScreenOff } from '@zaddle/core/clean/screenOff';
import type { HealWay } from './healSpot';
import type { PackedMix } from './mixTransfer';

/** How the picture lies on the screen: screen pixel = offset + scale * output pixel. */
export interface View {
  readonly scale: number;
  readonly x: number;
  readonly y: number;
  /** Size of the stage, screen pixels. */
  readonly width: number;
  readonly height: number;
}

/** What is marked in the picture: what is clipped, or where the mask of the pass that is worked on lies, the rest being grey, the mask alone, or where sharpening takes effect. */
export type Marks = 'none' | 'clipping' | 'coloured' | 'mask' | 'edges';

/** Something to be seen. */
export interface Wish {
  readonly mix: PackedMix;
  readonly view: View;
  /** The pass that is worked on: what lies below it is kept at hand. */
  readonly working: string | null;
  /** Not in the middle of a drag: maps of wide context are worked out anew. */
  readonly settled: boolean;
  /** The server has the mix as far as what its masks refer to: it can be asked for that. */
  readonly known: boolean;
  readonly marks: Marks;
  readonly check: Check | null;
  /** Another mix that is compared with this one, seen through the same view. */
  readonly other: PackedMix | null;
  readonly ticket: number;
}

/** A mix to be made small, and what it is known by. */
export interface Sketched<M> {
  readonly key: string;
  readonly mix: M;
  readonly columns: number;
  readonly rows: number;
}

/** What the screen asks of the engine. */
export type ToEngine =
  /** Once: ways to the threads that help with rendering. */
  | { readonly kind: 'threads'; readonly ports: readonly MessagePort[] }
  /** `opening` counts; answers carry it, so that those for a shot that was left are known. */
  | { readonly kind: 'open'; readonly opening: number; readonly shot: string; readonly kernels: WebAssembly.Module }
  /** Read what a shot that may be next is opened with, so that it is at hand. */
  | { readonly kind: 'ahead'; readonly shot: string; readonly frames: readonly string[] }
  | { readonly kind: 'show'; readonly wish: Wish }
  /** Line up the masked part of a pass by itself. */
  | { readonly kind: 'lineUpPart'; readonly mix: PackedMix; readonly pass: string }
  /** Move an outline or a box onto the edges near it. */
  | { readonly kind: 'snap'; readonly mix: PackedMix; readonly pass: string; readonly area: string }
  /** The masks of passes, small. */
  | { readonly kind: 'faces'; readonly mix: PackedMix; readonly columns: number; readonly rows: number }
  /** Which pass gives most, place by place, on a coarse grid. */
  | { readonly kind: 'map'; readonly mix: PackedMix; readonly columns: number; readonly rows: number }
  /** What is measured on the picture as it stands. */
  | { readonly kind: 'readings'; readonly mix: PackedMix }
  /** Mixes as small pictures, told one after the other. The newest wins. */
  | { readonly kind: 'sketch'; readonly sketches: readonly Sketched<PackedMix>[] }
  /** What every frame would give a place. The newest wins. */
  | { readonly kind: 'search'; readonly mix: PackedMix; readonly areas: readonly Area[]; readonly why: WhyLooked; readonly ticket: number }
  /** The insets that take the place that was searched last from a candidate. */
  | { readonly kind: 'inset'; readonly key: string; readonly id: string; readonly ticket: number }
  /** Ways to heal a place from the picture itself. The newest wins. */
  | { readonly kind: 'heal'; readonly mix: PackedMix; readonly areas: readonly Area[]; readonly ticket: number }
  /** The tones that a place has as a screen that is off. */
  | { readonly kind: 'screenOff'; readonly mix: PackedMix; readonly areas: readonly Area[]; readonly ticket: number }
  /** How the camera stood, from the reference's straight edges. @param focal focal length, longer sides */
  | { readonly kind: 'stance'; readonly mix: PackedMix; readonly focal: number; readonly ticket: number }
  /** Gains that take the cast away that lies below a pass, within its mask. */
  | { readonly kind: 'grain'; readonly mix: PackedMix; readonly view: View; readonly ticket: number }
  /** What a pass does to colours as the text of a colour table. */
  | { readonly kind: 'tabulate'; readonly mix: PackedMix; readonly pass: string; readonly space: TableSpace; readonly ticket: number }
  | { readonly kind: 'cast'; readonly mix: PackedMix; readonly pass: string; readonly ticket: number }
  /** A line that was drawn, moved onto the straight edge beside it. */
  | { readonly kind: 'snapLine'; readonly mix: PackedMix; readonly line: DrawnLine; readonly ticket: number }
  /** What the picture is at a place, output pixels, and where it comes from. The newest wins. */
  | { readonly kind: 'probe'; readonly mix: PackedMix; readonly at: readonly [number, number]; readonly scale: number; readonly pass: string | null; readonly ticket: number };

/** A question with its mix unpacked. */
export type Asked<K extends ToEngine['kind']> = Omit<Extract<ToEngine, { kind: K }>, 'mix'> & { readonly mix: MixDocument };

/** Which part of the stage a picture covers, and the view that it was made for. */
export interface Drawn {
  readonly view: View;
  readonly left: number;
  readonly top: number;
  readonly width: number;
  readonly height: number;
}

/** What one frame, or the darker of two, would give a place. */
export interface FoundCandidate {
  /** Names it among the others. */
  readonly key: string;
  readonly frames: readonly string[];
  readonly word: CandidateWord | 'two together';
  readonly face: ImageBitmap;
}

/** A place that was pointed at: as the picture has it, and as each frame would give it, the best first. */
export interface FoundSpot {
  readonly now: ImageBitmap;
  readonly candidates: readonly FoundCandidate[];
}

/** How the tones of what is seen are spread: counts of brightness 0..255, two by two, and the shares that are black and white in a colour. */
export interface ToneCounts {
  readonly counts: Uint32Array;
  readonly black: number;
  readonly white: number;
}

/** What the engine answers, for the shot that was opened as the `opening`th. */
export type FromEngine = { readonly opening: number } & Answer;

export type Answer =
  | { readonly kind: 'finding' }
  | { readonly kind: 'progress'; readonly done: number; readonly total: number }
  /** `final`: nothing of it is still to come. `level`: of the pixels that it was made from; null for those that are at hand from the beginning. */
  | { readonly kind: 'shown'; readonly ticket: number; readonly milliseconds: number; readonly drawn: Drawn; readonly bitmap: ImageBitmap; readonly other: ImageBitmap | null; readonly tones: ToneCounts | null; readonly final: boolean; readonly level: number | null }
  | { readonly kind: 'snapped'; readonly pass: string; readonly asked: Area; readonly area: Area }
  | { readonly kind: 'faced'; readonly faces: ReadonlyMap<string, ImageBitmap> }
  | { readonly kind: 'mapped'; readonly map: ContributionMap }
  | { readonly kind: 'read'; readonly readings: readonly Reading[] }
  | { readonly kind: 'sketched'; readonly key: string; readonly picture: ImageBitmap }
  | { readonly kind: 'probed'; readonly ticket: number; readonly probe: Probe }
  /** `more`: the same follows from finer pixels. */
  | { readonly kind: 'searched'; readonly ticket: number; readonly spot: FoundSpot | null; readonly more: boolean }
  /** One way to heal a place, null: none is found; `more`: another may follow. */
  | { readonly kind: 'healed'; readonly ticket: number; readonly way: HealWay | null; readonly more: boolean }
  | { readonly kind: 'screened'; readonly ticket: number; readonly tones: ScreenOff | null }
  | { readonly kind: 'stanceTold'; readonly ticket: number; readonly stance: StanceFound | null }
  | { readonly kind: 'grainTold'; readonly ticket: number; readonly grain: Grain | null }
  | { readonly kind: 'castTold'; readonly ticket: number; readonly gains: Triple | null }
  | { readonly kind: 'tabulated'; readonly ticket: number; readonly text: string | null }
  | { readonly kind: 'lineSnapped'; readonly ticket: number; readonly line: DrawnLine | null }
  /** Insets that take the place from a candidate, from underneath to on top; none: it has nothing there. */
  | { readonly kind: 'insetMade'; readonly ticket: number; readonly insets: readonly SourcePass[] }
  | { readonly kind: 'partLinedUp'; readonly pass: string; readonly found: { readonly alignment: Matrix3; readonly residualPx: number; readonly windows: number } | null }
  | { readonly kind: 'failed'; readonly why: string };
