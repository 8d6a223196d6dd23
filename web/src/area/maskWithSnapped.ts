import isEqual from 'fast-deep-equal';
import type { Area } from '@zaddle/document';

/** As a document keeps it: without what is left open. */
const plain = (area: Area): unknown => JSON.parse(JSON.stringify(area));

/** A mask with one of its areas snapped. @returns 'changed' where the area is not what it was when that was asked for, so that a hand's later work stays; 'same' where snapping left it as it was */
export function maskWithSnapped(mask: readonly Area[], asked: Area, snapped: Area): readonly Area[] | 'changed' | 'same' {
  if (!mask.some((area) => isEqual(plain(area), plain(asked)))) return 'changed';
  if (isEqual(plain(asked), plain(snapped))) return 'same';
  return mask.map((area) => (area.id === snapped.id ? snapped : area));
}
