import { DndContext, PointerSensor, useSensor, useSensors, type DragEndEvent } from '@dnd-kit/core';
import { useEffect, useRef, useState } from 'react';
import { Link, useNavigate, useParams } from 'react-router';
import { failed } from '../frame/failed';
import { useTourMutation, useWallQuery, type ReviewState, type Wall as WallData, type WallShot } from '../store/api';
import { beforeShown, chosenCleared, MOST_COMPARED, pictureChosen, pictureReached, viewTaken, wallEntered, wallOrdered, wallSized, WIDTHS } from '../store/wallSlice';
import { useAppDispatch, useAppSelector } from '../store/store';
import { arranged, movedTo, stepped } from './arrange';
import { SendBack } from './SendBack';
import { useReviews } from './useReviews';
import { useWallKeys } from './useWallKeys';
import { WallCard } from './WallCard';
import { WallHead } from './WallHead';
import { WallLarge } from './WallLarge';

const GAP = 14;
const NEXT_ORDER = { tour: 'room', room: 'gain', gain: 'tour' } as const;

function Loaded({ shoot, wall: told }: { shoot: string; wall: WallData }) {
  const dispatch = useAppDispatch();
  const navigate = useNavigate();
  const { current: reached, chosen, order, size, view, before } = useAppSelector((s) => s.wall);
  const { shots: judged, judge: say } = useReviews(shoot, told.shots);
  const wall = { ...told, shots: judged };
  const [tour] = useTourMutation();
  const [together, setTogether] = useState(false);
  const [sending, setSending] = useState<WallShot | null>(null);
  const floor = useRef<HTMLDivElement>(null);
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: 6 } }));
  const groups = arranged(wall.shots, order);
  const listed = groups.flatMap(({ shots }) => shots);
  const current = listed.find(({ id }) => id === reached) ?? listed[0] ?? null;
  const width = WIDTHS[size];
  const columns = (): number => Math.max(1, Math.floor(((floor.current?.clientWidth ?? width) - GAP) / (width + GAP)));
  const reach = (id: string | null): void => void (id && dispatch(pictureReached(id)));
  const ids = wall.shots.map(({ id }) => id);
  const move = (id: string, place: string): void => {
    const next = movedTo(ids, id, place);
    if (next !== ids) void tour({ shoot, shots: next }).unwrap().catch(failed);
  };
  const judge = (shot: WallShot, state: ReviewState | null, note = ''): void => {
    say(shot, state, note);
    // On to the next: who looks through a set goes one way.
    if (state !== null && view !== 'several') reach(stepped(groups, shot.id, 1, [1, 0]));
  };
  useWallKeys({
    step: (by) => reach(view === 'several' ? (chosen[(chosen.indexOf(current?.id ?? '') + by[0] + by[1] + chosen.length) % chosen.length] ?? null) : stepped(groups, current?.id ?? null, view === 'one' ? 1 : columns(), by)),
    shift: (by) => { if (order === 'tour' && current) move(current.id, ids[ids.indexOf(current.id) + by] ?? current.id); },
    enlarge: () => dispatch(viewTaken(view === 'wall' ? 'one' : 'wall')),
    back: () => { if (view !== 'wall') dispatch(viewTaken('wall')); else dispatch(chosenCleared()); },
    choose: () => { if (current) dispatch(pictureChosen(current.id)); },
    compare: () => { if (chosen.length > 1) dispatch(viewTaken(view === 'several' ? 'wall' : 'several')); },
    approve: () => { if (current) judge(current, 'approved'); },
    sendBack: () => setSending(current),
    later: () => { if (current) judge(current, 'later'); },
    unmark: () => { if (current) judge(current, null); },
    before: (shown) => dispatch(beforeShown(shown)),
    desk: () => { if (current?.state === 'mixed') void navigate(`/shots/${current.id}`); },
    size: (by) => dispatch(wallSized(by)),
    together: () => setTogether((opened) => !opened),
    order: () => dispatch(wallOrdered(NEXT_ORDER[order])),
  }, together || sending !== null);
  const large = view === 'one' && current ? [current] : view === 'several' ? listed.filter(({ id }) => chosen.includes(id)).slice(0, MOST_COMPARED) : [];
  const dropped = ({ active, over }: DragEndEvent): void => { if (over) move(String(active.id), String(over.id)); };
  return (
    <main className="wall" data-testid="wall">
      <WallHead shoot={shoot} wall={wall} together={together} onTogether={setTogether} />
      <div className="floor" ref={floor}>
        <DndContext sensors={sensors} onDragEnd={dropped}>
          {groups.map(({ title, shots }) => (
            <section key={title ?? ''} aria-label={title ?? 'Pictures'}>
              {title && <h2>{title}</h2>}
              <div className="row" role="listbox" aria-label={title ?? 'Pictures'} style={{ gap: GAP, gridTemplateColumns: `repeat(auto-fill, minmax(${width}px, 1fr))` }}>
                {shots.map((shot) => <WallCard key={shot.id} shot={shot} current={shot.id === current?.id} chosen={chosen.includes(shot.id)} before={before && view === 'wall' && shot.id === current?.id} movable={order === 'tour'} onReach={(choose) => dispatch(choose ? pictureChosen(shot.id) : pictureReached(shot.id))} onOpen={() => { reach(shot.id); dispatch(viewTaken('one')); }} />)}
              </div>
            </section>
          ))}
        </DndContext>
        {wall.shots.length === 0 && <p>No shots yet. <Link to={`/shoots/${shoot}`}>Add a card</Link>.</p>}
      </div>
      <footer className="wall-foot">{chosen.length > 1 ? `${chosen.length} chosen: c compares ${chosen.length > MOST_COMPARED ? `the first ${MOST_COMPARED}` : 'them'}, Escape lets go` : 'y approve · n send back · l later · Enter large · b as shot · v choose · o to the desk · ? all keys'}</footer>
      {large.length > 0 && <WallLarge shoot={shoot} shots={large} current={current?.id ?? null} before={before} onReach={reach} onClose={() => dispatch(viewTaken('wall'))} />}
      {sending && <SendBack key={sending.id} label={sending.label} note={sending.review?.note ?? ''} onClose={() => setSending(null)} onSend={(note) => { judge(sending, 'sent back', note); setSending(null); }} />}
    </main>
  );
}

/** All pictures of a shoot at equal size on neutral grey: looked through, judged and brought together as a set. */
export function Wall() {
  const { shootId = '' } = useParams();
  const dispatch = useAppDispatch();
  useEffect(() => void dispatch(wallEntered(shootId)), [dispatch, shootId]);
  const { data: wall, isError } = useWallQuery(shootId);
  if (isError && !wall) return <main className="page"><p className="late">This shoot is not there any more, or the server does not answer. <Link to="/">Back to the shoots</Link></p></main>;
  if (!wall) return <main className="page" />;
  return <Loaded shoot={shootId} wall={wall} />;
}
