import { useEffect, useRef, useState } from 'react';
import { oklab } from '@zaddle/core/colour/oklab';
import { neutralised } from '@zaddle/core/colour/temperature';
import { notifications } from '@mantine/notifications';
import type { Probe } from '@zaddle/core/graph/probeMix';
import type { AdjustPass, Area, HueBand, MixDocument, Pass, PassChanges, Triple } from '@zaddle/document';
import type { Engine } from '../engine/useEngine';
import { toolTaken, type Tool } from '../store/deskSlice';
import { useAppDispatch, useAppSelector } from '../store/store';
import { withPointAt, withTone } from './ToneGraph';

/** Pixels of the screen that a hand goes for one stop of a tone. */
const STOP = 60;
const toneOf = ([r, g, b]: Triple): number => Math.log2(Math.max(1e-4, 0.2627 * r + 0.678 * g + 0.0593 * b) / 0.18);
const without = (light: Triple, gains: Triple): Triple => light.map((v, c) => v / Math.max(1e-6, gains[c])) as unknown as Triple;

/** Tools that ask what a place of the picture is. */
export const picks = (tool: Tool): boolean => tool === 'neutral' || tool === 'tone' || tool === 'sample' || tool === 'band';

/** An area that takes in what was pointed at. */
function sampled(area: Area, light: Triple): Area {
  if (area.kind === 'tones') {
    const tone = Math.round(toneOf(light) * 20) / 20;
    return { ...area, from: Math.max(-12, tone - 0.7), to: Math.min(6, tone + 0.7) };
  }
  if (area.kind !== 'hues') return area;
  const [, a, b] = oklab(light);
  return { ...area, hue: Math.round(((Math.atan2(b, a) * 180) / Math.PI + 360) % 360) };
}

/** Chroma (OKLab) from which on something has a hue. */
const LEAST_CHROMA = 0.015;

/** A band about the hue that was pointed at, which changes nothing yet; null where there is none. */
function bandOf(light: Triple): HueBand | null {
  const [, a, b] = oklab(light);
  if (Math.hypot(a, b) < LEAST_CHROMA) return null;
  return { hue: Math.round(((Math.atan2(b, a) * 180) / Math.PI + 360) % 360), width: 25, softness: 20, shift: 0, chroma: 1, lightness: 0 };
}

interface PickingProps {
  readonly mix: MixDocument;
  readonly pass: Pass | null;
  readonly probe: Engine['probe'];
  readonly onChange: (id: string, changes: PassChanges, done: boolean) => void;
}

/** What the tools do that point at the picture: neutral white balance, a tone that is dragged up or down, an area that takes in what is there. */
export function usePicking({ mix, pass, probe, onChange }: PickingProps) {
  const dispatch = useAppDispatch();
  const { tool, area } = useAppSelector((s) => s.desk);
  const held = useRef<{ curve: ReturnType<typeof withTone>; from: number } | null>(null);
  /** The press that is still held; answers to an earlier one come too late to be dragged. */
  const press = useRef<object | null>(null);

  /** Places of a pass that should be grey together, and how far the worst is still off, stops. */
  const [greys, setGreys] = useState<{ readonly pass: string; readonly lights: readonly Triple[]; readonly off: number } | null>(null);

  const neutral = (own: Pass, { below, own: brought }: Probe, more: boolean): void => {
    const light = own.kind === 'adjust' ? below : brought && without(brought, own.balance);
    if (!light) return void notifications.show({ color: 'red', title: 'Not picked', message: 'Nothing of this pass is seen there.' });
    try {
      const lights = [...(greys?.pass === own.id ? greys.lights : []), light];
      const { gains, off } = neutralised(lights);
      onChange(own.id, { balance: gains.map((g) => Math.round(g * 1e5) / 1e5) as unknown as Triple }, true);
      setGreys(more ? { pass: own.id, lights, off } : null);
      if (!more) dispatch(toolTaken('pan'));
    } catch (error) {
      notifications.show({ color: 'red', title: 'Not picked', message: (error as Error).message });
    }
  };
  // With another tool, or another pass, what was picked is done with.
  useEffect(() => setGreys(null), [tool, pass?.id]);
  const band = (own: AdjustPass, light: Triple): void => {
    const picked = bandOf(light);
    if (!picked) notifications.show({ color: 'red', title: 'Not picked', message: 'This is grey: it has no hue. Click something with a colour.' });
    else onChange(own.id, { bands: [...(own.bands ?? []), picked] }, true);
    dispatch(toolTaken('pan'));
  };
  return {
    /** What was picked together so far, in words; null: nothing. */
    greys: tool === 'neutral' && greys?.pass === pass?.id && greys ? `${greys.lights.length} picked, ${greys.lights.length > 1 ? `still up to ${Math.round(100 * (2 ** greys.off - 1))} % off grey` : 'grey'}` : null,
    /** @param at output pixel. @param y height on the stage, screen pixels @param more others are to be picked with it */
    down(at: readonly [number, number], y: number, scale: number, more: boolean): void {
      if (!pass) return;
      const own = {};
      press.current = own;
      void probe(mix, at, scale, pass.id).then((told) => {
        if (!told) return;
        if (tool === 'neutral') neutral(pass, told, more);
        else if (tool === 'tone' && pass.kind === 'adjust' && told.below) {
          const curve = withTone(pass.curve, toneOf(told.below));
          // Let go before the answer came: the point is there, to be dragged in the graph.
          const holds = press.current === own;
          held.current = holds ? { curve, from: y } : null;
          onChange(pass.id, { curve: curve.curve }, !holds);
        } else if (tool === 'band' && pass.kind === 'adjust' && told.below) {
          band(pass, told.below);
        } else if (tool === 'sample') {
          const chosen = pass.mask.find((a) => a.id === area);
          if (chosen && told.below) onChange(pass.id, { mask: pass.mask.map((a) => (a === chosen ? sampled(chosen, told.below!) : a)) }, true);
          dispatch(toolTaken('pan'));
        }
      });
    },
    /** Whatever is pressed is given up. */
    cancel(): void {
      press.current = held.current = null;
    },
    move(y: number, done: boolean): void {
      if (done) press.current = null;
      const h = held.current;
      if (!h || !pass) return;
      const { curve, index } = h.curve;
      onChange(pass.id, { curve: withPointAt(curve, index, [curve[index][0], curve[index][1] + (h.from - y) / STOP]) }, done);
      if (done) held.current = null;
    },
  };
}
