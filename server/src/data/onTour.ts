import type { Shot } from './entities';

/** In the order of the tour, where somebody laid it down; else as the shots were taken. */
export const onTour = (a: Shot, b: Shot): number => (a.tour ?? a.position) - (b.tour ?? b.position) || a.position - b.position || a.id.localeCompare(b.id);
