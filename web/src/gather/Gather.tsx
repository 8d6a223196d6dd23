import { useOrders } from '../outbox/orders';
import { DndContext, DragOverlay, PointerSensor, useSensor, useSensors, type DragEndEvent } from '@dnd-kit/core';
import { Progress } from '@mantine/core';
import { notifications } from '@mantine/notifications';
import { failed } from '../frame/failed';
import { useEffect, useMemo, useRef, useState, type DragEvent } from 'react';
import { Link, useNavigate, useParams } from 'react-router';
import { inOrder } from '@zaddle/core/intake/groupShots';
import type { GroupingCommand } from '@zaddle/core/intake/regroup';
import { useDeliverMutation, useMarkMutation, useRegroupMutation, useRegroupStepMutation, useShootQuery, type Frame, type ShootDetail, type Shot } from '../store/api';
import { choiceCleared, currentMoved, entered, reviewClosed, sieveSet, type Sieve } from '../store/gatherSlice';
import { useAppDispatch, useAppSelector } from '../store/store';
import { ChoiceBar } from './ChoiceBar';
import { GatherHead } from './GatherHead';
import { GatherProgress } from './GatherProgress';
import { LooseFrames } from './LooseFrames';
import { OrderAheadState } from './OrderAhead';
import { Review } from './Review';
import { isDoubtful } from './ShotBlock';
import { SetAside } from './SetAside';
import { ShotList } from './ShotList';
import { TimeStrip } from './TimeStrip';
import { filesOfDrop, uploadFiles, type UploadProgress } from './uploadFiles';
import { useGatherKeys } from './useGatherKeys';

const byTime = (a: Frame, b: Frame): number => (a.facts && b.facts ? inOrder(a.facts, b.facts) : a.name.localeCompare(b.name, 'en', { numeric: true }));

/** Frames of each shot in the order of taking, and shots as the sieve lists them, the most doubtful first where doubt is asked for. */
function arrange(shoot: ShootDetail, sieve: Sieve): { framesOf: Map<string, Frame[]>; shots: Shot[]; listed: Frame[] } {
  const framesOf = new Map<string, Frame[]>();
  for (const frame of shoot.frames) if (frame.shotId) framesOf.set(frame.shotId, [...(framesOf.get(frame.shotId) ?? []), frame]);
  for (const frames of framesOf.values()) frames.sort(byTime);
  let shots = [...shoot.shots];
  if (sieve === 'doubtful') shots = shots.filter(isDoubtful).sort((a, b) => a.confidence - b.confidence);
  if (sieve === 'marked') {
    for (const [id, frames] of framesOf) framesOf.set(id, frames.filter((f) => f.marked));
    shots = shots.filter((shot) => (framesOf.get(shot.id) ?? []).length > 0);
  }
  return { framesOf, shots, listed: shots.flatMap((shot) => framesOf.get(shot.id) ?? []) };
}

function Loaded({ shoot }: { shoot: ShootDetail }) {
  const dispatch = useAppDispatch();
  const { chosen, current, sieve, reviewing, pinned } = useAppSelector((s) => s.gather);
  const [upload, setUpload] = useState<UploadProgress | null>(null);
  const [over, setOver] = useState(false);
  const [dragged, setDragged] = useState<Frame | null>(null);
  const [jump, setJump] = useState<{ shot: string } | null>(null);
  const picker = useRef<HTMLInputElement>(null);
  // As state, so that the list below learns of the element once it is there.
  const [scroller, setScroller] = useState<HTMLElement | null>(null);
  const [deliver, { isLoading: delivering }] = useDeliverMutation();
  const choice = useOrders();
  const [regroup] = useRegroupMutation();
  const [step] = useRegroupStepMutation();
  const [mark] = useMarkMutation();
  const navigate = useNavigate();
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: 6 } }));
  useEffect(() => void dispatch(entered()), [dispatch, shoot.id]);

  const { framesOf, shots, listed } = useMemo(() => arrange(shoot, sieve), [shoot, sieve]);
  const shotOf = useMemo(() => new Map(shoot.frames.flatMap((f) => shoot.shots.filter((s) => s.id === f.shotId).map((s) => [s.id, s] as const))), [shoot]);
  const command = (asked: GroupingCommand): void => void regroup({ shoot: shoot.id, command: asked }).unwrap().then(() => dispatch(choiceCleared()), failed);
  const undo = (direction: 'undo' | 'redo'): void => void ((direction === 'undo' ? shoot.canUndo : shoot.canRedo) && step({ shoot: shoot.id, direction }).unwrap().catch(failed));
  const setMarks = (frames: readonly string[], marked: boolean): void => void mark({ shoot: shoot.id, frames, marked }).unwrap().catch(failed);
  useGatherKeys({ listed, shots: shoot.shots.map((s) => s.id), onCommand: command, onStep: undo, onMark: setMarks });

  const send = async (files: readonly File[]): Promise<void> => {
    if (files.length === 0) return;
    const end = await uploadFiles(shoot.id, files, setUpload);
    if (end.failed.length === 0) setUpload(null);
    // Away from the buttons at the top, of which one is what comes next.
    notifications.show({ position: 'bottom-right', title: `${end.done - end.known - end.failed.length} files sent`, message: `${end.known} were here already, ${end.failed.length} failed. Drop the card again to send what is missing.` });
  };
  const dropFiles = (event: DragEvent): void => {
    event.preventDefault();
    setOver(false);
    void filesOfDrop(event.dataTransfer).then(send);
  };
  const dropFrames = ({ active, over: target }: DragEndEvent): void => {
    setDragged(null);
    const id = String(active.id);
    const frames = chosen.includes(id) ? [...chosen] : [id];
    if (target?.id === 'new') command({ kind: 'gather', frames });
    else if (target) {
      const to = String(target.id).replace('shot:', '');
      if (shoot.frames.find((f) => f.id === id)?.shotId !== to) command({ kind: 'move', frames, to });
    }
  };
  const deliverAll = async (): Promise<void> => {
    await deliver({ shots: shoot.shots.filter((s) => s.state === 'mixed').map((s) => s.id), orders: choice.orders, folder: choice.folder, receiver: choice.receiver, quality: 95 }).unwrap().then(() => navigate('/outbox'), failed);
  };
  const rejected = shoot.frames.filter((f) => f.state === 'rejected');
  const dropped = shoot.frames.filter((f) => f.dropped).sort(byTime);
  const frame = shoot.frames.find((f) => f.id === current) ?? null;
  const doubtful = shoot.shots.filter(isDoubtful).length;
  const marked = shoot.frames.filter((f) => f.marked && !f.dropped).length;
  const sieves: readonly [Sieve, string][] = [['all', `All ${shoot.shots.length} shots`], ['doubtful', `Doubtful ${doubtful}`], ['marked', `Marked ${marked}`]];

  return (
    <main className="page" ref={setScroller} onDragOver={(e) => { e.preventDefault(); setOver(true); }} onDragLeave={() => setOver(false)} onDrop={dropFiles} data-testid="gather">
      <GatherHead choice={choice} shoot={shoot} delivering={delivering} onStep={undo} onAdd={() => picker.current?.click()} onDeliver={() => void deliverAll()} />
      <input ref={picker} type="file" multiple hidden data-testid="file-picker" onChange={(e) => { void send([...(e.currentTarget.files ?? [])]); e.currentTarget.value = ''; }} />
      {(over || shoot.frames.length === 0) && <div className="drop">{over ? 'Let go to add these files.' : 'Drop a camera card or files here, or use “Add files”. What is dropped twice counts once.'}</div>}
      {upload && (
        <div className="drop">
          <div style={{ flex: 1 }}>Sending {upload.done} of {upload.total}<Progress value={(100 * upload.done) / Math.max(1, upload.total)} mt={4} /></div>
          {upload.failed.map((f) => <div key={f.name} className="late">{f.name}: {f.why}</div>)}
        </div>
      )}
      <GatherProgress shoot={shoot} />
      <OrderAheadState shoot={shoot} choice={choice} />
      <DndContext sensors={sensors} onDragStart={({ active }) => setDragged(shoot.frames.find((f) => f.id === active.id) ?? null)} onDragEnd={dropFrames} onDragCancel={() => setDragged(null)}>
        {shoot.shots.length > 0 && (
          <div className="gather-tools">
            <TimeStrip shots={shoot.shots} framesOf={framesOf} currentShot={frame?.shotId ?? null} onJump={(shot) => { setJump({ shot }); const first = framesOf.get(shot)?.[0]; if (first) dispatch(currentMoved(first.id)); }} />
            <div className="sieves" role="group" aria-label="Which shots">
              {sieves.map(([kind, text]) => <button key={kind} className="flat" aria-pressed={sieve === kind} disabled={kind === 'doubtful' && doubtful === 0 && sieve !== kind} onClick={() => dispatch(sieveSet(kind))}>{text}</button>)}
              <ChoiceBar chosen={chosen} dragging={dragged !== null} onCommand={command} onMark={setMarks} onClear={() => dispatch(choiceCleared())} />
            </div>
          </div>
        )}
        {shots.length > 0 && <ShotList shots={shots} framesOf={framesOf} listed={listed} scroller={scroller} jump={jump} />}
        {shoot.shots.length > 0 && shots.length === 0 && <p className="soft">{sieve === 'marked' ? 'No frame is marked. Mark one with v.' : 'No shot is doubtful.'}</p>}
        {shoot.shots.length === 0 && <LooseFrames frames={shoot.frames.filter((f) => f.state !== 'rejected')} scroller={scroller} />}
        <SetAside dropped={dropped} rejected={rejected} chosen={chosen} current={current} onFailed={failed} />
        <DragOverlay dropAnimation={null}>{dragged && <div className="drag-ghost"><img src={`/api/frames/${dragged.id}/thumbnail`} alt="" />{chosen.includes(dragged.id) && chosen.length > 1 && <b>{chosen.length}</b>}</div>}</DragOverlay>
      </DndContext>
      {reviewing && frame && <Review frames={listed.some((f) => f.id === frame.id) ? listed : dropped} current={frame} pinned={shoot.frames.find((f) => f.id === pinned) ?? null} shotOf={shotOf} onlyMarked={sieve === 'marked'} onGo={(id) => dispatch(currentMoved(id))} onClose={() => dispatch(reviewClosed())} />}
    </main>
  );
}

/** Frames of a card falling into shots; more can be dropped at any time, and everything can be corrected by hand. */
export function Gather() {
  const { shootId = '' } = useParams();
  const { data: shoot, isError } = useShootQuery(shootId);
  if (isError) return <main className="page"><p className="late">This shoot is not there any more. <Link to="/">Back to the shoots</Link></p></main>;
  if (!shoot) return <main className="page" />;
  return <Loaded shoot={shoot} />;
}
