import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { checkChosen, cornersToggled, deskSlice, frameChosen, lookChosen, opened, panelOpened, partAsked, placeAsked, radiusScaled, selected, softnessSet, soloed, strengthSet, toolTaken, type DeskState } from '../src/store/deskSlice';

const after = (...actions: Parameters<typeof deskSlice.reducer>[1][]): DeskState => actions.reduce<DeskState | undefined>((state, action) => deskSlice.reducer(state, action), undefined)!;

describe('what the person is doing at the desk', () => {
  test('checks, looks and solo are taken back by asking again', () => {
    expect(after(checkChosen('blink')).check).toBe('blink');
    expect(after(checkChosen('blink'), checkChosen('blink')).check).toBe('off');
    expect(after(checkChosen('blink'), checkChosen('difference')).check).toBe('difference');
    expect(after(lookChosen('before'), lookChosen('before')).look).toBe('after');
    expect(after(soloed('p'), soloed('p')).solo).toBeNull();
    expect(after(soloed('p'), soloed('q')).solo).toBe('q');
  });
  test('opening a panel puts tools and checks down; opening a shot begins anew', () => {
    const busy = after(frameChosen('f'), checkChosen('through'), cornersToggled(), toolTaken('less'), lookChosen('clipping'));
    expect(deskSlice.reducer(busy, panelOpened('lineUp'))).toMatchObject({ panel: 'lineUp', check: 'off', corners: false, tool: 'pan', look: 'after', frame: 'f' });
    expect(deskSlice.reducer(busy, opened('view'))).toMatchObject({ frame: null, tool: 'pan', selected: 'view' });
  });
  test('with no pass selected nothing can be painted', () => {
    expect(after(selected('p'), toolTaken('more'), selected(null)).tool).toBe('pan');
    expect(after(selected('p'), toolTaken('more'), selected('q')).tool).toBe('more');
  });
  test('asking for the same place or area again is something new', () => {
    const once = after(placeAsked([4, 5]), partAsked('p'));
    const twice = [placeAsked([4, 5]), partAsked('p')].reduce((state, action) => deskSlice.reducer(state, action), once);
    expect(twice.place).toEqual({ at: [4, 5], count: once.place!.count + 1 });
    expect(twice.part).toEqual({ pass: 'p', count: once.part!.count + 1 });
  });
  test('the brush stays within its bounds, however it is scaled', () => {
    fc.assert(fc.property(fc.array(fc.double({ min: 0.01, max: 100, noNaN: true }), { maxLength: 30 }), fc.double({ noNaN: true }), fc.double({ noNaN: true }), (factors, soft, strong) => {
      const { radius, softness, strength } = after(opened(null), ...factors.map((f) => radiusScaled(f)), softnessSet(soft), strengthSet(strong));
      expect(radius).toBeGreaterThanOrEqual(0.002);
      expect(radius).toBeLessThanOrEqual(0.4);
      expect(softness).toBeGreaterThanOrEqual(0);
      expect(softness).toBeLessThanOrEqual(1);
      expect(strength).toBeGreaterThanOrEqual(0.02);
      expect(strength).toBeLessThanOrEqual(1);
    }));
  });
});
