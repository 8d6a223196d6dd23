import { memo, useCallback, useEffect, useRef, useState, type DragEvent } from 'react';
import { blockStart, holders, hostOf, type MixDocument, type Pass, type PassChanges, type Source } from '@zaddle/document';
import { shortAreaName } from '../area/areas';
import { bundleClosed, drawerToggled, passesChosen, selected as select, soloed } from '../store/deskSlice';
import { useAppDispatch, useAppSelector } from '../store/store';
import { hexOf } from './FillFields';
import { SOURCE_DRAG } from './FrameDrawer';
import { faceOf } from './newPass';
import type { PassActions, PassPlace } from './usePassActions';

interface StripsProps {
  readonly mix: MixDocument;
  /** Masks, small, by their passes. */
  readonly faces: ReadonlyMap<string, ImageBitmap>;
  readonly actions: PassActions;
  readonly onChange: (id: string, changes: PassChanges, done: boolean) => void;
}

const PASS_DRAG = 'application/x-zaddle-pass';

const signed = (v: number): string => `${v > 0 ? '+' : v < 0 ? '−' : ''}${Math.abs(v).toFixed(1)}`;
const maskWord = (pass: Pass): string => (pass.mask.length === 0 ? 'everywhere' : pass.mask.map(shortAreaName).join(' + '));

/** A pass's name, which a double click lets be written anew. */
function Name({ pass, onRename }: { pass: Pass; onRename: (name: string) => void }) {
  const [writing, setWriting] = useState(false);
  if (!writing) return <div className="name" title={pass.why || 'Double click to rename'} onDoubleClick={() => setWriting(true)}>{pass.name}</div>;
  const done = (text: string | null): void => {
    setWriting(false);
    if (text !== null && text !== pass.name) onRename(text);
  };
  return (
    <input
      className="name" type="text" aria-label={`Name of ${pass.name}`} defaultValue={pass.name} maxLength={120} autoFocus onFocus={(e) => e.currentTarget.select()}
      onBlur={(e) => done(e.currentTarget.value)} onKeyDown={(e) => { if (e.key === 'Enter') e.currentTarget.blur(); else if (e.key === 'Escape') { e.stopPropagation(); done(null); } }}
    />
  );
}

/** What stands for a pass: its frame, its tone, or what kind of thing it is. */
function Face({ pass, face, tied, count }: { pass: Pass; face: string | null; tied: string | null; count: number }) {
  const dispatch = useAppDispatch();
  const closed = useAppSelector((s) => s.desk.closed.includes(pass.id));
  if (pass.kind === 'bundle') return <button className="thumb" aria-expanded={!closed} aria-label={`${closed ? 'Unfold' : 'Fold'} ${pass.name}`} onClick={(e) => { e.stopPropagation(); dispatch(bundleClosed(pass.id)); }}>{closed ? `${count} ▸` : `◂ ${count}`}</button>;
  if (pass.kind === 'fill') return <div className="thumb" style={{ background: pass.around ? 'radial-gradient(#fff, #9aa3ab)' : pass.ramp ? `linear-gradient(90deg, ${hexOf(pass.tone)}, ${hexOf(pass.ramp.tone)})` : hexOf(pass.tone) }} />;
  return <div className="thumb" style={face ? { backgroundImage: `url(/api/frames/${face}/thumbnail)` } : {}}>{face ? '' : pass.kind === 'adjust' ? (tied === null ? 'all below' : 'tied ◂') : pass.kind === 'heal' ? 'healed' : 'below'}</div>;
}

/** A mask, small: white where the pass counts. */
function MaskFace({ mask }: { mask: ImageBitmap }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  useEffect(() => canvas.current!.getContext('2d')!.drawImage(mask, 0, 0), [mask]);
  return <canvas ref={canvas} className="mask-face" width={mask.width} height={mask.height} aria-hidden />;
}

interface StripProps {
  readonly pass: Pass;
  readonly face: string | null;
  readonly mask: ImageBitmap | null;
  /** Name of the pass that it is tied to, if it is. */
  readonly tied: string | null;
  /** Passes that a bundle holds. */
  readonly count: number;
  readonly actions: PassActions;
  readonly onChange: StripsProps['onChange'];
  readonly onPick: (id: string, further: boolean) => void;
}

/** One strip; a drag of another leaves it alone. */
const Strip = memo(function Strip({ pass, face, mask, tied, count, actions, onChange, onPick }: StripProps) {
  const dispatch = useAppDispatch();
  const selected = useAppSelector((s) => s.desk.selected === pass.id);
  const chosen = useAppSelector((s) => s.desk.chosen.includes(pass.id));
  const solo = useAppSelector((s) => s.desk.solo === pass.id);
  // Light is set in stops; a change of what is below, by how much of it is taken.
  const inStops = pass.kind !== 'adjust' && pass.kind !== 'bundle';
  const value = inStops ? pass.exposure : Math.round(pass.opacity * 100);
  const change = (text: string, done: boolean): void => {
    const next = Number(text);
    onChange(pass.id, inStops ? { exposure: next } : { opacity: next / 100 }, done);
  };
  return (
    <div className={`strip ${selected ? 'selected' : chosen ? 'chosen' : ''} ${pass.on ? '' : 'off'}`} role="group" aria-label={`Pass ${pass.name}`} title={tied === null ? undefined : `Changes only “${tied}”`} draggable onDragStart={(e) => e.dataTransfer.setData(PASS_DRAG, pass.id)} onClick={(e) => onPick(pass.id, e.shiftKey)}>
      <Name pass={pass} onRename={(name) => actions.rename(pass.id, name)} />
      <Face pass={pass} face={face} tied={tied} count={count} />
      <div className="keys">
        <button aria-pressed={!pass.on} onClick={(e) => { e.stopPropagation(); onChange(pass.id, { on: !pass.on }, true); }}>Mute</button>
        <button aria-pressed={solo} onClick={(e) => { e.stopPropagation(); dispatch(soloed(pass.id)); }}>Solo</button>
        <span className="soft">{pass.mask.length > 0 && mask && <MaskFace mask={mask} />}{maskWord(pass)}{'mode' in pass && pass.mode !== 'normal' ? <b>, {pass.mode}</b> : ''}</span>
      </div>
      <label className="fader" draggable onDragStart={(e) => { e.preventDefault(); e.stopPropagation(); }} onClick={(e) => e.stopPropagation()}>
        <input
          type="range" aria-label={`${pass.name}: ${inStops ? 'exposure in stops' : 'opacity'}`} min={inStops ? -6 : 0} max={inStops ? 6 : 100} step={inStops ? 0.05 : 1} value={value}
          onChange={(e) => change(e.currentTarget.value, false)} onPointerUp={(e) => change(e.currentTarget.value, true)} onKeyUp={(e) => change(e.currentTarget.value, true)}
          onDoubleClick={() => change(inStops ? '0' : '100', true)}
        />
        <output>{inStops ? signed(value) : `${value} %`}</output>
      </label>
    </div>
  );
});

/** A gap between strips: what is dropped there lies at that place. */
interface Gap extends PassPlace {
  /** The strip beside it, and on which side of that. */
  readonly beside: string;
  readonly after: boolean;
}

/** The gap that the pointer is nearest to. Left of a strip is under it, within the same bundle; right of it above it, and right of a closed bundle above all that it holds. */
function gapAt(strips: HTMLElement, x: number, passes: readonly Pass[]): Gap | null {
  const all = [...strips.querySelectorAll<HTMLElement>('.slot')];
  const slot = all.find((s) => x < s.getBoundingClientRect().right) ?? all[all.length - 1];
  const index = passes.findIndex((p) => p.id === slot?.dataset.pass);
  if (index < 0) return null;
  const after = x > slot.getBoundingClientRect().left + slot.offsetWidth / 2;
  const pass = passes[index];
  const open = pass.kind === 'bundle' && passes[index - 1]?.within === pass.id && all.some((s) => s.dataset.pass === passes[index - 1].id);
  // Left of an open bundle's own strip is on top of what it holds.
  if (!after && open) return { index, within: pass.id, beside: pass.id, after };
  return { index: after ? index + 1 : blockStart(passes, index), within: pass.within, beside: pass.id, after };
}

/** One channel strip a pass, from underneath on the left to on top on the right; what bundles hold lies left of them, under a bar. */
export function Strips({ mix, faces, actions, onChange }: StripsProps) {
  const dispatch = useAppDispatch();
  const { drawer, selected, chosen, closed } = useAppSelector((s) => s.desk);
  const [gap, setGap] = useState<Gap | null>(null);
  const { passes } = mix;
  const over = (event: DragEvent<HTMLElement>): void => {
    if (!event.dataTransfer.types.some((type) => type === PASS_DRAG || type === SOURCE_DRAG)) return;
    event.preventDefault();
    setGap(gapAt(event.currentTarget, event.clientX, passes));
  };
  const drop = (event: DragEvent<HTMLElement>): void => {
    event.preventDefault();
    setGap(null);
    const at = gapAt(event.currentTarget, event.clientX, passes);
    if (!at) return;
    const moved = event.dataTransfer.getData(PASS_DRAG);
    if (moved) return actions.moveTo(moved, at.index, at.within);
    const { source, name } = JSON.parse(event.dataTransfer.getData(SOURCE_DRAG)) as { source: Source; name: string };
    actions.add(source, name, event.shiftKey, at);
  };
  const onPick = useCallback((id: string, further: boolean): void => {
    if (!further) return void dispatch(select(id));
    if (id !== selected) dispatch(passesChosen(chosen.includes(id) ? chosen.filter((p) => p !== id) : [...chosen, id]));
  }, [dispatch, selected, chosen]);
  const strips = useRef<HTMLDivElement>(null);
  // Keys and marks on the picture select passes whose strips are out of sight.
  useEffect(() => void strips.current?.querySelector('.strip.selected')?.scrollIntoView({ block: 'nearest', inline: 'nearest' }), [selected]);
  return (
    <div ref={strips} className="strips" role="region" aria-label="Passes" onDragOver={over} onDragLeave={() => setGap(null)} onDrop={drop}>
      <button className="add" aria-pressed={drawer} title="Add a pass (n)" aria-label="Add a pass" onClick={() => dispatch(drawerToggled())}>+</button>
      {passes.map((pass, k) => {
        const held = holders(passes, pass);
        if (held.some(({ id }) => closed.includes(id))) return null;
        const mark = gap?.beside === pass.id ? (gap.after ? 'after' : 'before') : '';
        const tied = pass.kind === 'adjust' && pass.tied ? (hostOf(passes, k)?.name ?? 'no pass') : null;
        return <div key={pass.id} data-pass={pass.id} className={`slot ${mark} depth-${held.length + (pass.kind === 'bundle' ? 1 : 0)} ${pass.kind === 'bundle' ? 'bundle' : ''}`}><Strip pass={pass} face={faceOf(mix, pass)} mask={faces.get(pass.id) ?? null} tied={tied} count={passes.filter((p) => p.within === pass.id).length} actions={actions} onChange={onChange} onPick={onPick} /></div>;
      })}
    </div>
  );
}
