import { Button, Group } from '@mantine/core';
import { notifications } from '@mantine/notifications';
import { useCallback, useEffect, useRef, useState } from 'react';
import { Link, useNavigate, useParams } from 'react-router';
import { applyCommand, draftOf, type Command, type MixDocument, type PassChanges } from '@zaddle/document';
import { useCommandMutation, useDeliverMutation, useShotQuery, useStepMutation, type Frame, type MixView, type Shot } from '../store/api';
import { opened, panelOpened } from '../store/deskSlice';
import { useAppDispatch, useAppSelector } from '../store/store';
import { withRamp, withStroke } from './paint';
import { LineUpPanel } from './LineUpPanel';
import { PassPanel } from './PassPanel';
import { Readings } from './Readings';
import { Stage } from './Stage';
import { Strips } from './Strips';
import { useDeskKeys } from './useDeskKeys';

const failed = (error: unknown): void => {
  const detail = (error as { data?: { detail?: string } }).data?.detail ?? 'The server does not answer; nothing that was saved is lost.';
  notifications.show({ color: 'red', title: 'Not done', message: detail });
};

/** Stages of the job, and which of them this shot has behind it. */
function Rail({ shot, mix }: { shot: Shot; mix: MixDocument }) {
  const dispatch = useAppDispatch();
  const panel = useAppSelector((s) => s.desk.panel);
  const bad = shot.readings.some((r) => r.kind === 'misalignment' && r.state === 'bad');
  const stages = [
    ['Gathered', true], ['Lined up', !bad], ['Joined', mix.merge.length > 1], ['Lit', mix.passes.some((p) => p.kind === 'light' && p.source.kind !== 'merge')],
    ['View', mix.passes.some((p) => p.kind === 'view')], ['Toned', mix.passes.some((p) => p.kind === 'adjust')],
  ] as const;
  return (
    <>
      {stages.map(([name, done]) => {
        const inside = <><span className={`dot ${done ? 'good' : bad && name === 'Lined up' ? 'bad' : ''}`} />{name}</>;
        return name === 'Lined up'
          ? <button key={name} className={`stage opens ${done ? 'done' : ''}`} aria-pressed={panel === 'lineUp'} title="Check and correct how frames lie (a)" onClick={() => dispatch(panelOpened(panel === 'lineUp' ? 'pass' : 'lineUp'))}>{inside}</button>
          : <span key={name} className={`stage ${done ? 'done' : ''}`}>{inside}</span>;
      })}
    </>
  );
}

function OpenDesk({ shot, frames, view }: { shot: Shot; frames: readonly Frame[]; view: MixView }) {
  const dispatch = useAppDispatch();
  const navigate = useNavigate();
  const [sendCommand] = useCommandMutation();
  const [sendStep] = useStepMutation();
  const [deliver] = useDeliverMutation();
  /** The mix in the middle of a drag, until the server has taken the change. */
  const [draft, setDraft] = useState<{ mix: MixDocument; settled: boolean } | null>(null);
  const queue = useRef<Promise<void>>(Promise.resolve());
  const unsaved = useRef(0);
  const [zoom, setZoom] = useState<{ kind: 'whole' | 'one'; count: number }>({ kind: 'whole', count: 0 });
  const { selected, panel, tool, radius, softness, strength } = useAppSelector((s) => s.desk);
  const mix = draft?.mix ?? view.document;
  const pass = mix.passes.find((p) => p.id === selected) ?? null;
  const saved = view.document.passes.find((p) => p.id === selected) ?? null;

  // The top pass is selected first: the panel is never empty, and the top is what shows.
  const topPass = view.document.passes.at(-1)?.id ?? null;
  useEffect(() => void dispatch(opened(topPass)), [dispatch, shot.id]); // eslint-disable-line react-hooks/exhaustive-deps

  const act = useCallback((command: Command, done: boolean): void => {
    let next: MixDocument;
    try {
      next = done ? applyCommand(view.document, command).document : draftOf(view.document, command);
    } catch (error) {
      // A corner dragged across the others, for instance: the mix stays as it was.
      setDraft(null);
      return void notifications.show({ color: 'red', title: 'Not done', message: (error as Error).message });
    }
    if (done && JSON.stringify(next) === JSON.stringify(view.document) && unsaved.current === 0) return setDraft(null);
    setDraft({ mix: next, settled: done });
    if (!done) return;
    // One after the other: requests that overtake each other would leave an older value. The draft stays until the last is in.
    unsaved.current += 1;
    queue.current = queue.current.then(() => sendCommand({ shot: shot.id, command }).unwrap().then(() => undefined, failed)).then(() => {
      unsaved.current -= 1;
      if (unsaved.current === 0) setDraft(null);
    });
  }, [sendCommand, shot.id, view.document]);
  const change = useCallback((id: string, changes: PassChanges, done: boolean): void => act({ kind: 'changePass', id, changes }, done), [act]);

  const step = (direction: 'undo' | 'redo'): void => {
    if (direction === 'undo' ? view.canUndo : view.canRedo) void sendStep({ shot: shot.id, direction }).unwrap().catch(failed);
  };
  const remove = (): void => {
    if (pass) void sendCommand({ shot: shot.id, command: { kind: 'removePass', id: pass.id } }).unwrap().catch(failed);
  };
  const send = async (): Promise<void> => {
    await deliver({ shots: [shot.id], quality: 95 }).unwrap().then(() => navigate('/outbox'), failed);
  };
  useDeskKeys({ passes: mix.passes, onChange: change, onStep: step, onZoom: (kind) => setZoom((z) => ({ kind, count: z.count + 1 })) });

  const onStroke = (points: readonly (readonly [number, number])[], done: boolean): void => {
    if (saved) change(saved.id, { mask: withStroke(saved, { points, radius, softness, strength, reveal: tool === 'reveal' }) }, done);
  };
  const onRamp = (from: readonly [number, number], to: readonly [number, number], done: boolean): void => {
    if (saved) change(saved.id, { mask: withRamp(saved, from, to) }, done);
  };

  return (
    <main className="desk">
      <div className="rail">
        <Link to={`/shoots/${shot.shootId}`} style={{ color: 'inherit' }}>← {shot.label}</Link>
        <Rail shot={shot} mix={mix} />
        <Group ml="auto" gap={6} wrap="nowrap">
          <Button size="compact-sm" variant="default" disabled={!view.canUndo} onClick={() => step('undo')}>Undo</Button>
          <Button size="compact-sm" variant="default" disabled={!view.canRedo} onClick={() => step('redo')}>Redo</Button>
          <Button size="compact-sm" onClick={() => void send()}>Deliver</Button>
        </Group>
      </div>
      <Readings readings={shot.readings} frames={frames} />
      <Stage mix={mix} settled={draft?.settled ?? true} saved={draft === null} target={pass} onStroke={onStroke} onRamp={onRamp} zoomRequest={zoom} onAct={act} />
      {panel === 'lineUp'
        ? <LineUpPanel shot={shot} mix={mix} frames={frames} pass={pass} onAct={act} />
        : <PassPanel mix={mix} pass={pass} frames={frames} onChange={(changes, done) => pass && change(pass.id, changes, done)} onRemove={remove} />}
      <Strips mix={mix} onChange={change} />
    </main>
  );
}

/** One shot and its mix. */
export function Desk() {
  const { shotId = '' } = useParams();
  const { data, isError } = useShotQuery(shotId);
  if (isError) return <main className="page"><p className="late">This shot is not there any more. <Link to="/">Back to the shoots</Link></p></main>;
  if (!data) return <main className="page" />;
  if (!data.mix) return <main className="page"><p>This shot is still being lined up. It opens by itself when it is ready.</p></main>;
  return <OpenDesk key={data.shot.id} shot={data.shot} frames={data.frames} view={data.mix} />;
}
