/*
 * How values are shown beside their sliders, and what a typed number stands for.
 */
export type Show = (value: number) => string;

export const percent: Show = (v) => `${Math.round(v * 100)} %`;
export const stops: Show = (v) => `${v > 0 ? '+' : v < 0 ? '−' : ''}${Math.abs(v).toFixed(2)}`;
/** Per cent with a decimal. */
export const tenthsPercent: Show = (v) => `${(v * 100).toFixed(1)} %`;
export const pixels: Show = (v) => `${v.toFixed(2)} px`;
export const degrees: Show = (v) => `${Math.round(v)}°`;
export const fineDegrees: Show = (v) => `${stops(v)}°`;
export const whole: Show = (v) => `${Math.round(v) > 0 ? '+' : Math.round(v) < 0 ? '−' : ''}${Math.abs(Math.round(v))}`;
/** A temperature, from reciprocal megakelvins turned round so that more is warmer. */
export const kelvin: Show = (v) => `${Math.round(-1e6 / v / 10) * 10} K`;

const READ = new Map<Show, (typed: number) => number>([[percent, (v) => v / 100], [tenthsPercent, (v) => v / 100], [pixels, (v) => v], [stops, (v) => v], [degrees, (v) => v], [fineDegrees, (v) => v], [whole, (v) => v], [kelvin, (v) => -1e6 / v]]);

/** Numbers as people type them: a comma for a point, a minus of any length, a unit behind. */
const typedNumber = (text: string): number => Number(text.replace(',', '.').replace(/[−–]/, '-').replace(/[^\d.+-]/g, '') || NaN);

/** Whether a value shown like this can be typed. */
export const canBeTyped = (show: Show): boolean => READ.has(show);
/** What somebody typed, as the slider has it; NaN where it is no number. */
export const readTyped = (show: Show, text: string): number => READ.get(show)?.(typedNumber(text)) ?? NaN;
