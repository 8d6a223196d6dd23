import { NativeSelect } from '@mantine/core';
import type { MixDocument, Pass, PassChanges, Source, SourcePass } from '@zaddle/document';
import { DRAWN } from '../area/areas';
import { keyWords } from '../area/areaView';
import type { ToneCounts } from '../engine/messages';
import { laidOut, radiusScaled, softnessSet, strengthSet, toolTaken, type Tool } from '../store/deskSlice';
import { useAppDispatch, useAppSelector } from '../store/store';
import type { Frame } from '../store/api';
import { BlendFields } from './BlendFields';
import { CastFields } from './CastFields';
import { FillFields } from './FillFields';
import { HealFields } from './HealFields';
import { LightFields } from './LightFields';
import { MaskSection } from './MaskSection';
import { switchedSources } from './newPass';
import { percent } from './showValues';
import { Slide } from './Slide';
import type { StageQuestions } from './Stage';
import { ToneFields } from './ToneFields';
import type { PassActions } from './usePassActions';

interface PanelProps {
  readonly mix: MixDocument;
  readonly pass: Pass | null;
  readonly frames: readonly Frame[];
  /** How the tones of the picture are spread, once it is there. */
  readonly tones: ToneCounts | null;
  readonly onChange: (changes: PassChanges, done: boolean) => void;
  readonly actions: PassActions;
  readonly onRemoveArea: (area: string) => void;
  /** Asks the engine what takes the cast below a pass away. */
  readonly cast: StageQuestions['cast'];
  /** Asks it for a colour table of what a pass does. */
  readonly tabulate: StageQuestions['tabulate'];
}

const TOOLS: readonly { tool: Tool; label: string; key: string }[] = [
  { tool: 'more', label: 'More', key: 'p' },
  { tool: 'less', label: 'Less', key: 'o' },
  ...DRAWN.map(({ kind, label, key }) => ({ tool: kind, label, key: keyWords(key) })),
  { tool: 'outline', label: 'Outline', key: 'z' },
  { tool: 'pan', label: 'Move', key: 'Escape' },
];

/** A source as the value of a list. */
const sourceKey = (source: Source): string => (source.kind === 'switched' ? `switched:${source.frame}:${source.without}` : 'frame' in source ? `${source.kind}:${source.frame}` : source.kind);

// A list that was chosen from gives the focus back: keys are the desk's again.
function SourceField({ mix, pass, frames, onChange }: { mix: MixDocument; pass: SourcePass; frames: readonly Frame[]; onChange: PanelProps['onChange'] }) {
  const usable = frames.filter((f) => f.id in mix.frames);
  const options = [
    { value: 'merge', label: `Ambient, ${mix.merge.length} joined` },
    { value: 'below', label: 'What is below' },
    ...usable.map((f) => ({ value: `frame:${f.id}`, label: `${f.name} (${f.role})` })),
    ...usable.filter((f) => f.role === 'flash' || f.role === 'view').map((f) => ({ value: `flash:${f.id}`, label: `${f.name}, flash alone` })),
    ...switchedSources(mix, usable).map(({ source, label }) => ({ value: sourceKey(source), label })),
  ];
  const choose = (text: string): void => {
    const [kind, frame, without] = text.split(':');
    onChange({ source: without ? { kind, frame, without } : frame ? { kind, frame } : { kind } }, true);
  };
  return <NativeSelect size="xs" label="Source" value={sourceKey(pass.source)} data={options} onChange={(e) => { choose(e.currentTarget.value); e.currentTarget.blur(); }} />;
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

/** What a pass can be made part of, and of what it consists. */
function Acts({ pass, actions }: { pass: Pass; actions: PassActions }) {
  const dispatch = useAppDispatch();
  const laid = useAppSelector((s) => s.desk.laid);
  return (
    <div className="tools" style={{ marginTop: 10 }}>
      <button onClick={() => actions.duplicate(pass.id)} title="u">Duplicate</button>
      <button onClick={() => actions.remove(pass.id)} title="Delete">Remove</button>
      <button onClick={() => actions.bundle(pass.id)} title="[: with the passes chosen by Shift and a click">Bundle</button>
      {pass.kind === 'bundle' ? <button onClick={() => actions.dissolve(pass.id)} title="]">Dissolve</button> : pass.within !== null ? <button onClick={() => actions.takeOut(pass.id)} title="]">Out of its bundle</button> : <span />}
      {'source' in pass && <button aria-pressed={laid === 'renderings of the pass'} title="Ways to render the tones of this light alone, side by side" onClick={() => dispatch(laidOut('renderings of the pass'))}>Renderings</button>}
    </div>
  );
}

/** Everything about the selected pass. */
export function PassPanel({ cast, tabulate, mix, pass, frames, tones, actions, onChange, onRemoveArea }: PanelProps) {
  if (!pass) return <aside className="side right"><h4>No pass selected</h4><p className="soft">Click a strip below, or press l.</p></aside>;
  return (
    <aside className="side right" aria-label="Selected pass">
      <h4>{pass.name}</h4>
      {pass.why && <p className="why">{pass.why}.</p>}
      {'source' in pass && <SourceField mix={mix} pass={pass} frames={frames} onChange={onChange} />}
      {'matched' in pass && <label className="check"><input type="checkbox" checked={pass.matched === true} onChange={(e) => { onChange({ matched: e.currentTarget.checked }, true); e.currentTarget.blur(); }} />Brought to the light around it</label>}
      {pass.kind === 'heal' && <HealFields pass={pass} onChange={onChange} />}
      {pass.kind === 'fill' && <FillFields pass={pass} onChange={onChange} />}
      {'mode' in pass && <BlendFields blending={pass} onChange={onChange} />}
      {pass.kind === 'adjust' && <ToneFields mix={mix} pass={pass} tones={tones} tabulate={tabulate} onChange={onChange} />}
      <Slide label="Opacity" value={pass.opacity} min={0} max={1} step={0.01} show={percent} rest={1} onChange={(opacity, done) => onChange({ opacity }, done)} />
      {'source' in pass && pass.matched ? <p className="soft">Its exposure and colour follow the light around it. Tie a Tone pass to it to change them.</p> : <LightFields pass={pass} onChange={onChange} />}
      {pass.kind === 'adjust' && <CastFields key={pass.id} pass={pass} cast={cast} onChange={onChange} />}
      <MaskSection mix={mix} pass={pass} frames={frames} onChange={onChange} onRemoveArea={onRemoveArea} />
      <h4>Paint</h4>
      <Brush />
      <Acts pass={pass} actions={actions} />
    </aside>
  );
}
