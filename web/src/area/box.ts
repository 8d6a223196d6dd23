import type { BoxArea, Point } from '@zaddle/document';
import { softnessField, roundedPoint, type AreaView } from './areaView';

export const box: AreaView<BoxArea> = {
  name: () => 'Box',
  short: () => 'box',
  drawing: {
    key: 'x', label: 'Box', doing: 'Box on', shortcut: 'Draw a box on the selected pass; its corners can be moved later', single: false,
    byDrag: ([ax, ay], [bx, by]) => ({ kind: 'box', corners: ([[ax, ay], [bx, ay], [bx, by], [ax, by]] as const).map(roundedPoint) as unknown as BoxArea['corners'], softness: 0 }),
  },
  listed: null,
  fields: (area) => [softnessField(area, 0.2)],
  handles: ({ corners }) => corners.map((at, k) => ({ id: String(k), at, label: `Corner ${k + 1}`, of: null, removable: false })),
  dragged: (area, handle, to) => ({ ...area, corners: area.corners.map((at: Point, k) => (k === Number(handle) ? roundedPoint(to) : at)) as unknown as BoxArea['corners'] }),
  without: (area) => area,
};
