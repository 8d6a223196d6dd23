import type { FoundArea } from '@zaddle/document';
import { NO_HANDLES, type AreaView } from './areaView';

export const found: AreaView<FoundArea> = {
  name: ({ what }) => (what === 'glass' ? 'Found: glass' : 'Found: lit by the flash'),
  short: ({ what }) => what,
  drawing: null,
  listed: null,
  fields: () => [],
  ...NO_HANDLES,
};
