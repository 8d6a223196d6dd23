import type { RampArea } from '@zaddle/document';
import { roundedPoint, type AreaView } from './areaView';

export const ramp: AreaView<RampArea> = {
  name: () => 'Ramp',
  short: () => 'ramp',
  drawing: { key: 'r', label: 'Ramp', doing: 'Ramp on', shortcut: 'Draw a ramp on the selected pass', single: true, byDrag: (from, to) => ({ kind: 'ramp', from: roundedPoint(from), to: roundedPoint(to) }) },
};
