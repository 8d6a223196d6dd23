import type { FoundArea } from '@zaddle/document';
import { NO_HANDLES, type AreaView } from './areaView';

const NAMES: Record<FoundArea['what'], string> = { glass: 'Found: glass', before: 'Found: before the glass', sky: 'Found: sky', ceiling: 'Found: ceiling', walls: 'Found: walls', lit: 'Found: lit by the flash' };

export const found: AreaView<FoundArea> = {
  name: ({ what }) => NAMES[what],
  short: ({ what }) => what,
  drawing: null,
  listed: null,
  fields: () => [],
  ...NO_HANDLES,
};
