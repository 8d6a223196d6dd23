import { useVirtualizer } from '@tanstack/react-virtual';
import { useEffect } from 'react';
import type { Frame, Shot } from '../store/api';
import { framePicked, reviewOpened } from '../store/gatherSlice';
import { useAppDispatch, useAppSelector } from '../store/store';
import { CARD } from './cardSize';
import { FrameCard } from './FrameCard';
import { ShotBlock } from './ShotBlock';

interface ShotListProps {
  readonly shots: readonly Shot[];
  readonly framesOf: ReadonlyMap<string, readonly Frame[]>;
  readonly listed: readonly Frame[];
  readonly scroller: HTMLElement | null;
  /** A shot to bring into view; a new object each time it is asked for. */
  readonly jump: { readonly shot: string } | null;
}

/** Width of a block's frames, pixels, for the first guess of its height. */
const LIST_WIDTH = 980;

/** Shots with their frames; only those in view are in the page, so that hundreds of frames scroll smoothly. */
export function ShotList({ shots, framesOf, listed, scroller, jump }: ShotListProps) {
  const dispatch = useAppDispatch();
  const { chosen, current } = useAppSelector((s) => s.gather);
  const rows = useVirtualizer({
    count: shots.length,
    getScrollElement: () => scroller,
    estimateSize: (k) => 24 + CARD.height * Math.max(1, Math.ceil(((framesOf.get(shots[k].id)?.length ?? 1) * CARD.width) / LIST_WIDTH)),
    getItemKey: (k) => shots[k].id,
    overscan: 2,
  });
  useEffect(() => {
    const index = shots.findIndex((s) => s.id === jump?.shot);
    if (index >= 0) rows.scrollToIndex(index, { align: 'start' });
    // Only when it is asked for, not when shots change.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [jump]);
  const pick = (id: string, how: 'only' | 'toggle' | 'range'): void => void dispatch(framePicked({ id, how, listed: listed.map((f) => f.id) }));
  return (
    <div style={{ height: rows.getTotalSize(), position: 'relative' }} data-testid="shots">
      {rows.getVirtualItems().map((row) => {
        const shot = shots[row.index];
        const frames = framesOf.get(shot.id) ?? [];
        return (
          <div key={row.key} ref={rows.measureElement} data-index={row.index} style={{ position: 'absolute', top: 0, left: 0, right: 0, transform: `translateY(${row.start}px)` }}>
            <ShotBlock shot={shot} frames={frames}>
              {frames.map((frame) => <FrameCard key={frame.id} frame={frame} shot={shot} chosen={chosen.includes(frame.id)} current={frame.id === current} onPick={pick} onOpen={(id) => dispatch(reviewOpened(id))} />)}
            </ShotBlock>
          </div>
        );
      })}
    </div>
  );
}
