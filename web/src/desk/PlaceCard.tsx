import { useEffect, useRef, useState } from 'react';
import type { Probe } from '@zaddle/core/graph/probeMix';
import type { MixDocument, Point } from '@zaddle/document';
import type { Engine } from '../engine/useEngine';
import { stops } from './showValues';

/** Passes that are told of at most. */
const MOST = 6;

interface CardProps {
  readonly mix: MixDocument;
  readonly pass: string | null;
  /** Where the pointer is on the stage, and the output pixel there. */
  readonly pointer: Point;
  readonly at: Point;
  readonly scale: number;
  readonly probe: Engine['probe'];
}

const grey = ([r, g, b]: Probe['light']): number => Math.log2(Math.max(1e-4, 0.2627 * r + 0.678 * g + 0.0593 * b) / 0.18);

/** What lies under the pointer: its values, working and delivered, and which passes it comes from. */
export function PlaceCard({ mix, pass, pointer, at, scale, probe }: CardProps) {
  const [told, setTold] = useState<Probe | null>(null);
  const alive = useRef(true);
  useEffect(() => () => void (alive.current = false), []);
  useEffect(() => {
    alive.current = true;
    const timer = setTimeout(() => void probe(mix, at, scale, pass).then((answer) => answer && alive.current && setTold(answer)), 30);
    return () => clearTimeout(timer);
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [mix, pass, at[0], at[1], scale, probe]);
  if (!told) return null;
  return (
    <div className="place-card" style={{ left: pointer[0] + 18, top: pointer[1] + 18 }} data-testid="place-card">
      <div className="values"><b>{stops(grey(told.light))}</b> stops about grey<br />delivered <b>{told.delivered.map((v) => Math.round(v)).join(' ')}</b></div>
      {told.shares.slice(0, MOST).map(({ pass: id, share }) => (
        <div key={id} className="share"><span>{mix.passes.find((p) => p.id === id)?.name ?? 'Frame'}</span><i style={{ width: `${Math.round(share * 60)}px` }} /><b>{Math.round(share * 100)} %</b></div>
      ))}
      {told.shares.length > MOST && <div className="soft">and {told.shares.length - MOST} more</div>}
    </div>
  );
}
