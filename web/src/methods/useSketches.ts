import { useCallback, useEffect, useMemo, useState } from 'react';
import { toldStance } from '@zaddle/core/read/leaningReading';
import { useEngine, type Engine } from '../engine/useEngine';
import { useShotQuery, type KeptMethod } from '../store/api';
import { sketchesOf } from './choices';

/** Pixels across of a method's picture. */
const ACROSS = 330;

const nothing = (): void => undefined;

/** Methods as they would look on a shot. @param canvas where the shot itself is drawn as it stands */
export function useSketches(shot: string, methods: readonly KeptMethod[], canvas: HTMLCanvasElement | null): Engine['state']['sketches'] {
  const { data } = useShotQuery(shot, { skip: shot === '' });
  const { show, sketch, state } = useEngine(shot, shot === '' ? null : canvas, null, nothing);
  const mix = data?.mix?.document ?? null;
  const stance = useMemo(() => (data ? toldStance(data.shot.readings) : null), [data]);
  const [ready, setReady] = useState('');
  useEffect(() => {
    if (mix && canvas) show({ mix, view: { scale: ACROSS / mix.width, x: 0, y: 0, width: ACROSS, height: Math.round((ACROSS * mix.height) / mix.width) }, working: null, settled: true, known: true, marks: 'none', check: null, other: null });
  }, [mix, canvas, show]);
  useEffect(() => {
    if (state.final) setReady(shot);
  }, [state.final, shot]);
  const draw = useCallback(() => {
    if (mix && ready === shot) sketch(sketchesOf(mix, methods, stance, ACROSS));
  }, [mix, methods, stance, sketch, ready, shot]);
  useEffect(draw, [draw]);
  return state.sketches;
}
