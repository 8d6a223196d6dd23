import { Button, Group } from '@mantine/core';
import { notifications } from '@mantine/notifications';
import { useCallback, useEffect, useRef, useState } from 'react';
import { Link, useNavigate, useParams } from 'react-router';
import type { MixDocument, PassChanges } from '@zaddle/document';
import { useCommandMutation, useDeliverMutation, useShotQuery, useStepMutation, type Frame, type MixView, type Shot } from '../store/api';
import { opened } from '../store/deskSlice';
import { useAppDispatch, useAppSelector } from '../store/store';
import { withRamp, withStroke } from './paint';
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
  const bad = shot.readings.some((r) => r.kind === 'misalignment' && r.state === 'bad');
  const stages = [
    ['Gathered', true], ['Lined up', !bad], ['Joined', mix.merge.length > 1], ['Lit', mix.passes.some((p) => p.kind === 'light' && p.source.kind !== 'merge')],
    ['View', mix.passes.some((p) => p.kind === 'view')], ['Toned', mix.passes.some((p) => p.kind === 'adjust')],
  ] as const;
  return <>{stages.map(([name, done]) => <span key={name} className={`stage ${done ? 'done' : ''}`}><span className={`dot ${done ? 'good' : ''}`} />{name}</span>)}</>;
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
  const { selected, tool, radius, softness, strength } = useAppSelector((s) => s.desk);
  const mix = draft?.mix ?? view.document;
  const pass = mix.passes.find((p) => p.id === selected) ?? null;
  const saved = view.document.passes.find((p) => p.id === selected) ?? null;

  // The top pass is selected first: the panel is never empty, and the top is what shows.
  const topPass = view.document.passes.at(-1)?.id ?? null;
  useEffect(() => void dispatch(opened(topPass)), [dispatch, shot.id]); // eslint-disable-line react-hooks/exhaustive-deps

  const change = useCallback((id: string, changes: PassChanges, done: boolean): void => {
    const passes = view.document.passes.map((p) => (p.id === id ? ({ ...p, ...changes } as typeof p) : p));
    const before = view.document.passes.find((p) => p.id === id);
    const same = Object.entries(changes).every(([key, value]) => JSON.stringify((before as unknown as Record<string, unknown>)?.[key]) === JSON.stringify(value));
    if (done && same && unsaved.current === 0) return setDraft(null);
    setDraft({ mix: { ...view.document, passes }, settled: done });
    if (!done) return;
    // One after the other: requests that overtake each other would leave an older value. The draft stays until the last is in.
    unsaved.current += 1;
    queue.current = queue.current.then(() => sendCommand({ shot: shot.id, command: { kind: 'changePass', id, changes } }).unwrap().then(() => undefined, failed)).then(() => {
      unsaved.current -= 1;
      if (unsaved.current === 0) setDraft(null);
    });
  }, [sendCommand, shot.id, view.document]);

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
      <Readings readings={shot.readings} />
      <Stage mix={mix} settled={draft?.settled ?? true} saved={draft === null} target={pass} onStroke={onStroke} onRamp={onRamp} zoomRequest={zoom} />
      <PassPanel mix={mix} pass={pass} frames={frames} onChange={(changes, done) => pass && change(pass.id, changes, done)} onRemove={remove} />
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
