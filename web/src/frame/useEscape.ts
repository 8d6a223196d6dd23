import { useEffect } from 'react';

/**
 * Escape closes what is opened, wherever the focus is: a button that was pressed there may be disabled or gone by now, and
 * the focus with it. It is meant for that alone; keys of the page below do not hear it.
 */
export function useEscape(opened: boolean, close: () => void): void {
  useEffect(() => {
    if (!opened) return;
    const pressed = (event: KeyboardEvent): void => {
      if (event.key !== 'Escape' || event.isComposing) return;
      event.stopPropagation();
      close();
    };
    window.addEventListener('keydown', pressed, { capture: true });
    return () => window.removeEventListener('keydown', pressed, { capture: true });
  });
}
