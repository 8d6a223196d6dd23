import type { SameArea } from '@zaddle/document';
import { NO_HANDLES, type AreaView } from './areaView';

export const same: AreaView<SameArea> = { ...NO_HANDLES, name: () => 'Linked mask', short: () => 'linked', drawing: null, listed: null, fields: () => [] };
