import type { Mix } from '@zaddle/document';
import { changedPlaces } from '../clean/changedPlaces';
import type { Reading } from './readings';

/** Share of the picture from which on it is asked about what was made up: a spot of dust is not. */
const SMALL = 0.0015;

/** Questions about places that were made up from the picture itself over more than a small area. */
export function inventedReadings(mix: Mix): Reading[] {
  return changedPlaces(mix).filter(({ what, share }) => what === 'invented' && share > SMALL).map(({ share, where, rings }): Reading => {
    const points = rings.flat();
    const middle = [0, 1].map((c) => points.reduce((sum, point) => sum + point[c], 0) / points.length) as unknown as readonly [number, number];
    return { kind: 'invented', value: 100 * share, unit: '%', state: 'check', where: middle, text: `Made up, ${where}. Something temporary, a stand or a bag, may go; what belongs to the property, a socket, a crack, a mast in the view, may not: then take it back.` };
  });
}
