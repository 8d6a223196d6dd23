import { DRAWN } from '../area/areas';

/** All keys, as the list behind `?` shows them, by page. */
export const SHORTCUTS = {
  Gather: [
    { keys: '← and →', what: 'The frame before and after' },
    { keys: 'Enter', what: 'Review frames large; Escape goes back' },
    { keys: 'v', what: 'Mark or unmark' },
    { keys: 'x', what: 'Drop from the shoot' },
    { keys: 'f', what: 'Only marked frames, or all' },
    { keys: 't', what: 'In review: hold this frame beside the others' },
    { keys: 'n', what: 'New shot from the chosen frames' },
    { keys: 'i', what: 'Split the shot before this frame' },
    { keys: 'y', what: 'Join the shot with the one before' },
    { keys: '[ and ]', what: 'Move to the shot before and after' },
    { keys: 'Ctrl + Z, Ctrl + Shift + Z', what: 'Undo and redo' },
  ],
  Desk: [
    { keys: 'p', what: 'Paint: reveal the selected pass' },
    { keys: 'o', what: 'Paint: hide the selected pass' },
    ...DRAWN.map(({ key, shortcut }) => ({ keys: key, what: shortcut })),
    { keys: 'Escape', what: 'Put the tool down; drag moves the picture' },
    { keys: ', and .', what: 'Smaller and larger brush (also Alt + wheel)' },
    { keys: '; and \'', what: 'Harder and softer brush' },
    { keys: '1 to 9', what: 'Brush strength 10 % to 90 %, 0 for full' },
    { keys: 'k and l', what: 'Select the pass to the left and to the right' },
    { keys: 'm and s', what: 'Mute or solo the selected pass' },
    { keys: 'b', what: 'Before and after' },
    { keys: 'c', what: 'Mark what is clipped' },
    { keys: 'a', what: 'Line-up: check and correct how frames lie' },
    { keys: 'd, h and j', what: 'In line-up: difference, see-through, blink' },
    { keys: 'Arrows', what: 'In line-up: nudge by a quarter pixel, with Shift by 2 pixels' },
    { keys: '[ and ]', what: 'In line-up: turn; with Shift: smaller and larger' },
    { keys: 'w and e', what: 'Whole picture, and 1:1' },
    { keys: 'Ctrl + Z, Ctrl + Shift + Z', what: 'Undo and redo' },
  ],
} as const;
