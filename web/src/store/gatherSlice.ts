import { createSlice, type PayloadAction } from '@reduxjs/toolkit';

/** Which shots are listed. */
export type Sieve = 'all' | 'doubtful' | 'marked';

export interface GatherState {
  /** The frame that keys act on. */
  readonly current: string | null;
  /** Chosen frames, for acting on several at once. */
  readonly chosen: readonly string[];
  readonly sieve: Sieve;
  /** Whether frames are reviewed one by one, large. */
  readonly reviewing: boolean;
  /** The frame that the current one is held against. */
  readonly pinned: string | null;
}

const initialState: GatherState = { current: null, chosen: [], sieve: 'all', reviewing: false, pinned: null };

/** What the person is doing while gathering; the grouping itself lies on the server. */
export const gatherSlice = createSlice({
  name: 'gather',
  initialState,
  reducers: {
    entered: () => initialState,
    /** Plain: only this one. Adding: this one, too, or no more. Range: all from the current one on, as listed. */
    framePicked: (state, { payload: { id, how, listed } }: PayloadAction<{ id: string; how: 'only' | 'toggle' | 'range'; listed: readonly string[] }>) => {
      if (how === 'only') return { ...state, current: id, chosen: [id] };
      if (how === 'toggle') return { ...state, current: id, chosen: state.chosen.includes(id) ? state.chosen.filter((f) => f !== id) : [...state.chosen, id] };
      const [from, to] = [listed.indexOf(state.current ?? id), listed.indexOf(id)].sort((a, b) => a - b);
      return { ...state, chosen: listed.slice(Math.max(0, from), to + 1) };
    },
    currentMoved: (state, { payload }: PayloadAction<string>) => ({ ...state, current: payload, chosen: [payload] }),
    choiceCleared: (state) => ({ ...state, chosen: [] }),
    sieveSet: (state, { payload }: PayloadAction<Sieve>) => ({ ...state, sieve: payload }),
    reviewOpened: (state, { payload }: PayloadAction<string>) => ({ ...state, reviewing: true, current: payload, chosen: [payload], pinned: null }),
    reviewClosed: (state) => ({ ...state, reviewing: false, pinned: null }),
    pinToggled: (state) => ({ ...state, pinned: state.pinned === null ? state.current : null }),
  },
});

export const { entered, framePicked, currentMoved, choiceCleared, sieveSet, reviewOpened, reviewClosed, pinToggled } = gatherSlice.actions;
