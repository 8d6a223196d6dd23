import type { ChannelArea } from '@zaddle/document';
import type { AreaEvaluation } from '../kind/areaEvaluation';
import { pixelsKey, pixelsRow, placePixels, type PlacedPixels } from './pixelsRow';

interface PlacedChannel {
  readonly pixels: PlacedPixels;
  readonly component: number;
  readonly from: number;
  readonly to: number;
}

const COMPONENTS: readonly ChannelArea['component'][] = ['red', 'green', 'blue', 'luminance'];
const LEAST_SPAN = 1 / 255;

/** One colour component of working light, encoded by its square root so that its steps look even. */
export const channel: AreaEvaluation<ChannelArea, ChannelArea, PlacedChannel> = {
  prepare: (area) => area,
  key: ({ of }, placing) => pixelsKey(of, placing),
  looksBelow: ({ of }) => of.kind === 'below',
  place: ({ of, component, from, to }, placing) => ({ pixels: placePixels(of, placing), component: COMPONENTS.indexOf(component), from, to: Math.max(to, from + LEAST_SPAN) }),
  row({ pixels, component, from, to }, work, y) {
    work.kernels.channelRow(pixelsRow(pixels, work, y), work.s.plane, work.width, component, from, to, work.s.area);
  },
};
