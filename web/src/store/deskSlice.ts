import type { Area } from '@zaddle/document';
import { createSlice, type PayloadAction } from '@reduxjs/toolkit';

/** What a drag on the picture does: move it, paint on the selected pass, or draw an area of a kind on it. */
export type Tool = 'pan' | 'search' | 'heal' | 'more' | 'less' | 'neutral' | 'tone' | 'sample' | 'band' | 'fillRamp' | Area['kind'];
/** A place that is searched in all frames, shares of the longer side; `at` is its middle. */
export interface SearchedSpot {
  readonly areas: readonly Area[];
  readonly at: readonly [number, number];
  /** Where it was found by itself, and may be let stay: the frame that shows something there. */
  readonly found?: { readonly frame: string | null };
  /** It is not searched, but healed from the picture itself. */
  readonly heals?: boolean;
}
/** What the picture shows. */
export type Look = 'after' | 'before' | 'without' | 'clipping' | 'coloured' | 'mask' | 'edges';

/** What is compared with the picture: another of its states, a frame, a version, or a picture that was dropped in. */
export type Compared = 'before' | 'without' | 'client' | `frame:${string}` | `version:${string}`;
/** How two pictures are held beside each other. */
export const COMPARE_WAYS = ['wipe', 'blink', 'through', 'difference', 'beside'] as const;
export type CompareWay = (typeof COMPARE_WAYS)[number];

/** From the picture to its part in colour, to the mask alone, and back: what choosing it goes to. */
export const nextMaskLook = (look: Look): Look => (look === 'coloured' || look === 'mask' ? 'mask' : 'coloured');

/** What lies where the pass panel is. */
export type Panel = 'pass' | 'lineUp' | 'framing' | 'finish' | 'methods';
/** How the chosen frame is held against the reference. */
export type CheckKind = 'off' | 'through' | 'difference' | 'blink';

export interface DeskState {
  readonly panel: Panel;
  /** The frame that is lined up by hand, and the pass it is moved for alone, if any. */
  readonly frame: string | null;
  readonly alone: boolean;
  readonly check: CheckKind;
  /** The pass whose area is to be lined up by itself, counted so that asking again is something new. */
  /** The area that is to be moved onto edges, counted likewise. */
  /** An outline is being moved onto edges. */
  readonly snapping: boolean;
  readonly snap: { readonly pass: string; readonly area: string; readonly count: number } | null;
  /** The fill that is to look as a screen that is off, counted likewise. */
  readonly screen: { readonly pass: string; readonly count: number } | null;
  /** Places of dust that are to be healed, counted likewise. */
  readonly dust: { readonly places: readonly (readonly [number, number, number])[]; readonly count: number } | null;
  readonly part: { readonly pass: string; readonly count: number } | null;
  /** A place of the picture to be looked at, pixels of the reference, counted so that asking again is something new. */
  readonly place: { readonly at: readonly [number, number]; readonly count: number } | null;
  /** The place whose looks in all frames lie beside it; null: none. */
  readonly spot: SearchedSpot | null;
  /** While framing: a drag draws a line on something straight. */
  readonly lining: boolean;
  /** What lies beyond the crop is shown, dimmed. */
  readonly beyond: boolean;
  /** The ratio of orders whose own crop is worked on; null: the picture's. */
  readonly cropFor: number | null;
  /** The order whose crop and size the picture is seen in, by its id; null: as it stands. */
  readonly order: string | null;
  /** Handles for the four corners are shown. */
  readonly corners: boolean;
  /** Readings, and the drawer that passes are added from, are open. */
  readonly readings: boolean;
  readonly drawer: boolean;
  /** Nothing but the picture is shown. */
  readonly folded: boolean;
  /** Not even a frame round the picture: nothing but the grey that it is judged on. */
  readonly calm: boolean;
  readonly selected: string | null;
  /** Further passes that are chosen along with the selected one, to be bundled. */
  readonly chosen: readonly string[];
  /** Bundles whose passes are not shown among the strips. */
  readonly closed: readonly string[];
  /** A mask that was taken along, from shot to shot. */
  readonly mask: { readonly from: string; readonly areas: readonly Area[] } | null;
  /** What the picture is compared with, how, and where the line of a wipe is, as a share of the stage; null: nothing. */
  readonly compare: { readonly with: Compared; readonly way: CompareWay; readonly at: number } | null;
  /** What lies under the pointer is told. */
  readonly telling: boolean;
  /** The picture is shown as a map of which pass gives most where. */
  readonly mapped: boolean;
  /** What was replaced or filled is outlined. */
  readonly marking: boolean;
  /** Ways that the picture could be which are laid out side by side: to begin with, or to render its tones, or those of the selected pass alone. */
  readonly laid: 'starts' | 'renderings' | 'renderings of the pass' | null;
  /** The area of the selected pass whose handles are shown. */
  readonly area: string | null;
  /** The band of hues of the selected pass whose pixels are shown; null: none. */
  readonly band: number | null;
  /** The darkest or the brightest tones are being moved: what clips is marked meanwhile. */
  readonly ends: boolean;
  readonly solo: string | null;
  readonly tool: Tool;
  readonly look: Look;
  /** Brush radius as a share of the picture's longer side. */
  readonly radius: number;
  readonly softness: number;
  readonly strength: number;
}

const initialState: DeskState = { panel: 'pass', frame: null, alone: false, check: 'off', corners: false, lining: false, beyond: false, cropFor: null, order: null, part: null, snapping: false, snap: null, screen: null, dust: null, place: null, spot: null, readings: false, drawer: false, folded: false, calm: false, selected: null, chosen: [], closed: [], mask: null, compare: null, telling: false, mapped: false, marking: false, laid: null, area: null, band: null, ends: false, solo: null, tool: 'pan', look: 'after', radius: 0.035, softness: 0.6, strength: 1 };

const clamp = (v: number, low: number, high: number): number => Math.min(high, Math.max(low, v));

/** What the person is doing at the desk; the mix itself lies on the server. */
export const deskSlice = createSlice({
  name: 'desk',
  initialState,
  reducers: {
    opened: ({ folded, readings, mask }, { payload }: PayloadAction<string | null>) => ({ ...initialState, folded, readings, mask, selected: payload }),
    readingsToggled: (state) => ({ ...state, readings: !state.readings, folded: false }),
    drawerToggled: (state) => ({ ...state, drawer: !state.drawer, folded: false }),
    calmToggled: (state) => ({ ...state, calm: !state.calm }),
    foldToggled: (state) => ({ ...state, folded: !state.folded }),
    selected: (state, { payload }: PayloadAction<string | null>) => ({ ...state, selected: payload, chosen: [], area: null, band: null, tool: payload === null ? 'pan' : state.tool }),
    passesChosen: (state, { payload }: PayloadAction<readonly string[]>) => ({ ...state, chosen: payload }),
    bundleClosed: (state, { payload }: PayloadAction<string>) => ({ ...state, closed: state.closed.includes(payload) ? state.closed.filter((id) => id !== payload) : [...state.closed, payload] }),
    maskCopied: (state, { payload }: PayloadAction<NonNullable<DeskState['mask']>>) => ({ ...state, mask: payload }),
    comparedWith: (state, { payload }: PayloadAction<Compared | null>) => ({ ...state, compare: payload && { way: state.compare?.way ?? ('wipe' as const), at: state.compare?.at ?? 0.5, with: payload } }),
    wayChosen: (state, { payload }: PayloadAction<CompareWay>) => ({ ...state, compare: state.compare && { ...state.compare, way: payload } }),
    wipedTo: (state, { payload }: PayloadAction<number>) => ({ ...state, compare: state.compare && { ...state.compare, at: clamp(payload, 0, 1) } }),
    laidOut: (state, { payload }: PayloadAction<DeskState['laid']>) => ({ ...state, laid: payload === state.laid ? null : payload, compare: null, spot: null }),
    markingToggled: (state) => ({ ...state, marking: !state.marking }),
    mapToggled: (state) => ({ ...state, mapped: !state.mapped }),
    tellingToggled: (state) => ({ ...state, telling: !state.telling }),
    areaChosen: (state, { payload }: PayloadAction<string | null>) => ({ ...state, area: state.area === payload ? null : payload }),
    panelOpened: (state, { payload }: PayloadAction<Panel>) => ({ ...state, panel: payload, cropFor: null, order: payload === 'framing' ? null : state.order, spot: null, check: 'off' as const, corners: false, lining: false, tool: 'pan' as const, look: 'after' as const }),
    liningToggled: (state) => ({ ...state, lining: !state.lining }),
    endsMoved: (state, { payload }: PayloadAction<boolean>) => (state.ends === payload ? state : { ...state, ends: payload }),
    bandShown: (state, { payload }: PayloadAction<number | null>) => ({ ...state, band: payload }),
    cropWorkedOn: (state, { payload }: PayloadAction<number | null>) => ({ ...state, cropFor: payload }),
    beyondToggled: (state) => ({ ...state, beyond: !state.beyond, order: null }),
    orderSeen: (state, { payload }: PayloadAction<string | null>) => ({ ...state, order: payload, beyond: false, panel: state.panel === 'framing' ? ('pass' as const) : state.panel }),
    nextOrderSeen: (state, { payload }: PayloadAction<readonly string[]>) => ({ ...state, order: [...payload, null][(payload.indexOf(state.order ?? '') + 1) % (payload.length + 1)], beyond: false, panel: state.panel === 'framing' ? ('pass' as const) : state.panel }),
    frameChosen: (state, { payload }: PayloadAction<string>) => ({ ...state, frame: payload }),
    aloneSet: (state, { payload }: PayloadAction<boolean>) => ({ ...state, alone: payload }),
    checkChosen: (state, { payload }: PayloadAction<CheckKind>) => ({ ...state, check: state.check === payload ? ('off' as const) : payload }),
    spotSearched: (state, { payload }: PayloadAction<SearchedSpot | null>) => ({ ...state, spot: payload, tool: payload ? (payload.heals ? ('heal' as const) : ('search' as const)) : state.tool, compare: payload ? null : state.compare, laid: null, look: 'after' as const }),
    cornersToggled: (state) => ({ ...state, corners: !state.corners }),
    partAsked: (state, { payload }: PayloadAction<string>) => ({ ...state, part: { pass: payload, count: (state.part?.count ?? 0) + 1 } }),
    snapAsked: (state, { payload }: PayloadAction<{ pass: string; area: string }>) => ({ ...state, snapping: true, snap: { ...payload, count: (state.snap?.count ?? 0) + 1 } }),
    snapEnded: (state) => ({ ...state, snapping: false }),
    screenAsked: (state, { payload }: PayloadAction<string>) => ({ ...state, screen: { pass: payload, count: (state.screen?.count ?? 0) + 1 } }),
    dustAsked: (state, { payload }: PayloadAction<NonNullable<DeskState['dust']>['places']>) => ({ ...state, dust: { places: payload, count: (state.dust?.count ?? 0) + 1 } }),
    placeAsked: (state, { payload }: PayloadAction<readonly [number, number]>) => ({ ...state, place: { at: payload, count: (state.place?.count ?? 0) + 1 } }),
    soloed: (state, { payload }: PayloadAction<string>) => ({ ...state, solo: state.solo === payload ? null : payload }),
    toolTaken: (state, { payload }: PayloadAction<Tool>) => ({ ...state, tool: payload, spot: null, panel: (state.panel === 'framing' || state.panel === 'finish' || state.panel === 'methods') && payload !== 'pan' ? ('pass' as const) : state.panel }),
    lookChosen: (state, { payload }: PayloadAction<Look>) => ({ ...state, look: state.look === payload ? 'after' : payload }),
    radiusScaled: (state, { payload }: PayloadAction<number>) => ({ ...state, radius: clamp(state.radius * payload, 0.002, 0.4) }),
    softnessSet: (state, { payload }: PayloadAction<number>) => ({ ...state, softness: clamp(payload, 0, 1) }),
    strengthSet: (state, { payload }: PayloadAction<number>) => ({ ...state, strength: clamp(payload, 0.02, 1) }),
  },
});

export const { endsMoved, bandShown, liningToggled, cropWorkedOn, beyondToggled, orderSeen, nextOrderSeen, spotSearched, laidOut, markingToggled, mapToggled, calmToggled, screenAsked, dustAsked, snapAsked, snapEnded, passesChosen, bundleClosed, maskCopied, comparedWith, wayChosen, wipedTo, tellingToggled, areaChosen, readingsToggled, drawerToggled, foldToggled, panelOpened, frameChosen, aloneSet, checkChosen, cornersToggled, partAsked, placeAsked, opened, selected, soloed, toolTaken, lookChosen, radiusScaled, softnessSet, strengthSet } = deskSlice.actions;
