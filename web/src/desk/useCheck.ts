import { useEffect, useMemo, useState } from 'react';
import type { MixDocument, Pass } from '@zaddle/document';
import type { Check } from '../engine/checkMix';
import { useAppSelector } from '../store/store';
import { useHandled } from './LineUpPanel';

/** Milliseconds that each side of a blink is seen. */
const BLINK = 700;

/** What the stage shows in place of the mix while a frame is held against the reference, or null. */
export function useCheck(mix: MixDocument, pass: Pass | null): Check | null {
  const { panel, check } = useAppSelector((s) => s.desk);
  const { frame, pass: own } = useHandled(mix, pass);
  const [other, setOther] = useState(false);
  const blinks = panel === 'lineUp' && check === 'blink' && frame !== null;
  useEffect(() => {
    if (!blinks) return;
    const timer = setInterval(() => setOther((v) => !v), BLINK);
    return () => clearInterval(timer);
  }, [blinks]);
  const passId = own?.id ?? null;
  return useMemo(() => {
    if (panel !== 'lineUp' || check === 'off' || !frame) return null;
    if (check !== 'blink') return { kind: check, frame, pass: passId };
    return other ? { kind: 'alone', frame: mix.reference, pass: null } : { kind: 'alone', frame, pass: passId };
  }, [panel, check, frame, passId, other, mix.reference]);
}
