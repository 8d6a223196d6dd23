import type { Options } from 'react-hotkeys-hook';

/** Kinds of input that text is typed into. */
const TYPED = new Set(['text', 'search', 'email', 'url', 'number', 'password', 'datetime-local', 'date', 'time']);

/** Whether somebody is typing text, or choosing by typing. */
function isTyping(event: KeyboardEvent): boolean {
  const { target } = event;
  if (target instanceof HTMLInputElement) return TYPED.has(target.type) && !target.readOnly;
  return target instanceof HTMLTextAreaElement || target instanceof HTMLSelectElement || (target instanceof HTMLElement && target.isContentEditable);
}

/** Keys that work wherever the focus is, except while somebody types. Faders keep their arrows. */
export const KEYS_WHEREVER: Options = {
  enableOnFormTags: ['INPUT', 'slider', 'radio', 'option', 'menuitem', 'spinbutton'],
  ignoreEventWhen: (event) => isTyping(event) || (event.key.startsWith('Arrow') && event.target instanceof HTMLInputElement && event.target.type === 'range'),
};
