import { useMemo } from 'react';
import { framesOfPass } from '@zaddle/document';
import { useShootQuery, useShotQuery, type Shot } from '../store/api';

/** The shots before and after this one that can be worked on; null at either end. */
export function useNeighbours(shot: Shot): { readonly before: string | null; readonly after: string | null } {
  const { data: shoot } = useShootQuery(shot.shootId);
  const mixed = (shoot?.shots ?? []).filter((s) => s.state === 'mixed').sort((a, b) => a.position - b.position);
  return { before: mixed.filter((s) => s.position < shot.position).pop()?.id ?? null, after: mixed.find((s) => s.position > shot.position)?.id ?? null };
}

/** The shot after this one, which is likely to be opened next, with the frames that its picture takes; null after the last one. */
export function useNextShot(shot: Shot): { readonly shot: string; readonly frames: readonly string[] } | null {
  const following = useNeighbours(shot).after;
  const { data } = useShotQuery(following ?? '', { skip: following === null });
  const document = data?.mix?.document ?? null;
  return useMemo(() => (following && document ? { shot: following, frames: [...new Set([document.reference, ...document.passes.flatMap((pass) => (pass.on ? framesOfPass(document, pass) : []))])] } : null), [following, document]);
}
