import type { OutlineArea, OutlineNode, Point } from '@zaddle/document';
import { softnessField, roundedPoint, type AreaHandle, type AreaView } from './areaView';

const PARTS = ['at', 'before', 'after'] as const;

const withNode = (area: OutlineArea, ring: number, index: number, change: (node: OutlineNode) => OutlineNode): OutlineArea => ({ ...area, rings: area.rings.map((nodes, r) => (r === ring ? nodes.map((node, k) => (k === index ? change(node) : node)) : nodes)) });

/** A node carried to a place, its handles with it. */
function carried(node: OutlineNode, to: Point): OutlineNode {
  const along = (p: Point | null): Point | null => p && roundedPoint([p[0] + to[0] - node.at[0], p[1] + to[1] - node.at[1]]);
  return { at: roundedPoint(to), before: along(node.before), after: along(node.after) };
}

export const outline: AreaView<OutlineArea> = {
  name: ({ rings }) => (rings.length === 1 ? `Outline, ${rings[0].length} points` : `${rings.length} outlines`),
  short: () => 'outline',
  drawing: null,
  listed: null,
  fields: (area) => [softnessField(area, 0.2)],
  handles: ({ rings }) => rings.flatMap((nodes, r) => nodes.flatMap((node, k) => PARTS.flatMap((part): AreaHandle[] => (node[part] ? [{ id: `${r}.${k}.${part}`, at: node[part], label: `Point ${k + 1}${part === 'at' ? '' : part === 'before' ? ', bend before' : ', bend after'}`, of: part === 'at' ? null : node.at, removable: part === 'at' && nodes.length > 3 }] : [])))),
  dragged(area, handle, to) {
    const [ring, index, part] = handle.split('.');
    return withNode(area, Number(ring), Number(index), (node) => (part === 'at' ? carried(node, to) : { ...node, [part]: roundedPoint(to) }));
  },
  without(area, handle) {
    const [ring, index] = handle.split('.').map(Number);
    return { ...area, rings: area.rings.map((nodes, r) => (r === ring ? nodes.filter((_, k) => k !== index) : nodes)) };
  },
};
