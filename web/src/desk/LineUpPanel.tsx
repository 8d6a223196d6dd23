import { useEffect, useRef } from 'react';
import { useHotkeys, type HotkeyCallback } from 'react-hotkeys-hook';
import { moved, STAY, type Movement } from '@zaddle/core/align/moveByHand';
import { PARTS } from '@zaddle/core/align/misfit';
import { exposureStops } from '@zaddle/core/intake/frameFacts';
import type { Command, Matrix3, MixDocument, Pass, SourcePass } from '@zaddle/document';
import { KEYS_WHEREVER } from '../frame/keysWherever';
import { aloneSet, checkChosen, cornersToggled, frameChosen, panelOpened, partAsked, selected as select, type CheckKind } from '../store/deskSlice';
import { useAppDispatch, useAppSelector } from '../store/store';
import type { Frame, Shot } from '../store/api';
import { FrameSettings, sharedBalance, sharedStops } from './FrameSettings';
import { LensFields } from './LensFields';

interface LineUpProps {
  readonly shot: Shot;
  readonly mix: MixDocument;
  readonly frames: readonly Frame[];
  readonly pass: Pass | null;
  readonly onAct: (command: Command, done: boolean) => void;
  readonly onReference: (frame: string) => void;
}

const CHECKS: readonly { kind: Exclude<CheckKind, 'off'>; label: string; key: string }[] = [
  { kind: 'difference', label: 'Difference', key: 'd' },
  { kind: 'through', label: 'See-through', key: 'h' },
  { kind: 'blink', label: 'Blink', key: 'j' },
];
/** Steps of one press: pixels, degrees, growth. */
const NUDGE = 0.25;
const FAR = 2;
const TURN = 0.01;
const GROW = 1.0002;

/** A key of this panel. Sliders keep their arrows. */
const useNudgeKey = (keys: string, act: HotkeyCallback): void =>
  void useHotkeys(keys, act, KEYS_WHEREVER);

/** The pass that is moved alone, if that is what is wished and it uses the frame. */
const passMoved = (pass: Pass | null, frame: string | null, alone: boolean): SourcePass | null =>
  alone && pass && 'source' in pass && 'frame' in pass.source && pass.source.frame === frame ? pass : null;

/** The command that gives a frame, or one pass of it, this alignment. */
export function alignCommand(frame: string, pass: SourcePass | null, alignment: Matrix3): Command {
  return pass ? { kind: 'changePass', id: pass.id, changes: { alignment } } : { kind: 'changeFrame', id: frame, changes: { homography: alignment } };
}

/** The frame that is lined up by hand, and how it lies now. */
export function useHandled(mix: MixDocument, pass: Pass | null): { frame: string | null; pass: SourcePass | null; alignment: Matrix3 | null } {
  const { frame, alone } = useAppSelector((s) => s.desk);
  const there = frame !== null && frame in mix.frames && frame !== mix.reference ? frame : null;
  const own = passMoved(pass, there, alone);
  return { frame: there, pass: own, alignment: there ? (own?.alignment ?? mix.frames[there].homography) : null };
}

function FrameRows({ mix, frames, onAct }: Pick<LineUpProps, 'mix' | 'frames' | 'onAct'>) {
  const dispatch = useAppDispatch();
  const chosen = useAppSelector((s) => s.desk.frame);
  const reference = frames.find((f) => f.id === mix.reference);
  const add = (frame: Frame): void => {
    const { width, height } = frame.facts!;
    const home = mix.frames[mix.reference];
    const [own, base] = [exposureStops(frame.facts!), reference?.facts ? exposureStops(reference.facts) : null];
    const homography: Matrix3 = [width / home.width, 0, 0, 0, height / home.height, 0, 0, 0, 1];
    onAct({ kind: 'addFrame', id: frame.id, use: { width, height, homography, mesh: null, stops: own !== null && base !== null ? Math.max(-12, Math.min(12, sharedStops(home) + own - base)) : 0, balance: sharedBalance(mix) } }, true);
    dispatch(frameChosen(frame.id));
  };
  const rows = useRef<HTMLDivElement>(null);
  // Chosen elsewhere, by a reading: the row may lie out of sight.
  useEffect(() => void rows.current?.querySelector('.chosen')?.scrollIntoView({ block: 'nearest' }), [chosen]);
  const own = frames.filter((f) => f.facts && f.facts.twinOf === null);
  return (
    <div ref={rows} className="frame-rows" role="group" aria-label="Frames">
      {own.map((f) => {
        const use = mix.frames[f.id];
        const state = f.id === mix.reference ? 'the reference' : !use ? f.why : `${f.role}${f.residualPx === null ? '' : `, off by ${f.residualPx.toFixed(2)} px`}${use.mesh ? ', near and far apart' : ''}${use.own ? ', own balance' : ''}${use.ownStops ? ', own exposure' : ''}`;
        const joined = mix.merge.includes(f.id);
        return (
          <div key={f.id} className={`frame-row ${chosen === f.id ? 'chosen' : ''}`}>
            <button aria-pressed={chosen === f.id} disabled={!use || f.id === mix.reference} onClick={() => dispatch(frameChosen(f.id))}>
              <img src={`/api/frames/${f.id}/thumbnail`} alt="" />
              <span><b>{f.name}</b><br /><span className="soft">{state}</span></span>
            </button>
            {use && (f.role !== 'flash' || joined) && <button className="flat" aria-pressed={joined} disabled={joined && mix.merge.length === 1} title={joined ? 'Part of the joined ambient; click to leave it out' : 'Not part of the joined ambient; click to join it'} onClick={() => onAct({ kind: 'changeMix', changes: { merge: joined ? mix.merge.filter((id) => id !== f.id) : [...mix.merge, f.id] } }, true)}>{joined ? 'joined' : 'join'}</button>}
            {!use && <button className="flat" onClick={() => add(f)}>By hand</button>}
          </div>
        );
      })}
    </div>
  );
}

/** Expected misalignment part by part of the picture, as a small map of it. */
function PartMap({ parts }: { parts: readonly (number | null)[] }) {
  if (parts.length === 0) return null;
  return (
    <div className="part-map" role="img" aria-label="Off by, part by part" style={{ gridTemplateColumns: `repeat(${PARTS[0]}, 1fr)` }}>
      {parts.map((v, k) => <span key={k} className={v === null ? 'untold' : v > 1 ? 'bad' : v > 0.6 ? 'check' : 'good'} title={v === null ? 'too little structure here to tell' : `off by about ${v.toFixed(2)} px`}>{v === null ? '–' : v.toFixed(1)}</span>)}
    </div>
  );
}

/** How frames lie on the reference: checked by eye, corrected by hand. */
export function LineUpPanel({ shot, mix, frames, pass, onAct, onReference }: LineUpProps) {
  const dispatch = useAppDispatch();
  const { check, alone, corners } = useAppSelector((s) => s.desk);
  const handled = useHandled(mix, pass);
  const { width, height } = mix.frames[mix.reference];
  const move = (by: Partial<Movement>): void => {
    if (handled.frame && handled.alignment) onAct(alignCommand(handled.frame, handled.pass, moved(handled.alignment, { ...STAY, ...by }, width, height) as Matrix3), true);
  };
  const far = (event: KeyboardEvent): number => (event.shiftKey ? FAR : NUDGE);
  useNudgeKey('left,shift+left', (e) => { e.preventDefault(); move({ dx: -far(e) }); });
  useNudgeKey('right,shift+right', (e) => { e.preventDefault(); move({ dx: far(e) }); });
  useNudgeKey('up,shift+up', (e) => { e.preventDefault(); move({ dy: -far(e) }); });
  useNudgeKey('down,shift+down', (e) => { e.preventDefault(); move({ dy: far(e) }); });
  useNudgeKey('bracketleft', () => move({ degrees: -TURN }));
  useNudgeKey('bracketright', () => move({ degrees: TURN }));
  useNudgeKey('shift+bracketleft', () => move({ growth: 1 / GROW }));
  useNudgeKey('shift+bracketright', () => move({ growth: GROW }));
  useNudgeKey('d', () => dispatch(checkChosen('difference')));
  useNudgeKey('h', () => dispatch(checkChosen('through')));
  useNudgeKey('j', () => dispatch(checkChosen('blink')));
  const usesFrame = passMoved(pass, handled.frame, true) !== null;
  const name = frames.find((f) => f.id === handled.frame)?.name;
  const addPass = (): void => {
    if (!handled.frame) return;
    const id = `hand-${Date.now().toString(36)}`;
    onAct({ kind: 'addPass', index: mix.passes.length, pass: {
      id, name: name!.replace(/\.[^.]+$/, ''), within: null, why: '', kind: 'inset', on: true, opacity: 1, mask: [{ id: 'brush', kind: 'brush', join: 'add', inverted: false, strokes: [] }],
      exposure: 0, balance: [1, 1, 1], source: { kind: 'frame', frame: handled.frame }, alignment: null, mode: 'normal', brightness: 1, colour: 1,
    } }, true);
    dispatch(select(id));
    dispatch(panelOpened('pass'));
  };
  const takeAsReference = (): void => {
    if (!handled.frame) return;
    onReference(handled.frame);
  };
  return (
    <aside className="side right" aria-label="Line-up">
      <h4>Line-up</h4>
      <FrameRows mix={mix} frames={frames} onAct={onAct} />
      {!handled.frame && <p className="soft">Choose a frame to hold it against the reference.</p>}
      {handled.frame && (
        <>
          <h4>Off by, in each part, px</h4>
          <PartMap parts={frames.find((f) => f.id === handled.frame)?.parts ?? []} />
          <h4>Check</h4>
          <div className="tools three">{CHECKS.map((c) => <button key={c.kind} title={`Key ${c.key}`} aria-pressed={check === c.kind} onClick={() => dispatch(checkChosen(c.kind))}>{c.label}</button>)}</div>
          <h4>By hand</h4>
          <div className="nudges">
            <button aria-label="Nudge left" onClick={() => move({ dx: -NUDGE })}>←</button>
            <button aria-label="Nudge right" onClick={() => move({ dx: NUDGE })}>→</button>
            <button aria-label="Nudge up" onClick={() => move({ dy: -NUDGE })}>↑</button>
            <button aria-label="Nudge down" onClick={() => move({ dy: NUDGE })}>↓</button>
            <button aria-label="Turn left" onClick={() => move({ degrees: -TURN })}>↺</button>
            <button aria-label="Turn right" onClick={() => move({ degrees: TURN })}>↻</button>
            <button aria-label="Smaller" onClick={() => move({ growth: 1 / GROW })}>−</button>
            <button aria-label="Larger" onClick={() => move({ growth: GROW })}>+</button>
          </div>
          <label className="check"><input type="checkbox" checked={corners} onChange={() => dispatch(cornersToggled())} /> Drag its corners</label>
          <label className="check"><input type="checkbox" checked={alone && usesFrame} disabled={!usesFrame} onChange={(e) => dispatch(aloneSet(e.currentTarget.checked))} /> Only for the pass “{pass?.name ?? ''}”</label>
          {!usesFrame && <p className="soft">The selected pass does not take its pixels from this frame.</p>}
          <div className="tools">
            <button onClick={takeAsReference}>Make it the reference</button>
            <button onClick={addPass}>New pass to paint in</button>
            {usesFrame && pass && <button disabled={pass.mask.length === 0} title={pass.mask.length === 0 ? 'The pass has no mask: there is no area to line up apart' : ''} onClick={() => dispatch(partAsked(pass.id))}>Line up the area of “{pass.name}”</button>}
            {usesFrame && pass && 'source' in pass && pass.alignment && <button onClick={() => onAct({ kind: 'changePass', id: pass.id, changes: { alignment: null } }, true)}>As the frame lies</button>}
          </div>
        </>
      )}
      <FrameSettings mix={mix} frame={handled.frame} name={name ?? ''} frames={frames} onAct={onAct} />
      <LensFields shot={shot} mix={mix} onAct={onAct} />
    </aside>
  );
}
