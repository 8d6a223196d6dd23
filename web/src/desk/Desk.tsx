import { Button, Group } from '@mantine/core';
import { notifications } from '@mantine/notifications';
import { useCallback, useEffect, useMemo, useRef, useState, useSyncExternalStore } from 'react';
import { Link, useNavigate, useParams } from 'react-router';
import { draftOf, type Command, type MixDocument, type Pass, type PassChanges, type Point } from '@zaddle/document';
import type { DrawnKind } from '../area/areas';
import type { EditQueue, QueueView } from '../edits/editQueue';
import { editsOf } from '../edits/mixEdits';
import type { ToneCounts } from '../engine/messages';
import { seenBox, uncropped } from '@zaddle/core/mix/frameMix';
import { leaningReading, toldStance } from '@zaddle/core/read/leaningReading';
import { inventedReadings } from '@zaddle/core/read/inventedReadings';
import type { Reading } from '@zaddle/core/read/readings';
import { OrderChoice } from '../outbox/OrderChoice';
import { useOrders } from '../outbox/orders';
import { useDeliverMutation, useShotQuery, type Shot, type ShotDetail } from '../store/api';
import { dustAsked, opened, panelOpened, spotSearched, type Panel } from '../store/deskSlice';
import { useAppDispatch, useAppSelector } from '../store/store';
import { drawnCommand, strokeCommand } from './paint';
import { LineUpPanel } from './LineUpPanel';
import { failed } from '../frame/failed';
import { PassPanel } from './PassPanel';
import { following, Readings } from './Readings';
import { FrameDrawer } from './FrameDrawer';
import { FinishPanel } from './FinishPanel';
import { FramingPanel } from './FramingPanel';
import { inOrder } from '@zaddle/core/mix/orderMix';
import { framingNow } from './framing';
import { History } from './History';
import { dustLeft } from './healing';
import { freshId } from './newPass';
import { MethodsPanel } from './MethodsPanel';
import { Stage, type StageQuestions } from './Stage';
import { Strips } from './Strips';
import { suspectPlaces } from './suspectPlaces';
import { useDeskKeys } from './useDeskKeys';
import { useOrderSeen } from './useOrderSeen';
import { usePassActions } from './usePassActions';
import { useNeighbours, useNextShot } from './useNextShot';
import { Versions } from './Versions';
import { WallLink } from './WallLink';

/** Stages of the job, and which of them this shot has behind it. */
function Rail({ shot, mix }: { shot: Shot; mix: MixDocument }) {
  const dispatch = useAppDispatch();
  const panel = useAppSelector((s) => s.desk.panel);
  const bad = shot.readings.some((r) => r.kind === 'misalignment' && r.state === 'bad');
  const stages = [
    ['Gathered', true], ['Lined up', !bad], ['Joined', mix.merge.length > 1], ['Lit', mix.passes.some((p) => p.kind === 'light' && p.source.kind === 'frame')],
    ['View', mix.passes.some((p) => p.kind === 'view')], ['Toned', mix.passes.some((p) => p.kind === 'adjust')], ['Framed', Boolean(mix.framing)], ['Sharpened', Boolean(mix.sharpening)],
  ] as const;
  const opens: Readonly<Record<string, { readonly to: Panel; readonly title: string }>> = { 'Lined up': { to: 'lineUp', title: 'Check and correct how frames lie (a)' }, Framed: { to: 'framing', title: 'Straighten and crop (Shift + f)' }, Sharpened: { to: 'finish', title: 'Noise and sharpening (Shift + s)' } };
  return (
    <>
      {stages.map(([name, done]) => {
        const inside = <><span className={`dot ${done ? 'good' : bad && name === 'Lined up' ? 'bad' : ''}`} />{name}</>;
        const way = opens[name];
        return way
          ? <button key={name} className={`stage opens ${done ? 'done' : ''}`} aria-pressed={panel === way.to} title={way.title} onClick={() => dispatch(panelOpened(panel === way.to ? 'pass' : way.to))}>{inside}</button>
          : <span key={name} className={`stage ${done ? 'done' : ''}`}>{inside}</span>;
      })}
    </>
  );
}

/** What becomes of changes, quietly. */
function Saving({ view: { saving, unsent, savedAt } }: { view: QueueView }) {
  const [, look] = useState(0);
  useEffect(() => {
    const timer = setInterval(() => look((n) => n + 1), 5000);
    return () => clearInterval(timer);
  }, []);
  const ago = savedAt === null ? null : Math.round((Date.now() - savedAt) / 1000);
  const text = saving === 'away' ? `Server away: ${unsent} ${unsent === 1 ? 'change' : 'changes'} kept here, will be sent` : saving === 'saving' ? 'Saving' : ago === null ? '' : ago < 5 ? 'Saved' : `Saved ${ago < 90 ? `${ago} s` : `${Math.round(ago / 60)} min`} ago`;
  return <span className={saving === 'away' ? 'saving late' : 'saving soft'} role="status" title={text} data-testid="saving" data-saving={saving}>{text}</span>;
}

/** Whether a command would leave the mix as it is: a control that was touched and let go. */
function changesNothing(mix: MixDocument, command: Command): boolean {
  const same = (thing: Readonly<Record<string, unknown>>, changes: object): boolean => Object.entries(changes).every(([key, value]) => JSON.stringify(thing[key] ?? null) === JSON.stringify(value));
  if (command.kind === 'changeMix') return same(mix as unknown as Record<string, unknown>, command.changes);
  if (command.kind !== 'changePass') return false;
  const pass = mix.passes.find((p) => p.id === command.id) as unknown as Record<string, unknown> | undefined;
  return pass !== undefined && same(pass, command.changes);
}

function OpenDesk({ shot, frames, dust, review, edits }: Pick<ShotDetail, 'shot' | 'frames' | 'dust' | 'review'> & { edits: EditQueue }) {
  const dispatch = useAppDispatch();
  const navigate = useNavigate();
  const [deliver] = useDeliverMutation();
  const choice = useOrders();
  const view = useSyncExternalStore(edits.subscribe, edits.view);
  /** The mix in the middle of a drag. */
  const [draft, setDraft] = useState<MixDocument | null>(null);
  const [zoom, setZoom] = useState<{ kind: 'whole' | 'one'; count: number }>({ kind: 'whole', count: 0 });
  const { selected, panel, tool, radius, softness, strength, drawer, folded, calm, readings, chosen, spot, beyond, cropFor } = useAppSelector((s) => s.desk);
  const [tones, setTones] = useState<ToneCounts | null>(null);
  /** What is measured on the picture as it stands, once it is. */
  const [measured, setMeasured] = useState<readonly Reading[] | null>(null);
  const [faces, setFaces] = useState<ReadonlyMap<string, ImageBitmap>>(new Map());
  const [sketches, setSketches] = useState<ReadonlyMap<string, ImageBitmap>>(new Map());
  const mix = draft ?? view.document;
  const pass = mix.passes.find((p) => p.id === selected) ?? null;
  /** What the stage shows: while framing, or on request, what lies beyond the crop, too. It holds still in the middle of a drag. */
  const isWide = panel === 'framing' || beyond;
  const box = useMemo(() => (isWide ? seenBox(view.document, framingNow(view.document, frames)) : null), [isWide, view.document, frames]);
  const wide = useMemo(() => (box ? { ...mix, ...uncropped(mix, framingNow(mix, frames), box) } : null), [mix, box, frames]);
  const { shown, toNext: toNextOrder, ...order } = useOrderSeen(mix, choice);
  const questions = useRef<StageQuestions | null>(null);
  const tabulate: StageQuestions['tabulate'] = useCallback((id, space, tell) => (questions.current ? questions.current.tabulate(id, space, tell) : tell(null)), []);
  const cast: StageQuestions['cast'] = useCallback((id, tell) => (questions.current ? questions.current.cast(id, tell) : tell(null)), []);
  const grain: StageQuestions['grain'] = useCallback((tell) => (questions.current ? questions.current.grain(tell) : tell(null)), []);
  const sketch: StageQuestions['sketch'] = useCallback((asked) => questions.current?.sketch(asked), []);
  const plumb = useMemo(() => {
    const told = toldStance(shot.readings);
    return told?.frame === mix.reference ? leaningReading(mix, told) : null;
  }, [mix, shot.readings]);

  const specks = useMemo(() => dustLeft(view.document.passes, dust), [view.document, dust]);
  const invented = useMemo(() => inventedReadings(view.document), [view.document]);

  // The top pass is selected first: the panel is never empty, and the top is what shows.
  const topPass = view.document.passes.at(-1)?.id ?? null;
  useEffect(() => void dispatch(opened(topPass)), [dispatch, shot.id]); // eslint-disable-line react-hooks/exhaustive-deps

  const add = useCallback((what: Parameters<EditQueue['add']>[1]): void => {
    try {
      edits.add(crypto.randomUUID(), what);
    } catch (error) {
      // A corner dragged across the others, for instance: the mix stays as it was.
      notifications.show({ color: 'red', title: 'Not done', message: (error as Error).message });
    }
  }, [edits]);
  const act = useCallback((command: Command, done: boolean): void => {
    // Always on what stands now: an edit that is on its way counts.
    const { document } = edits.view();
    if (done) {
      setDraft(null);
      if (!changesNothing(document, command)) add({ kind: 'command', command });
      return;
    }
    try {
      setDraft(draftOf(document, command));
    } catch {
      setDraft(null);
    }
  }, [add, edits]);
  const change = useCallback((id: string, changes: PassChanges, done: boolean): void => act({ kind: 'changePass', id, changes }, done), [act]);

  const next = useNextShot(shot);
  const neighbours = useNeighbours(shot);
  const toShot = (by: 1 | -1): void => {
    const to = by === 1 ? neighbours.after : neighbours.before;
    if (to) void navigate(`/shots/${to}`);
  };

  const step = (direction: 'undo' | 'redo'): void => {
    if (direction === 'undo' ? view.canUndo : view.canRedo) add({ kind: direction });
  };
  const send = async (): Promise<void> => {
    await deliver({ shots: [shot.id], orders: choice.orders, folder: choice.folder, receiver: choice.receiver, quality: 95 }).unwrap().then(() => navigate('/outbox'), failed);
  };
  const mixNow = useCallback(() => edits.view().document, [edits]);
  const actions = usePassActions(mixNow, selected, chosen, act);
  const toPlace = (by: 1 | -1): void => {
    const places = suspectPlaces(shot.readings, view.document, shot.stays);
    if (places.length === 0) return void notifications.show({ message: 'No place is left where frames disagree. Point at one yourself with /.' });
    const now = places.findIndex(({ at }) => spot && Math.hypot(at[0] - spot.at[0], at[1] - spot.at[1]) < 1e-6);
    setDraft(null);
    dispatch(panelOpened('pass'));
    dispatch(spotSearched(places[now < 0 ? (by > 0 ? 0 : places.length - 1) : (now + by + places.length) % places.length]));
  };
  useDeskKeys({ passes: mix.passes, actions, onPlace: toPlace, onChange: change, onStep: step, onZoom: (kind) => setZoom((z) => ({ kind, count: z.count + 1 })), onOrder: toNextOrder, onShot: toShot });

  const area = useRef('');
  /** Paints on the selected pass as it stands, with an area of one name from the beginning of a drag to its end. */
  const paint = (commandOn: (pass: Pass, fresh: string) => Command, done: boolean): void => {
    const on = edits.view().document.passes.find((p) => p.id === selected);
    area.current ||= freshId('area');
    if (on) act(commandOn(on, area.current), done);
    if (done) area.current = '';
  };
  const onStroke = (points: readonly Point[], pressures: readonly number[] | null, done: boolean): void => paint((on, fresh) => strokeCommand(on, { points, ...(pressures ? { pressures } : {}), radius, softness, strength, reveal: tool === 'more' }, fresh), done);
  const onDraw = (kind: DrawnKind, from: Point, to: Point, done: boolean): void => paint((on, fresh) => drawnCommand(on, kind, from, to, mixNow().reference, fresh), done);

  return (
    <main className={`desk ${calm ? 'calm folded' : folded ? 'folded' : ''} ${readings ? 'with-readings' : ''}`}>
      <div className="rail">
        <Link to={`/shoots/${shot.shootId}`} style={{ color: 'inherit' }}>← {shot.label}</Link>
        <WallLink shot={shot} review={review} />
        <Rail shot={shot} mix={mix} />
        <Group className="acts" gap={6} wrap="nowrap">
          <Saving view={view} />
          <History shot={shot.id} saved={view.saving === 'saved'} onStep={(by) => { for (let k = 0; k < Math.abs(by); k++) add({ kind: by < 0 ? 'undo' : 'redo' }); }} />
          <Versions shot={shot.id} saved={view.saving === 'saved'} onBack={(version) => add({ kind: 'version', version })} />
          <Button size="compact-sm" variant="default" disabled={!view.canUndo} onClick={() => step('undo')}>Undo</Button>
          <Button size="compact-sm" variant="default" disabled={!view.canRedo} onClick={() => step('redo')}>Redo</Button>
          <OrderChoice {...choice} small />
          <Button size="compact-sm" onClick={() => void send()}>Deliver</Button>
        </Group>
      </div>
      <Readings readings={[...following(shot.readings, measured, plumb), ...invented]} frames={frames} undecided={suspectPlaces(shot.readings, view.document, shot.stays).length} onPlace={() => toPlace(1)} dust={specks.length} onDust={() => dispatch(dustAsked(specks))} />
      <Stage questions={questions} next={next} shot={shot.id} shoot={shot.shootId} mix={wide ?? shown} cropped={wide ? inOrder(mix, { ratio: cropFor }) : shown} order={order} standing={view.document} settled={draft === null} saved={draft === null && view.saving === 'saved'} target={pass} onStroke={onStroke} onDraw={onDraw} zoomRequest={zoom} onAct={act} onCancel={() => { setDraft(null); area.current = ''; }} onUndo={() => add({ kind: 'undo' })} mixNow={mixNow} onChange={change} onTones={setTones} onFaces={setFaces} onSketches={setSketches} onReadings={setMeasured} frames={frames} />
      {panel === 'lineUp'
        ? <LineUpPanel shot={shot} mix={mix} frames={frames} pass={pass} onAct={act} onReference={(frame) => add({ kind: 'reference', frame })} />
        : panel === 'framing'
          ? <FramingPanel shot={shot} mix={mix} standing={view.document} frames={frames} orders={choice.all} onAct={act} stance={(focal, tell) => (questions.current ? questions.current.stance(focal, tell) : tell(null))} />
          : panel === 'finish'
            ? <FinishPanel mix={mix} grain={grain} onAct={act} />
            : panel === 'methods'
              ? <MethodsPanel shot={shot} mix={mix} standing={view.document} saved={draft === null && view.saving === 'saved'} sketches={sketches} ask={sketch} onAct={act} />
            : <PassPanel cast={cast} tabulate={tabulate} mix={mix} pass={pass} tones={tones} frames={frames} onChange={(changes, done) => pass && change(pass.id, changes, done)} actions={actions} onRemoveArea={(area) => pass && act({ kind: 'removeArea', pass: pass.id, area }, true)} />}
      {drawer && !folded && !calm && <FrameDrawer mix={mix} frames={frames} actions={actions} />}
      <Strips mix={mix} faces={faces} actions={actions} onChange={change} />
    </main>
  );
}

/** One shot and its mix. */
export function Desk() {
  const { shotId = '' } = useParams();
  const { data, isError } = useShotQuery(shotId);
  const told = data?.mix ?? null;
  const edits = useMemo(() => (data && told ? editsOf(data.shot.id, told) : null), [data, told]);
  useEffect(() => {
    if (edits && told) edits.take(told);
  }, [edits, told]);
  if (isError) return <main className="page"><p className="late">This shot is not there any more. <Link to="/">Back to the shoots</Link></p></main>;
  if (!data) return <main className="page" />;
  if (!crossOriginIsolated) return <main className="page"><h1>The desk needs a line that is encrypted</h1><p>Pictures are computed here in memory that threads share, which browsers allow on the computer that Zaddle runs on, or over an encrypted line: start Zaddle with <kbd>--certificate</kbd> and <kbd>--certificate-key</kbd>. Everything else works as it is. <Link to={`/shoots/${data.shot.shootId}/wall`}>To the wall</Link></p></main>;
  if (data.shot.state === 'failed') return <main className="page"><p className="late">{data.shot.why}</p><p><Link to={`/shoots/${data.shot.shootId}`}>To its frames</Link></p></main>;
  if (!data.mix || !edits) return <main className="page"><p>This shot is still being lined up. It opens by itself when it is ready.</p></main>;
  return <OpenDesk key={data.shot.id} shot={data.shot} frames={data.frames} dust={data.dust} review={data.review} edits={edits} />;
}
