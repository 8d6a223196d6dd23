import type { ChannelArea } from '@zaddle/document';
import { percent } from '../desk/showValues';
import { NO_HANDLES, type AreaView } from './areaView';

const NAMES = { red: 'Red', green: 'Green', blue: 'Blue', luminance: 'Luminance' } as const;
const COMPONENTS = Object.keys(NAMES) as ChannelArea['component'][];
const END = { min: 0, max: 1, step: 0.01, show: percent } as const;

export const channel: AreaView<ChannelArea> = {
  ...NO_HANDLES,
  name: ({ component }) => `${NAMES[component]} as mask`,
  short: ({ component }) => component,
  drawing: null,
  listed: { label: 'Colour component', start: () => ({ kind: 'channel', of: { kind: 'below' }, component: 'luminance', from: 0, to: 1 }) },
  fields: (area) => [
    { label: 'Component', value: COMPONENTS.indexOf(area.component), min: 0, max: 3, step: 1, show: (v) => NAMES[COMPONENTS[v]], put: (v) => ({ ...area, component: COMPONENTS[v] }) },
    { ...END, label: 'Nothing at', value: area.from, put: (from) => ({ ...area, from, to: Math.max(from, area.to) }) },
    { ...END, label: 'All from', value: area.to, put: (to) => ({ ...area, to, from: Math.min(to, area.from) }) },
  ],
};
