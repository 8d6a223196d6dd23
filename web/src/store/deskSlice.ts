import { createSlice, type PayloadAction } from '@reduxjs/toolkit';

/** What a drag on the picture does. */
export type Tool = 'pan' | 'reveal' | 'hide' | 'ramp';
/** What the picture shows. */
export type Look = 'after' | 'before' | 'clipping';

export interface DeskState {
  readonly selected: string | null;
  readonly solo: string | null;
  readonly tool: Tool;
  readonly look: Look;
  /** Brush radius as a share of the picture's longer side. */
  readonly radius: number;
  readonly softness: number;
  readonly strength: number;
}

const initialState: DeskState = { selected: null, solo: null, tool: 'pan', look: 'after', radius: 0.035, softness: 0.6, strength: 1 };

const clamp = (v: number, low: number, high: number): number => Math.min(high, Math.max(low, v));

/** What the person is doing at the desk; the mix itself lies on the server. */
export const deskSlice = createSlice({
  name: 'desk',
  initialState,
  reducers: {
    opened: (_state, { payload }: PayloadAction<string | null>) => ({ ...initialState, selected: payload }),
    selected: (state, { payload }: PayloadAction<string | null>) => ({ ...state, selected: payload, tool: payload === null ? 'pan' : state.tool }),
    soloed: (state, { payload }: PayloadAction<string>) => ({ ...state, solo: state.solo === payload ? null : payload }),
    toolTaken: (state, { payload }: PayloadAction<Tool>) => ({ ...state, tool: payload }),
    lookChosen: (state, { payload }: PayloadAction<Look>) => ({ ...state, look: state.look === payload ? 'after' : payload }),
    radiusScaled: (state, { payload }: PayloadAction<number>) => ({ ...state, radius: clamp(state.radius * payload, 0.002, 0.4) }),
    softnessSet: (state, { payload }: PayloadAction<number>) => ({ ...state, softness: clamp(payload, 0, 1) }),
    strengthSet: (state, { payload }: PayloadAction<number>) => ({ ...state, strength: clamp(payload, 0.02, 1) }),
  },
});

export const { opened, selected, soloed, toolTaken, lookChosen, radiusScaled, softnessSet, strengthSet } = deskSlice.actions;
