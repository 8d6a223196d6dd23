import type { AdjustPass, Method, MethodParts } from '@zaddle/document';
import { USUAL_SHARPENING } from '../finish/sharpen';

const plumb = { straighten: 'facing', strength: 1, ratio: null } as const;
const calm = (id: string, more: Partial<AdjustPass> & Pick<AdjustPass, 'name' | 'mask'>): AdjustPass => ({
  id, kind: 'adjust', why: '', on: true, opacity: 1, within: null, exposure: 0, balance: [1, 1, 1], contrast: 1, highlights: 0, shadows: 0, saturation: 1, curve: [], tied: false, ...more,
});
const method = (name: string, what: string, room: Method['room'], light: Method['light'], parts: MethodParts): Method => ({ format: 'zaddle-method', version: 1, name, what, room, light, parts });

/** Light surfaces: from two thirds of a stop above middle grey on, as pictures are toned. */
const LIGHT_SURFACES = { id: 'light-surfaces', kind: 'tones', join: 'add', inverted: false, of: { kind: 'below' }, from: 0.6, to: 6, softness: 1 } as const;

/** Methods that come with the program, by what they do for a picture. */
export const SHIPPED_METHODS: readonly Method[] = [
  method('Plain listing', 'Even light, plumb verticals, cropped to 4:3: nothing that anybody would remark on', 'any room', 'any light', {
    light: { fall: { brightness: 0.6, colour: 0.1 }, evenness: 0.85 },
    tone: { exposure: 0, contrast: 1.12, highlights: -0.55, shadows: 0.35, saturation: 1.02, curve: [] },
    framing: { ...plumb, ratio: 4 / 3 }, sharpening: USUAL_SHARPENING, lens: { distortion: true, fringes: true, falloff: true },
  }),
  method('Bright and open', 'Light rooms, shadows opened, whites kept white', 'living rooms', 'flash', {
    light: { fall: { brightness: 0.4, colour: 0.05 }, evenness: 0.9 },
    tone: { exposure: 0.3, contrast: 1.05, highlights: -0.75, shadows: 0.6, saturation: 1.02, muted: 0.1, curve: [] },
    passes: [calm('whites', { name: 'Calm whites', saturation: 0.7, mask: [LIGHT_SURFACES] })],
    framing: plumb, sharpening: USUAL_SHARPENING,
  }),
  method('Lamps on', 'An evening room: lamps warm, corners dark, light falls as it stood', 'any room', 'lamps', {
    light: { fall: { brightness: 0.95, colour: 0.4 }, evenness: 0.2 },
    tone: { exposure: -0.05, contrast: 1.16, highlights: -0.4, shadows: 0.05, saturation: 1.06, balance: [1.03, 1, 0.94], curve: [[-5, -0.25], [-2.5, 0]] },
    framing: plumb, sharpening: USUAL_SHARPENING,
  }),
  method('Look outside', 'The view stands out: its sky and water fuller, the room quieter', 'any room', 'daylight', {
    light: { fall: { brightness: 0.7, colour: 0.12 }, evenness: 0.7 },
    view: { exposure: -0.35 },
    tone: { exposure: -0.12, contrast: 1.2, highlights: -0.5, shadows: 0.25, saturation: 1.04, bands: [{ hue: 250, width: 35, softness: 30, shift: 0, chroma: 1.2, lightness: -0.03 }, { hue: 140, width: 30, softness: 25, shift: 4, chroma: 1.1, lightness: 0 }], curve: [] },
    framing: plumb, sharpening: USUAL_SHARPENING,
  }),
  method('Quiet paint', 'Walls and ceilings of one calm tone; wood and textiles keep their colour', 'bedrooms', 'any light', {
    light: { fall: { brightness: 0.55, colour: 0.03 }, evenness: 1 },
    tone: { exposure: 0.1, contrast: 1.06, highlights: -0.6, shadows: 0.4, saturation: 1, curve: [] },
    passes: [calm('paint', { name: 'Quiet paint', saturation: 0.5, mask: [LIGHT_SURFACES] })],
    framing: plumb, sharpening: { ...USUAL_SHARPENING, amount: 0.65 },
  }),
];
