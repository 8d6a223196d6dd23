import { useCallback, useEffect, useLayoutEffect, useMemo, useRef, useState, type PointerEvent, type RefObject, type WheelEvent } from 'react';
import type { StanceFound } from '@zaddle/core/geometry/estimateStance';
import type { Command, Grain, MixDocument, Pass, PassChanges, Point, TableSpace, Triple } from '@zaddle/document';
import { drawnBy, type DrawnKind } from '../area/areas';
import { roundedPoint } from '../area/areaView';
import type { Drawn, ToneCounts } from '../engine/messages';
import { useEngine, type Engine } from '../engine/useEngine';
import { failed } from '../frame/failed';
import { useLetStayMutation, type Frame } from '../store/api';
import { radiusScaled, strengthSet } from '../store/deskSlice';
import { useAppDispatch, useAppSelector } from '../store/store';
import { AreaHandles } from './AreaHandles';
import { ChangedMarks } from './ChangedMarks';
import { CornerHandles } from './CornerHandles';
import { lookedAt, showingBand } from './lookedAt';
import { whyUnseen } from './newPass';
import { OutlineTool } from './OutlineTool';
import { HealMarks } from './HealMarks';
import { PlaceMark } from './PlaceMark';
import { CompareBar, WipeLine } from './CompareBar';
import { CropDim, CropFrame } from './CropFrame';
import { framedFor, framingFor } from './framing';
import { ComparedPicture } from './ComparedPicture';
import { PlaceCard } from './PlaceCard';
import { percent } from './showValues';
import { SpotHeal } from './SpotHeal';
import { SpotSearch } from './SpotSearch';
import { SpotShape } from './SpotShape';
import { toPlace, toStage } from './stagePlaces';
import { Renderings } from './Renderings';
import { Starts } from './Starts';
import { StageFoot } from './StageFoot';
import { StageHints } from './StageHints';
import { useAskedWork } from './useAskedWork';
import { useAskedZoom, type ZoomRequest } from './useAskedZoom';
import { useClientPicture } from './useClientPicture';
import { useKnown } from './useKnown';
import { useMeasured } from './useMeasured';
import { useCompared } from './useCompared';
import type { Reading } from '@zaddle/core/read/readings';
import { useCheck } from './useCheck';
import { useDustHealing } from './useDustHealing';
import { SharesMap } from './SharesMap';
import { picks, usePicking } from './usePicking';
import { useSpotPointer } from './useSpotPointer';
import { useArrows, useOwnWheel, usePinch, useSpace } from './useHandling';
import type { OrderSeen } from './useOrderSeen';
import { useRestingView, useViewport, type Viewport } from './useViewport';

/** What panels ask the stage's engine. */
export interface StageQuestions {
  readonly stance: (focal: number, tell: (stance: StanceFound | null) => void) => void;
  /** How grainy the part is that is seen at 1:1. */
  readonly grain: (tell: (grain: Grain | null) => void) => void;
  /** Gains that take away the cast below a pass. */
  readonly cast: (pass: string, tell: (gains: Triple | null) => void) => void;
  /** What a pass does to colours as the text of a colour table. */
  readonly tabulate: (pass: string, space: TableSpace, tell: (text: string | null) => void) => void;
  readonly sketch: Engine['sketch'];
}

interface StageProps {
  readonly questions: RefObject<StageQuestions | null>;
  readonly shot: string;
  readonly shoot: string;
  /** The mix as it is shown: with what lies beyond its crop, where that is seen, too. */
  readonly mix: MixDocument;
  readonly cropped: MixDocument;
  /** The mix without what is being dragged or tried. */
  readonly standing: MixDocument;
  /** In the middle of a drag: maps of wide context wait. */
  readonly settled: boolean;
  /** The server has every change that is shown. */
  readonly saved: boolean;
  readonly target: Pass | null;
  /** @param pressures of a pen, one a point; null: no pen */
  readonly onStroke: (points: readonly Point[], pressures: readonly number[] | null, done: boolean) => void;
  readonly onDraw: (kind: DrawnKind, from: Point, to: Point, done: boolean) => void;
  readonly onAct: (command: Command, done: boolean) => void;
  /** What was begun by a drag is given up. */
  readonly onCancel: () => void;
  readonly onUndo: () => void;
  /** The mix as it stands at this moment. */
  readonly mixNow: () => MixDocument;
  readonly onChange: (id: string, changes: PassChanges, done: boolean) => void;
  readonly onTones: (tones: ToneCounts | null) => void;
  readonly onFaces: (faces: ReadonlyMap<string, ImageBitmap>) => void;
  readonly onSketches: (sketches: ReadonlyMap<string, ImageBitmap>) => void;
  readonly onReadings: (readings: readonly Reading[] | null) => void;
  readonly frames: readonly Frame[];
  /** What is likely to be opened after this shot, to be read ahead once this picture is there. */
  readonly next: { readonly shot: string; readonly frames: readonly string[] } | null;
  /** The order whose crop and size it is seen in. */
  readonly order: OrderSeen;
  readonly zoomRequest: ZoomRequest;
}

/** Zoom by a step of the wheel, and by one of a pinch on a trackpad, which comes as a wheel that is turned with Ctrl. */
const WHEELED = 0.0015;
const PINCHED = 0.01;

/** Lays a drawn picture where it belongs in the view of now, until that is drawn. */
function layOut(canvas: HTMLCanvasElement, { view, left, top }: Drawn, now: Viewport): void {
  const k = now.scale / view.scale;
  canvas.style.transform = `translate(${now.x + (left - view.x) * k}px, ${now.y + (top - view.y) * k}px) scale(${k})`;
  canvas.style.imageRendering = k > 2 ? 'pixelated' : 'auto';
}

/** The picture: drawn by the engine's worker, moved and zoomed here, painted on with the pointer. */
export function Stage({ questions, cropped, shot, shoot, mix, standing, settled, saved, target, frames, order, onStroke, onDraw, onAct, onCancel, onUndo, mixNow, onChange, onTones, onFaces, onSketches, onReadings, next, zoomRequest }: StageProps) {
  const stage = useRef<HTMLDivElement>(null);
  const [canvas, setCanvas] = useState<HTMLCanvasElement | null>(null);
  const [beside, setBeside] = useState<HTMLCanvasElement | null>(null);
  const { client, takeClient, brokenClient } = useClientPicture();
  const { panel, corners, tool, look, band, ends, solo, radius, softness, strength, compare, telling, mapped, marking, laid, spot, cropFor } = useAppSelector((s) => s.desk);
  const { view, size, zoomAt, pan, lookAt, atScale, whole } = useViewport(stage, mix.width, mix.height, panel === 'framing');
  const viewNow = useRef(view);
  viewNow.current = view;
  const canvases = useRef<readonly (HTMLCanvasElement | null)[]>([]);
  canvases.current = [canvas, beside];
  const onDrawn = useCallback((drawn: Drawn) => { for (const each of canvases.current) if (each) layOut(each, drawn, viewNow.current); }, []);
  const { show, search, insetsOf, heal, screenOff, stance, cast, tabulate, grain, snapLine, askReadings, sketch, lineUpPart, snap: snapArea, map, askFaces, readAhead, probe, state } = useEngine(shot, canvas, beside, onDrawn);
  const seenNow = useRef({ mix, size });
  seenNow.current = { mix, size };
  useEffect(() => {
    questions.current = { stance: (focal, tell) => stance(standing, focal, tell), cast: (pass, tell) => cast(standing, pass, tell), tabulate: (pass, space, tell) => tabulate(standing, pass, space, tell), grain: (tell) => grain(seenNow.current.mix, { ...viewNow.current, ...seenNow.current.size }, tell), sketch };
  }, [questions, stance, cast, tabulate, grain, sketch, standing]);
  const pictureIsThere = state.final;
  const dispatch = useAppDispatch();
  const [letStay] = useLetStayMutation();
  const [pointer, setPointer] = useState<Point | null>(null);
  const drag = useRef<{ points: Point[]; pressures: number[] | null; last: Point; kind: 'pan' | 'paint' | 'pick' | 'fillRamp' | DrawnKind } | null>(null);
  const [panning, setPanning] = useState(false);
  /** Where the last stroke ended: Shift and a click go on from there in a straight line. */
  const strokeEnd = useRef<Point | null>(null);
  const unit = Math.max(mix.frames[mix.reference].width, mix.frames[mix.reference].height);

  useAskedWork({ mix, standing, state, lineUpPart, screenOff, snapArea, onAct, onChange });
  useEffect(() => {
    if (pictureIsThere && next) readAhead(next.shot, next.frames);
  }, [pictureIsThere, next, readAhead]);
  const check = useCheck(mix, target);
  const working = target?.id ?? null;
  const hit = target?.kind === 'adjust' && band !== null ? target.bands?.[band] : undefined;
  const seen = useMemo(() => (hit && working ? showingBand(mix, working, hit) : lookedAt(mix, look, solo, working)), [mix, look, solo, working, hit]);
  const known = useKnown(mix, saved);
  const other = useCompared(shot, mix, working);
  useDustHealing(standing, heal, onAct);
  const picking = usePicking({ mix, pass: target, probe, onChange });
  useMeasured({ mix, state, settled, askReadings, askFaces, onTones, onFaces, onSketches, onReadings });
  const resting = useRestingView(view, size.width > 0);
  const { scale, x: left, y: top } = resting;
  const atRest = scale === view.scale && left === view.x && top === view.y;
  useEffect(() => {
    if (size.width > 0) show({ mix: check ? mix : seen, view: { scale, x: left, y: top, ...size }, working, settled: settled || spot !== null, known, marks: hit ? 'coloured' : ends && look === 'after' ? 'clipping' : look === 'after' || look === 'before' || look === 'without' ? 'none' : look, check, other });
  }, [show, mix, seen, other, look, hit, ends, settled, known, spot, check, working, scale, left, top, size]);
  // What is there moves along at once; the sharp picture of the place follows.
  useLayoutEffect(() => {
    for (const each of [canvas, beside]) if (each && state.drawn) layOut(each, state.drawn, view);
  }, [canvas, beside, state.drawn, view]);

  useAskedZoom({ zoomRequest, order, size, view, whole, zoomAt, atScale });

  const local = (event: PointerEvent | WheelEvent): Point => {
    const box = stage.current!.getBoundingClientRect();
    return [event.clientX - box.left, event.clientY - box.top];
  };
  const toReference = (at: Point): Point => toPlace(mix, view, at);
  const toOutput = ([sx, sy]: Point): Point => [(sx - view.x) / view.scale - 0.5, (sy - view.y) / view.scale - 0.5];
  const space = useSpace();
  const pinch = usePinch(view, { zoomAt });
  useOwnWheel(stage);
  useArrows(panel === 'pass' && !spot, view, { pan, size });
  const searches = (tool === 'search' || tool === 'heal') && panel === 'pass' && compare?.way !== 'beside' && !space;
  const paints = tool !== 'pan' && tool !== 'search' && tool !== 'heal' && target !== null && compare?.way !== 'beside' && !space;
  const picksPlace = picks(tool);
  const drawn = drawnBy(tool);
  const pointing = useSpotPointer(mix, view, tool === 'heal');
  const unseen = paints ? whyUnseen(mix, target, solo) : null;

  const fillRamp = (from: Point, to: Point, done: boolean): void => {
    if (target?.kind === 'fill') onChange(target.id, { ramp: { from: roundedPoint(from), to: roundedPoint(to), tone: target.ramp?.tone ?? [0.8, 0.8, 0.8] } }, done);
  };
  const down = (event: PointerEvent): void => {
    if (event.button !== 0 && event.button !== 1) return;
    stage.current!.setPointerCapture(event.pointerId);
    const at = local(event);
    if (pinch.down(event, at)) {
      // What the first finger began to paint was no stroke.
      pointing.cancel();
      if (drag.current && drag.current.kind !== 'pan') {
        picking.cancel();
        onCancel();
      }
      drag.current = null;
      return;
    }
    if (searches && event.button === 0) {
      if (spot && !spot.heals) onCancel();
      return pointing.down(event, at);
    }
    if (!paints || event.button === 1) {
      drag.current = { points: [], pressures: null, last: at, kind: 'pan' };
      setPanning(true);
      return;
    }
    if (picksPlace) {
      drag.current = { points: [], pressures: null, last: at, kind: 'pick' };
      return picking.down(toOutput(at), at[1], Math.min(1, view.scale), event.shiftKey);
    }
    const onwards = event.shiftKey && !drawn && tool !== 'fillRamp' ? strokeEnd.current : null;
    const pen = event.pointerType === 'pen' && !onwards ? [event.pressure] : null;
    drag.current = { points: onwards ? [onwards, toReference(at)] : [toReference(at)], pressures: pen, last: at, kind: tool === 'fillRamp' ? 'fillRamp' : (drawn ?? 'paint') };
    if (!drawn && tool !== 'fillRamp') onStroke(drag.current.points, pen, false);
  };
  const move = (event: PointerEvent): void => {
    const at = local(event);
    setPointer(at);
    if (pinch.move(event, at) || pointing.move(at)) return;
    const d = drag.current;
    if (!d) return;
    if (d.kind === 'pan') {
      pan(at[0] - d.last[0], at[1] - d.last[1], view);
      d.last = at;
    } else if (d.kind === 'pick') picking.move(at[1], false);
    else if (d.kind === 'fillRamp') fillRamp(d.points[0], toReference(at), false);
    else if (d.kind !== 'paint') {
      if (!d.kind.pointed) onDraw(d.kind, d.points[0], toReference(at), false);
    } else if (Math.hypot(at[0] - d.last[0], at[1] - d.last[1]) >= 2) {
      d.points = [...d.points, toReference(at)];
      d.pressures &&= [...d.pressures, event.pressure];
      d.last = at;
      onStroke(d.points, d.pressures, false);
    }
  };
  const up = (event: PointerEvent): void => {
    pinch.up(event);
    if (pointing.up(local(event))) return;
    const d = drag.current;
    drag.current = null;
    setPanning(false);
    if (!d || d.kind === 'pan') return;
    if (d.kind === 'pick') return picking.move(local(event)[1], true);
    if (d.kind === 'fillRamp') return fillRamp(d.points[0], toReference(local(event)), true);
    if (d.kind !== 'paint') onDraw(d.kind, d.points[0], toReference(local(event)), true);
    else {
      strokeEnd.current = d.points[d.points.length - 1];
      onStroke(d.points, d.pressures, true);
    }
  };
  const wheel = (event: WheelEvent): void => {
    // A wheel turned with Shift scrolls across in some browsers.
    const turned = event.deltaY || event.deltaX;
    if (event.altKey) return void dispatch(radiusScaled(turned < 0 ? 1.12 : 1 / 1.12));
    if (event.shiftKey && paints) return void dispatch(strengthSet(strength + (turned < 0 ? 0.05 : -0.05)));
    const [sx, sy] = local(event);
    zoomAt(view.scale * Math.exp(-event.deltaY * (event.ctrlKey ? PINCHED : WHEELED)), sx, sy, view);
  };

  const ring = 2 * radius * unit * view.scale;
  return (
    <div
      ref={stage} className={`stage-area ${searches ? 'picks' : paints ? (picksPlace || tool === 'fillRamp' ? 'picks' : 'paints') : ''} ${panning ? 'panning' : ''}`} data-testid="stage" data-ticket={state.ticket} data-settled={state.final && state.ticket === state.asked && atRest && settled && saved} data-scale={view.scale} data-level={state.level ?? ''} data-view={`${view.x} ${view.y} ${view.scale}`}
      onPointerDown={down} onPointerMove={move} onPointerUp={up} onPointerCancel={up} onPointerLeave={() => setPointer(null)} onWheel={wheel}
      onDragOver={(e) => e.dataTransfer.types.includes('Files') && e.preventDefault()} onDrop={(e) => { const file = e.dataTransfer.files[0]; if (file) { e.preventDefault(); takeClient(file); } }}
      onAuxClick={(e) => e.preventDefault()} role="application" aria-label="Picture" tabIndex={0}
    >
      <div className={`window ${compare?.way === 'beside' ? 'left' : ''}`}><canvas ref={setCanvas} data-testid="preview" /></div>
      {compare && <ComparedPicture mix={mix} view={view} compare={compare} client={client} canvas={setBeside} drawn={other !== null} onBroken={brokenClient} />}
      {compare?.way === 'wipe' && <WipeLine />}
      {compare && <CompareBar shot={shot} mix={mix} frames={frames} client={client?.name ?? null} onClient={takeClient} onAct={onAct} />}
      {laid === 'starts' && !compare && panel === 'pass' && <Starts shot={shot} shoot={shoot} mix={mix} saved={saved} known={state.sketches} ask={sketch} onAct={onAct} />}
      {laid?.startsWith('renderings') && !compare && panel === 'pass' && <Renderings mix={standing} pass={laid === 'renderings' && target?.kind !== 'adjust' ? null : target} known={state.sketches} ask={sketch} onAct={onAct} />}
      {marking && !compare && panel === 'pass' && <ChangedMarks mix={mix} view={view} frames={frames} />}
      {mapped && !compare && <SharesMap mix={seen} view={view} known={state.map} ask={map} />}
      {telling && pointer && !drag.current && <PlaceCard mix={seen} pass={working} pointer={pointer} at={toOutput(pointer)} scale={Math.min(1, view.scale)} probe={probe} />}
      {mix !== cropped && (panel === 'framing' ? <CropFrame mix={cropped} shown={mix} standing={standing} framing={framingFor(standing, frames, cropFor)} framed={(each, framing) => framedFor(each, frames, cropFor, framing)} framingOf={(each) => framingFor(each, frames, cropFor)} view={view} idle={space} onAct={onAct} onCancel={onCancel} mixNow={mixNow} snapLine={(line, tell) => snapLine(standing, line, tell)} /> : <CropDim mix={cropped} shown={mix} view={view} />)}
      <PlaceMark mix={mix} view={view} onLook={lookAt} />
      {state.ticket === 0 && !state.failure && <div className="waiting">{state.loading ? `Loading frames, ${state.loading.done} of ${state.loading.total}` : 'Opening…'}</div>}
      {state.failure && <div className="waiting">{state.failure}</div>}
      {searches && <SpotShape shape={pointing.shape} spot={spot} at={pointer} radius={ring / 2} toScreen={toStage(mix, view)} />}
      {spot?.heals && panel === 'pass' && <SpotHeal key={spot.areas[0].id} spot={spot} mix={standing} mixNow={mixNow} view={view} stage={size} heal={heal} onAct={onAct} onUndo={onUndo} />}
      {panel === 'pass' && target?.kind === 'heal' && compare?.way !== 'beside' && !paints && !spot && <HealMarks mix={mix} pass={target} view={view} onAct={onAct} />}
      {spot && !spot.heals && panel === 'pass' && <SpotSearch key={`${spot.areas[0].id} ${spot.at.join()}`} spot={spot} standing={standing} view={view} stage={size} frames={frames} search={search} insetsOf={insetsOf} onAct={onAct} onCancel={onCancel} onStay={spot.found ? (at) => void letStay({ shot, at, stays: true }).unwrap().catch(failed) : null} />}
      {panel === 'pass' && target && tool !== 'outline' && compare?.way !== 'beside' && <AreaHandles mix={mix} pass={target} view={view} onAct={onAct} />}
      {panel === 'pass' && target && tool === 'outline' && <OutlineTool idle={space} mix={mix} pass={target} view={view} onAct={onAct} />}
      {panel === 'lineUp' && corners && <CornerHandles mix={mix} pass={target} view={view} onAct={onAct} />}
      <StageHints mix={mix} target={target} paints={paints} searches={searches && !spot} unseen={unseen} greys={picking.greys} finding={state.finding} check={check?.kind ?? null} order={order} />
      {paints && (tool === 'more' || tool === 'less') && pointer && (
        <div className={`brush-ring ${tool}`} style={{ left: pointer[0], top: pointer[1], width: ring, height: ring }}><div className="soft-ring" style={{ width: ring * (1 - softness), height: ring * (1 - softness) }} /><span className="told">{percent(strength)}</span></div>
      )}
      <StageFoot view={view} order={order} onWhole={whole} onOne={() => zoomAt(1, size.width / 2, size.height / 2, view)} hasTarget={target !== null} working={state.ticket > 0 && !(state.final && state.ticket === state.asked)} />
    </div>
  );
}
