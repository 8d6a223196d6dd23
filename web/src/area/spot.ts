import type { SpotArea } from '@zaddle/document';
import { roundedPoint, type AreaView } from './areaView';

export const spot: AreaView<SpotArea> = {
  name: () => 'Spot',
  short: () => 'spot',
  drawing: { key: 't', label: 'Spot', doing: 'Spot on', shortcut: 'Draw a spot on the selected pass, from its middle to its rim', single: false, byDrag: (from, to) => ({ kind: 'spot', at: roundedPoint(from), rim: roundedPoint(to), ratio: 1, softness: 0.5 }) },
};
