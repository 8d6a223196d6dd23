import type { TonesArea } from '@zaddle/document';
import { stops } from '../desk/showValues';
import { NO_HANDLES, type AreaView } from './areaView';

const END = { min: -10, max: 5, step: 0.05, show: stops } as const;

export const tones: AreaView<TonesArea> = {
  ...NO_HANDLES,
  name: ({ from, to }) => `Tones ${stops(from)} to ${stops(to)}`,
  short: () => 'tones',
  drawing: null,
  listed: { label: 'Tonal range', start: () => ({ kind: 'tones', of: { kind: 'below' }, from: -10, to: -2, softness: 2 }) },
  fields: (area) => [
    { ...END, label: 'From', value: area.from, put: (from) => ({ ...area, from, to: Math.max(from, area.to) }) },
    { ...END, label: 'To', value: area.to, put: (to) => ({ ...area, to, from: Math.min(to, area.from) }) },
    { label: 'Softness', value: area.softness, min: 0, max: 6, step: 0.05, show: stops, put: (softness) => ({ ...area, softness }) },
  ],
};
