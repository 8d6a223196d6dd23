import type { SpotArea } from '@zaddle/document';
import { softnessField, roundedPoint, type AreaView } from './areaView';

export const spot: AreaView<SpotArea> = {
  name: () => 'Spot',
  short: () => 'spot',
  drawing: { key: 't', label: 'Spot', doing: 'Spot on', shortcut: 'Draw a spot on the selected pass, from its middle to its rim', single: false, byDrag: (from, to) => ({ kind: 'spot', at: roundedPoint(from), rim: roundedPoint(to), ratio: 1, softness: 0.5 }) },
  listed: null,
  fields: (area) => [softnessField(area, 1), { label: 'Roundness', value: Math.log2(area.ratio), min: -3, max: 3, step: 0.05, show: (v) => `${(2 ** v).toFixed(2)} : 1`, put: (v) => ({ ...area, ratio: 2 ** v }) }],
  handles: ({ at, rim }) => [{ id: 'at', at, label: 'Middle of the spot', of: null, removable: false }, { id: 'rim', at: rim, label: 'Rim of the spot', of: at, removable: false }],
  dragged: (area, handle, to) => (handle === 'rim' ? { ...area, rim: roundedPoint(to) } : { ...area, at: roundedPoint(to), rim: roundedPoint([area.rim[0] + to[0] - area.at[0], area.rim[1] + to[1] - area.at[1]]) }),
  without: (area) => area,
};
