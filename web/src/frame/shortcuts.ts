/** All keys, as the list behind `?` shows them. */
export const SHORTCUTS = [
  { keys: 'p', what: 'Paint: reveal the selected pass' },
  { keys: 'o', what: 'Paint: hide the selected pass' },
  { keys: 'r', what: 'Draw a ramp on the selected pass' },
  { keys: 'Escape', what: 'Put the tool down; drag moves the picture' },
  { keys: ', and .', what: 'Smaller and larger brush (also Alt + wheel)' },
  { keys: '; and \'', what: 'Harder and softer brush' },
  { keys: '1 to 9', what: 'Brush strength 10 % to 90 %, 0 for full' },
  { keys: 'k and l', what: 'Select the pass to the left and to the right' },
  { keys: 'm and s', what: 'Mute or solo the selected pass' },
  { keys: 'b', what: 'Before and after' },
  { keys: 'c', what: 'Mark what is clipped' },
  { keys: 'w and e', what: 'Whole picture, and 1:1' },
  { keys: 'Ctrl + Z, Ctrl + Shift + Z', what: 'Undo and redo' },
] as const;
