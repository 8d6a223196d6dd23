import type { Frame, Shot } from '../store/api';

/** Whether it is known already what a frame is for. */
export const isTold = (frame: Frame, shot: Shot | undefined): boolean => frame.state === 'gathered' && shot !== undefined && shot.state !== 'sorted';

/** What a frame is for, as far as that is known. */
export function roleText(frame: Frame, shot: Shot | undefined): string {
  if (frame.state !== 'gathered') return 'reading…';
  if (frame.dropped) return 'dropped';
  if (frame.facts?.twinOf) return 'twin';
  return isTold(frame, shot) ? frame.role : '…';
}
