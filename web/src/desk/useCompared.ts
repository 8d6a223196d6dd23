import { skipToken } from '@reduxjs/toolkit/query';
import { useEffect, useMemo, useState } from 'react';
import type { MixDocument } from '@zaddle/document';
import { useVersionQuery } from '../store/api';
import { useAppSelector } from '../store/store';
import { frameOnly } from '../engine/frameOnly';
import { without } from './lookedAt';

/** Milliseconds that each side of a blink is seen. */
const BLINK = 700;

/** The version that is compared with, if one is. */
export function useComparedVersion(shot: string): MixDocument | null {
  const compared = useAppSelector((s) => s.desk.compare?.with ?? '');
  const version = compared.startsWith('version:') ? compared.slice(8) : null;
  const { currentData } = useVersionQuery(version === null ? skipToken : { shot, version });
  return currentData?.document ?? null;
}

/** The mix that the picture is compared with; null where there is none, or a picture that was dropped in takes its place. A version is seen through the crop of now. */
export function useCompared(shot: string, mix: MixDocument, selected: string | null): MixDocument | null {
  const compare = useAppSelector((s) => s.desk.compare);
  const version = useComparedVersion(shot);
  const kind = compare?.with ?? null;
  return useMemo(() => {
    if (kind === null || kind === 'client') return null;
    if (kind === 'before') return frameOnly(mix, mix.reference);
    if (kind === 'without') return without(mix, selected);
    if (kind.startsWith('frame:')) return kind.slice(6) in mix.frames ? frameOnly(mix, kind.slice(6)) : null;
    // On another reference its crop is told in that one's pixels: it stays as it was.
    return version && version.reference === mix.reference ? { ...version, geometry: mix.geometry, width: mix.width, height: mix.height } : version;
  }, [kind, mix, selected, version]);
}

/** Which side of a blink is seen: true for the other one. */
export function useBlink(on: boolean): boolean {
  const [other, setOther] = useState(false);
  useEffect(() => {
    if (!on) return setOther(false);
    const timer = setInterval(() => setOther((v) => !v), BLINK);
    return () => clearInterval(timer);
  }, [on]);
  return other;
}
