import { hostOf, type AdjustPass, type MixDocument, type PassChanges } from '@zaddle/document';
import type { ToneCounts } from '../engine/messages';
import { endsMoved, laidOut, toolTaken } from '../store/deskSlice';
import { useAppDispatch, useAppSelector } from '../store/store';
import { BandFields } from './BandFields';
import { percent, stops } from './showValues';
import { Slide } from './Slide';
import type { StageQuestions } from './Stage';
import { TableFields } from './TableFields';
import { ToneGraph, ZONES } from './ToneGraph';

interface ToneProps {
  readonly mix: MixDocument;
  readonly pass: AdjustPass;
  readonly tones: ToneCounts | null;
  readonly tabulate: StageQuestions['tabulate'];
  readonly onChange: (changes: PassChanges, done: boolean) => void;
}

/** What an adjust pass does to tones: the graph with its curve, broad tones, contrast, and whether it acts on one pass only. */
export function ToneFields({ mix, pass, tones, tabulate, onChange }: ToneProps) {
  const dispatch = useAppDispatch();
  const { tool, laid } = useAppSelector((s) => s.desk);
  const host = hostOf(mix.passes, mix.passes.findIndex((p) => p.id === pass.id));
  return (
    <>
      <ToneGraph tones={tones} curve={pass.curve} onChange={(curve, done) => onChange({ curve }, done)} onEnds={(moving) => dispatch(endsMoved(moving))} />
      <div className="tools three">
        <button aria-pressed={tool === 'tone'} title="Press on a tone in the picture and drag up or down (f)" onClick={() => dispatch(toolTaken(tool === 'tone' ? 'pan' : 'tone'))}>In the picture</button>
        <button aria-pressed={laid === 'renderings'} title="Ways to render tones, side by side (Shift + j)" onClick={() => dispatch(laidOut('renderings'))}>Renderings</button>
        {pass.curve.length === 0 ? <button onClick={() => onChange({ curve: ZONES.map(([, at]) => [at, 0]) }, true)}>Five zones</button> : <button onClick={() => onChange({ curve: [] }, true)}>Level</button>}
      </div>
      <Slide label="Broad lights" value={pass.highlights} min={-3} max={3} step={0.05} show={stops} rest={0} onChange={(highlights, done) => onChange({ highlights }, done)} />
      <Slide label="Broad darks" value={pass.shadows} min={-3} max={3} step={0.05} show={stops} rest={0} onChange={(shadows, done) => onChange({ shadows }, done)} />
      <Slide label="Contrast" value={pass.contrast} min={0.5} max={1.8} step={0.01} show={percent} rest={1} onChange={(contrast, done) => onChange({ contrast }, done)} />
      <Slide label="Local contrast" title="More, or less, contrast of surfaces and things; large steps of light keep their height, so nothing gets a halo" value={pass.localContrast ?? 0} min={-1} max={1.5} step={0.01} show={percent} rest={0} onChange={(localContrast, done) => onChange({ localContrast }, done)} />
      <Slide label="Glow" title="Lets bright light, of windows and lamps, glow over what lies around it, as it does in a lens" value={pass.glow ?? 0} min={0} max={1} step={0.01} show={percent} rest={0} onChange={(glow, done) => onChange({ glow }, done)} />
      <Slide label="Veil" title="Takes away the light that haze, or flare of a window, lays over the picture" value={pass.veil ?? 0} min={0} max={1} step={0.01} show={percent} rest={0} onChange={(veil, done) => onChange({ veil }, done)} />
      <Slide label="Saturation" value={pass.saturation} min={0} max={2} step={0.01} show={percent} rest={1} onChange={(saturation, done) => onChange({ saturation }, done)} />
      <Slide label="Even light" title="Takes away what lamps, daylight and coloured floors do to paint from place to place; paint itself stays" value={pass.evenness ?? 0} min={0} max={1} step={0.01} show={percent} rest={0} onChange={(evenness, done) => onChange({ evenness }, done)} />
      <BandFields pass={pass} onChange={onChange} />
      <TableFields pass={pass} tabulate={tabulate} onChange={onChange} />
      <label className="check"><input type="checkbox" checked={pass.tied} onChange={(e) => onChange({ tied: e.currentTarget.checked }, true)} />Only the pass under it{pass.tied ? host ? ` (${host.name})` : ': there is none' : ''}</label>
    </>
  );
}
