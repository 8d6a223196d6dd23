import { outputName } from '@zaddle/document';
import type { Delivery } from '../data/entities';

/**
 * Where deliveries of a batch lie in one archive: a folder an order where there are several, and no two under one name, whatever its case.
 * @returns each with its path
 */
export function archiveNames<D extends Pick<Delivery, 'name' | 'order'>>(deliveries: readonly D[]): (readonly [path: string, delivery: D])[] {
  const several = new Set(deliveries.map(({ order }) => order)).size > 1;
  const taken = new Set<string>();
  return deliveries.map((each) => {
    const path = several ? `${outputName(each.order)}/${each.name}` : each.name;
    const dot = path.lastIndexOf('.');
    let free = path;
    for (let n = 2; taken.has(free.toLowerCase()); n++) free = `${path.slice(0, dot)}-${n}${path.slice(dot)}`;
    taken.add(free.toLowerCase());
    return [free, each] as const;
  });
}
