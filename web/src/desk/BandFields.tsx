import { MOST_BANDS, type AdjustPass, type HueBand, type PassChanges } from '@zaddle/document';
import { bandShown, toolTaken } from '../store/deskSlice';
import { useAppDispatch, useAppSelector } from '../store/store';
import { degrees, fineDegrees, percent } from './showValues';
import { Slide } from './Slide';

interface BandProps {
  readonly pass: AdjustPass;
  readonly onChange: (changes: PassChanges, done: boolean) => void;
}

/** A patch of the hue that a band is about, as colourful as screens show it. */
const patch = (hue: number): string => `oklch(0.7 0.13 ${hue})`;

/** What becomes of bands of hues, and of muted colours. While something of a band is dragged, the pixels that it hits are seen in colour, the rest grey. */
export function BandFields({ pass, onChange }: BandProps) {
  const dispatch = useAppDispatch();
  const { tool, band: shown } = useAppSelector((s) => s.desk);
  const [bands, muted] = [pass.bands ?? [], pass.muted ?? 0];
  const change = (index: number, changes: Partial<HueBand>, done: boolean): void => {
    dispatch(bandShown(done ? null : index));
    onChange({ bands: bands.map((band, k) => (k === index ? { ...band, ...changes } : band)) }, done);
  };
  return (
    <>
      <Slide label="Muted hues" value={muted} min={-1} max={1.5} step={0.01} show={percent} rest={0} onChange={(v, done) => onChange({ muted: v }, done)} />
      <div className="tools"><button aria-pressed={tool === 'band'} disabled={bands.length >= MOST_BANDS} title="Click a colour in the picture to change all that have its hue" onClick={() => dispatch(toolTaken(tool === 'band' ? 'pan' : 'band'))}>Pick a hue</button></div>
      {bands.map((band, k) => (
        <fieldset key={k} className="band" aria-label={`Hue ${k + 1}`}>
          <legend><span className="patch" style={{ background: patch(band.hue) }} /> → <span className="patch" style={{ background: patch(band.hue + band.shift) }} />
            <button className="flat" aria-pressed={shown === k} title="The pixels that it hits in colour, the rest grey" onClick={() => dispatch(bandShown(shown === k ? null : k))}>Show</button>
            <button className="flat" aria-label={`Remove hue ${k + 1}`} onClick={() => { dispatch(bandShown(null)); onChange({ bands: bands.filter((_, i) => i !== k) }, true); }}>×</button>
          </legend>
          <Slide label="Hue" value={band.hue} min={0} max={360} step={1} show={degrees} onChange={(hue, done) => change(k, { hue }, done)} />
          <Slide label="Width" value={band.width} min={5} max={120} step={1} show={degrees} rest={25} onChange={(width, done) => change(k, { width }, done)} />
          <Slide label="Soft end" value={band.softness} min={1} max={90} step={1} show={degrees} rest={20} onChange={(softness, done) => change(k, { softness }, done)} />
          <Slide label="Turn hue" value={band.shift} min={-60} max={60} step={0.5} show={fineDegrees} rest={0} onChange={(shift, done) => change(k, { shift }, done)} />
          <Slide label="Strength" value={band.chroma} min={0} max={2} step={0.01} show={percent} rest={1} onChange={(chroma, done) => change(k, { chroma }, done)} />
          <Slide label="Lightness" value={band.lightness} min={-0.5} max={0.5} step={0.01} show={percent} rest={0} onChange={(lightness, done) => change(k, { lightness }, done)} />
        </fieldset>
      ))}
    </>
  );
}
