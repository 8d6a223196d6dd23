import { changedPlaces, disclosure } from '@zaddle/core/clean/changedPlaces';
import type { FrameId, Mix } from '@zaddle/document';

/** What a mix replaces or fills, a line each, for the files that are delivered. */
export const changedLines = (mix: Mix, nameOf: (frame: FrameId) => string): string[] => disclosure(changedPlaces(mix), nameOf);
