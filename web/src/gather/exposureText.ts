import type { FrameFacts } from '@zaddle/core/intake/frameFacts';

/** Shutter time as cameras write it. */
export const shutterText = (seconds: number | null): string => (seconds === null ? '' : seconds < 0.4 ? `1/${Math.round(1 / seconds)}` : `${Math.round(seconds * 10) / 10} s`);

/** Everything that EXIF says of an exposure, in one line. */
export const exposureText = (facts: FrameFacts | null): string =>
  facts ? [shutterText(facts.seconds), facts.aperture ? `f/${facts.aperture}` : '', facts.iso ? `ISO ${facts.iso}` : '', `${facts.width} × ${facts.height}`].filter(Boolean).join(' · ') : '';
