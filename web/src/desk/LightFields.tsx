import { COLDEST_LIGHT, gainsForLight, lightForGains, WARMEST_LIGHT } from '@zaddle/core/colour/temperature';
import type { Pass, PassChanges } from '@zaddle/document';
import { toolTaken } from '../store/deskSlice';
import { useAppDispatch, useAppSelector } from '../store/store';
import { kelvin, stops, whole } from './showValues';
import { Slide } from './Slide';

interface LightProps {
  readonly pass: Pass;
  readonly onChange: (changes: PassChanges, done: boolean) => void;
}

const LUMA = [0.2627, 0.678, 0.0593] as const;

/** Exposure and colour of a pass's light: a temperature, a tint, or a thing in the picture that should be neutral. */
export function LightFields({ pass, onChange }: LightProps) {
  const dispatch = useAppDispatch();
  const tool = useAppSelector((s) => s.desk.tool);
  const colour = lightForGains(pass.balance);
  // What is brighter or darker as a whole stays so.
  const level = pass.balance.reduce((sum, g, c) => sum + g * LUMA[c], 0);
  const set = (changes: Partial<typeof colour>, done: boolean): void => onChange({ balance: gainsForLight({ ...colour, ...changes }).map((g) => Math.round(g * level * 1e5) / 1e5) }, done);
  return (
    <>
      <Slide label="Exposure" value={pass.exposure} min={-6} max={6} step={0.05} show={stops} rest={0} onChange={(exposure, done) => onChange({ exposure }, done)} />
      <Slide label="Temperature" value={-1e6 / colour.kelvin} min={-1e6 / WARMEST_LIGHT} max={-1e6 / COLDEST_LIGHT} step={1} show={kelvin} rest={-1e6 / 6500} onChange={(v, done) => set({ kelvin: -1e6 / v }, done)} />
      <Slide label="Tint" value={colour.tint} min={-60} max={60} step={1} show={whole} rest={0} onChange={(tint, done) => set({ tint }, done)} />
      <div className="tools"><button aria-pressed={tool === 'neutral'} title="Then click what should be white or grey (y)" onClick={() => dispatch(toolTaken(tool === 'neutral' ? 'pan' : 'neutral'))}>Pick neutral</button>{pass.balance.some((g) => g !== 1) && <button onClick={() => onChange({ balance: [1, 1, 1] }, true)}>As it came</button>}</div>
    </>
  );
}
