import type { HuesArea } from '@zaddle/document';
import { degrees, percent } from '../desk/showValues';
import { NO_HANDLES, type AreaView } from './areaView';

export const hues: AreaView<HuesArea> = {
  ...NO_HANDLES,
  name: ({ hue, width }) => `Hues about ${Math.round(hue)}° ± ${Math.round(width)}°`,
  short: () => 'hues',
  drawing: null,
  listed: { label: 'Band of hues', start: () => ({ kind: 'hues', of: { kind: 'below' }, hue: 60, width: 25, softness: 20, chroma: 0.02 }) },
  fields: (area) => [
    { label: 'Hue', value: area.hue, min: 0, max: 360, step: 1, show: degrees, put: (hue) => ({ ...area, hue }) },
    { label: 'Width', value: area.width, min: 1, max: 180, step: 1, show: degrees, put: (width) => ({ ...area, width }) },
    { label: 'Softness', value: area.softness, min: 0, max: 180, step: 1, show: degrees, put: (softness) => ({ ...area, softness }) },
    { label: 'Colour from', value: area.chroma, min: 0, max: 0.2, step: 0.005, show: percent, put: (chroma) => ({ ...area, chroma }) },
  ],
};
