import { useEffect, useRef } from 'react';
import type { Reading } from '@zaddle/core/read/readings';
import type { MixDocument } from '@zaddle/document';
import type { ToneCounts } from '../engine/messages';
import type { Engine } from '../engine/useEngine';

/** Milliseconds that a picture stands before it is measured. */
const AT_REST = 700;
/** Pixels across of a mask on its strip. */
const FACE_COLUMNS = 36;

interface Measured {
  readonly mix: MixDocument;
  readonly state: Engine['state'];
  /** In the middle of a drag nothing is measured. */
  readonly settled: boolean;
  readonly askReadings: Engine['askReadings'];
  readonly askFaces: Engine['askFaces'];
  readonly onTones: (tones: ToneCounts | null) => void;
  readonly onFaces: (faces: ReadonlyMap<string, ImageBitmap>) => void;
  readonly onSketches: (sketches: ReadonlyMap<string, ImageBitmap>) => void;
  readonly onReadings: (readings: readonly Reading[] | null) => void;
}

/** Asks what is to be known of a picture once it stands, and tells what came of it: readings, small masks, tones, sketches. */
export function useMeasured({ mix, state, settled, askReadings, askFaces, onTones, onFaces, onSketches, onReadings }: Measured): void {
  const pictureIsThere = state.final;
  useEffect(() => onTones(state.tones), [state.tones, onTones]);
  useEffect(() => onFaces(state.faces), [state.faces, onFaces]);
  useEffect(() => onSketches(state.sketches), [state.sketches, onSketches]);
  /** The mix that was asked about last, and the one that the answer is of. */
  const [asked, measured] = [useRef<MixDocument | null>(null), useRef<MixDocument | null>(null)];
  useEffect(() => {
    measured.current = state.readings && asked.current;
    onReadings(state.readings);
  }, [state.readings, onReadings, asked, measured]);
  useEffect(() => {
    // A picture that is only moved or zoomed measures the same.
    if (!pictureIsThere || !settled || measured.current === mix) return;
    const timer = setTimeout(() => {
      asked.current = mix;
      askReadings(mix);
    }, AT_REST);
    return () => clearTimeout(timer);
  }, [pictureIsThere, settled, mix, askReadings, asked, measured]);
  useEffect(() => {
    if (pictureIsThere && settled) askFaces(mix, FACE_COLUMNS, Math.max(1, Math.round((FACE_COLUMNS * mix.height) / mix.width)));
  }, [pictureIsThere, settled, mix, askFaces]);
}
