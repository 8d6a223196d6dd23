import type { RampArea } from '@zaddle/document';
import { roundedPoint, type AreaView } from './areaView';

export const ramp: AreaView<RampArea> = {
  name: () => 'Ramp',
  short: () => 'ramp',
  drawing: { key: 'r', label: 'Ramp', doing: 'Ramp on', shortcut: 'Draw a ramp on the selected pass', single: true, byDrag: (from, to) => ({ kind: 'ramp', from: roundedPoint(from), to: roundedPoint(to) }) },
  listed: null,
  fields: () => [],
  handles: ({ from, to }) => [{ id: 'from', at: from, label: 'Where the ramp begins', of: null, removable: false }, { id: 'to', at: to, label: 'Where it is whole', of: from, removable: false }],
  dragged: (area, handle, to) => ({ ...area, [handle]: roundedPoint(to) }),
  without: (area) => area,
};
