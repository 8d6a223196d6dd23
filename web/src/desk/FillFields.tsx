import { applyMatrix, SRGB_TO_WORKING, WORKING_TO_SRGB } from '@zaddle/core/colour/primaries';
import { linearToSrgb, srgbToLinear } from '@zaddle/core/colour/transfer';
import { displayLight, inverseDisplayLight } from '@zaddle/core/finish/toneCurve';
import type { FillPass, PassChanges } from '@zaddle/document';
import { screenAsked, toolTaken } from '../store/deskSlice';
import { useAppDispatch, useAppSelector } from '../store/store';

type Tone = FillPass['tone'];

/** A tone as it is delivered, in hexadecimal, and back. */
export const hexOf = (tone: Tone): string => `#${displayLight(applyMatrix(WORKING_TO_SRGB, tone)).map((v) => Math.round(255 * linearToSrgb(v)).toString(16).padStart(2, '0')).join('')}`;
export function toneOf(hex: string): Tone {
  const shown = [1, 3, 5].map((k) => srgbToLinear(parseInt(hex.slice(k, k + 2), 16) / 255)) as unknown as Tone;
  return applyMatrix(SRGB_TO_WORKING, inverseDisplayLight(shown)).map((v) => Math.max(0, Math.round(v * 1e5) / 1e5)) as unknown as Tone;
}

/** One tone, a ramp to another, or what lies around. */
export function FillFields({ pass, onChange }: { pass: FillPass; onChange: (changes: PassChanges, done: boolean) => void }) {
  const dispatch = useAppDispatch();
  const tool = useAppSelector((s) => s.desk.tool);
  const { ramp, around } = pass;
  const colour = (label: string, tone: Tone, put: (tone: Tone) => void) => <label className="field tone"><span>{label}</span><input type="color" aria-label={label} value={hexOf(tone)} onChange={(e) => put(toneOf(e.currentTarget.value))} /></label>;
  return (
    <>
      <label className="field check" title="What lies around the mask is carried smoothly into it: spots on even walls, light under the edge of a window"><input type="checkbox" checked={around} onChange={(e) => onChange({ around: e.currentTarget.checked }, true)} /><span>What lies around the mask</span></label>
      {!around && colour('Tone', pass.tone, (tone) => onChange({ tone }, true))}
      {!around && ramp && colour('Ends with', ramp.tone, (tone) => onChange({ ramp: { ...ramp, tone } }, true))}
      {!around && <div className="tools">
        <button aria-pressed={tool === 'fillRamp'} title="Drag over the picture from where the first tone is to where the second is" onClick={() => dispatch(toolTaken(tool === 'fillRamp' ? 'pan' : 'fillRamp'))}>Draw a ramp of tones</button>
        {ramp && <button onClick={() => onChange({ ramp: null }, true)}>One tone</button>}
        {pass.mask.length > 0 && <button title="The tones of a screen that is off: black glass that gives back a little of the room's light" onClick={() => dispatch(screenAsked(pass.id))}>Screen off</button>}
      </div>}
    </>
  );
}
