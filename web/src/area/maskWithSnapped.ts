import isEqual from 'fast-deep-equal';
import type { Area } from '@zaddle/document';

/** A mask with one of its areas snapped. @returns 'changed' where the area is not what it was when that was asked for, so that a hand's later work stays; 'same' where snapping left it as it was */
export function maskWithSnapped(mask: readonly Area[], asked: Area, snapped: Area): readonly Area[] | 'changed' | 'same' {
  if (!mask.some((area) => isEqual(area, asked))) return 'changed';
  if (isEqual(asked, snapped)) return 'same';
  return mask.map((area) => (area.id === snapped.id ? snapped : area));
}
