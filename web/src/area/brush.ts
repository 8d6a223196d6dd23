import type { BrushArea } from '@zaddle/document';
import { NO_HANDLES, type AreaView } from './areaView';

export const brush: AreaView<BrushArea> = {
  name: ({ strokes }) => `Brush, ${strokes.length} ${strokes.length === 1 ? 'stroke' : 'strokes'}`,
  short: () => 'brush',
  drawing: null,
  listed: null,
  fields: () => [],
  ...NO_HANDLES,
};
