import { NativeSelect } from '@mantine/core';
import { BLEND_MODES, type MixDocument, type Pass, type PassChanges, type SourcePass } from '@zaddle/document';
import { DRAWN } from '../area/areas';
import { AreaRow } from './AreaRow';
import { radiusScaled, softnessSet, strengthSet, toolTaken, type Tool } from '../store/deskSlice';
import { useAppDispatch, useAppSelector } from '../store/store';
import type { Frame } from '../store/api';
import { percent, Slide, stops } from './Slide';
import type { PassActions } from './usePassActions';

interface PanelProps {
  readonly mix: MixDocument;
  readonly pass: Pass | null;
  readonly frames: readonly Frame[];
  readonly onChange: (changes: PassChanges, done: boolean) => void;
  readonly actions: PassActions;
  readonly onRemoveArea: (area: string) => void;
}

const TOOLS: readonly { tool: Tool; label: string; key: string }[] = [
  { tool: 'more', label: 'More', key: 'p' },
  { tool: 'less', label: 'Less', key: 'o' },
  ...DRAWN.map(({ kind, label, key }) => ({ tool: kind, label, key })),
  { tool: 'outline', label: 'Outline', key: 'z' },
  { tool: 'pan', label: 'Move', key: 'Escape' },
];

/** Colour of a pass's light on one axis: gains on red and blue, in stops apart. */
const warmth = (pass: Pass): number => Math.log2(pass.balance[0] / pass.balance[2]) / 2;
const withWarmth = ([r, g, b]: Pass['balance'], from: number, to: number): Pass['balance'] => [r * 2 ** (to - from), g, b / 2 ** (to - from)];

// A list that was chosen from gives the focus back: keys are the desk's again.
function SourceFields({ mix, pass, frames, onChange }: { mix: MixDocument; pass: SourcePass; frames: readonly Frame[]; onChange: PanelProps['onChange'] }) {
  const value = 'frame' in pass.source ? `${pass.source.kind}:${pass.source.frame}` : pass.source.kind;
  const usable = frames.filter((f) => f.id in mix.frames);
  const options = [
    { value: 'merge', label: `Ambient, ${mix.merge.length} joined` },
    { value: 'below', label: 'What is below' },
    ...usable.map((f) => ({ value: `frame:${f.id}`, label: `${f.name} (${f.role})` })),
    ...usable.filter((f) => f.role === 'flash' || f.role === 'view').map((f) => ({ value: `flash:${f.id}`, label: `${f.name}, flash alone` })),
  ];
  const choose = (text: string): void => {
    const [kind, frame] = text.split(':');
    onChange({ source: frame ? { kind, frame } : { kind } }, true);
  };
  return (
    <>
      <NativeSelect size="xs" label="Source" value={value} data={options} onChange={(e) => { choose(e.currentTarget.value); e.currentTarget.blur(); }} />
      <NativeSelect size="xs" mt={4} mb={6} label="Blend mode" value={pass.mode} data={[...BLEND_MODES]} onChange={(e) => { onChange({ mode: e.currentTarget.value }, true); e.currentTarget.blur(); }} />
      <Slide label="Brightness" value={pass.brightness} min={0} max={1} step={0.01} show={percent} rest={1} onChange={(brightness, done) => onChange({ brightness }, done)} />
      <Slide label="Colour" value={pass.colour} min={0} max={1} step={0.01} show={percent} rest={1} onChange={(colour, done) => onChange({ colour }, done)} />
    </>
  );
}

function Brush() {
  const dispatch = useAppDispatch();
  const { tool, radius, softness, strength } = useAppSelector((s) => s.desk);
  return (
    <>
      <div className="tools paint">
        {TOOLS.map((t) => <button key={t.tool} title={`Key: ${t.key}`} aria-pressed={tool === t.tool} onClick={() => dispatch(toolTaken(t.tool))}>{t.label}</button>)}
      </div>
      <Slide label="Size" value={Math.log2(radius)} min={-9} max={-1.4} step={0.05} show={() => percent(radius)} onChange={(v) => dispatch(radiusScaled(2 ** v / radius))} />
      <Slide label="Softness" value={softness} min={0} max={1} step={0.05} show={percent} onChange={(v) => dispatch(softnessSet(v))} />
      <Slide label="Strength" value={strength} min={0.02} max={1} step={0.01} show={percent} rest={1} onChange={(v) => dispatch(strengthSet(v))} />
    </>
  );
}

/** Everything about the selected pass. */
export function PassPanel({ mix, pass, frames, actions, onChange, onRemoveArea }: PanelProps) {
  if (!pass) return <aside className="side right"><h4>No pass selected</h4><p className="soft">Click a strip below, or press l.</p></aside>;
  return (
    <aside className="side right" aria-label="Selected pass">
      <h4>{pass.name}</h4>
      {pass.why && <p className="why">{pass.why}.</p>}
      {'source' in pass && <SourceFields mix={mix} pass={pass} frames={frames} onChange={onChange} />}
      <Slide label="Opacity" value={pass.opacity} min={0} max={1} step={0.01} show={percent} rest={1} onChange={(opacity, done) => onChange({ opacity }, done)} />
      <Slide label="Exposure" value={pass.exposure} min={-6} max={6} step={0.05} show={stops} rest={0} onChange={(exposure, done) => onChange({ exposure }, done)} />
      <Slide label="Warmth" value={warmth(pass)} min={-1} max={1} step={0.01} show={stops} rest={0} onChange={(v, done) => onChange({ balance: withWarmth(pass.balance, warmth(pass), v) }, done)} />
      {pass.kind === 'adjust' && (
        <>
          <Slide label="Contrast" value={pass.contrast} min={0.5} max={1.8} step={0.01} show={percent} rest={1} onChange={(contrast, done) => onChange({ contrast }, done)} />
          <Slide label="Highlights" value={pass.highlights} min={-3} max={3} step={0.05} show={stops} rest={0} onChange={(highlights, done) => onChange({ highlights }, done)} />
          <Slide label="Shadows" value={pass.shadows} min={-3} max={3} step={0.05} show={stops} rest={0} onChange={(shadows, done) => onChange({ shadows }, done)} />
          <Slide label="Saturation" value={pass.saturation} min={0} max={2} step={0.01} show={percent} rest={1} onChange={(saturation, done) => onChange({ saturation }, done)} />
        </>
      )}
      <h4>Mask</h4>
      {pass.mask.length === 0 && <p className="soft">Everywhere. Less takes it away under the brush; a ramp lets it come in softly.</p>}
      {pass.mask.map((area) => <AreaRow key={area.id} area={area} put={(next, done) => onChange({ mask: pass.mask.map((a) => (a.id === area.id ? next : a)) }, done)} onRemove={() => onRemoveArea(area.id)} />)}
      <h4>Paint</h4>
      <Brush />
      <div className="tools" style={{ marginTop: 10 }}>
        <button onClick={() => actions.duplicate(pass.id)} title="u">Duplicate</button>
        <button onClick={() => actions.remove(pass.id)} title="Delete">Remove</button>
      </div>
    </aside>
  );
}
