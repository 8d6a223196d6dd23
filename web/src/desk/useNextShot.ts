import { useMemo } from 'react';
import { framesOfPass } from '@zaddle/document';
import { useShootQuery, useShotQuery, type Shot } from '../store/api';

/** The shot after this one, which is likely to be opened next, with the frames that its picture takes; null after the last one. */
export function useNextShot(shot: Shot): { readonly shot: string; readonly frames: readonly string[] } | null {
  const { data: shoot } = useShootQuery(shot.shootId);
  const following = shoot?.shots.filter((s) => s.state === 'mixed' && s.position > shot.position).sort((a, b) => a.position - b.position)[0]?.id ?? null;
  const { data } = useShotQuery(following ?? '', { skip: following === null });
  const document = data?.mix?.document ?? null;
  return useMemo(() => (following && document ? { shot: following, frames: [...new Set([document.reference, ...document.passes.flatMap((pass) => (pass.on ? framesOfPass(document, pass) : []))])] } : null), [following, document]);
}
