import { createSlice, type PayloadAction } from '@reduxjs/toolkit';

/** How the pictures are laid out. */
export type WallOrder = 'tour' | 'room' | 'gain';
/** What is shown large over the wall. */
type WallView = 'wall' | 'one' | 'several';

interface WallState {
  /** The shoot that all this is about. */
  readonly shoot: string | null;
  /** The picture that keys act on. */
  readonly current: string | null;
  /** Chosen pictures, for comparing or acting on several. */
  readonly chosen: readonly string[];
  readonly order: WallOrder;
  /** Place in the list of widths. */
  readonly size: number;
  readonly view: WallView;
  /** The frame as shot is shown in the place of the picture. */
  readonly before: boolean;
}

/** Widths of pictures on the wall, pixels. */
export const WIDTHS = [180, 240, 320, 430, 600] as const;
/** Pictures that are compared at most. */
export const MOST_COMPARED = 4;

const initialState: WallState = { shoot: null, current: null, chosen: [], order: 'tour', size: 2, view: 'wall', before: false };

/** Where the person is on the wall: kept while the desk is open, so that they come back to the same place. */
export const wallSlice = createSlice({
  name: 'wall',
  initialState,
  reducers: {
    wallEntered: (state, { payload: shoot }: PayloadAction<string>) => (state.shoot === shoot ? { ...state, before: false } : { ...initialState, shoot, size: state.size }),
    pictureReached: (state, { payload: current }: PayloadAction<string>) => ({ ...state, current }),
    pictureChosen: (state, { payload: id }: PayloadAction<string>) => ({ ...state, current: id, chosen: state.chosen.includes(id) ? state.chosen.filter((each) => each !== id) : [...state.chosen, id] }),
    chosenCleared: (state) => ({ ...state, chosen: [], view: state.view === 'several' ? 'wall' : state.view }),
    wallOrdered: (state, { payload: order }: PayloadAction<WallOrder>) => ({ ...state, order }),
    wallSized: (state, { payload: by }: PayloadAction<number>) => ({ ...state, size: Math.max(0, Math.min(WIDTHS.length - 1, state.size + by)) }),
    viewTaken: (state, { payload: view }: PayloadAction<WallView>) => ({ ...state, view, before: false }),
    beforeShown: (state, { payload: before }: PayloadAction<boolean>) => ({ ...state, before }),
  },
});
export const { wallEntered, pictureReached, pictureChosen, chosenCleared, wallOrdered, wallSized, viewTaken, beforeShown } = wallSlice.actions;
