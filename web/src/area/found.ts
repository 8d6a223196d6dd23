import { SURFACE_TAKES, type FoundArea } from '@zaddle/document';
import { percent } from '../desk/showValues';
import { NO_HANDLES, roundedPoint, type AreaView } from './areaView';

const NAMES: Record<FoundArea['what'], string> = { glass: 'Found: glass', before: 'Found: before the glass', sky: 'Found: sky', ceiling: 'Found: ceiling', walls: 'Found: walls', surface: 'Found: a surface', lit: 'Found: lit by the flash' };

export const found: AreaView<FoundArea> = {
  name: ({ what }) => NAMES[what],
  short: ({ what }) => what,
  drawing: {
    key: 'shift+t', label: 'Surface', doing: 'Click a surface for', shortcut: 'Click a surface to take it into the mask of the selected pass: a door, a worktop, a wall; more clicks take more', single: false, pointed: true,
    byDrag: (_, to, reference) => ({ kind: 'found', what: 'surface', edge: reference, at: roundedPoint(to), takes: 1 }),
  },
  listed: null,
  fields: (area) => (area.what === 'surface' ? [{ label: 'Takes in', value: area.takes, min: SURFACE_TAKES.from, max: SURFACE_TAKES.to, step: 0.05, show: percent, late: true, put: (takes) => ({ ...area, takes }) }] : []),
  ...NO_HANDLES,
};
