import { useVirtualizer } from '@tanstack/react-virtual';
import type { Frame } from '../store/api';
import { FrameCard } from './FrameCard';
import { CARD } from './cardSize';

/** Sides of the page, pixels. */
const SIDES = 48;

/** Frames that are in no shot yet, in rows; only those in view are in the page. */
export function LooseFrames({ frames, scroller }: { frames: readonly Frame[]; scroller: HTMLElement | null }) {
  const columns = Math.max(1, Math.floor(((scroller?.clientWidth ?? window.innerWidth) - SIDES) / CARD.width));
  const rows = useVirtualizer({ count: Math.ceil(frames.length / columns), getScrollElement: () => scroller, estimateSize: () => CARD.height, overscan: 3 });
  return (
    <div style={{ height: rows.getTotalSize(), position: 'relative' }} data-testid="loose">
      {rows.getVirtualItems().map((row) => (
        <div key={row.key} className="frames" style={{ position: 'absolute', top: 0, left: 0, right: 0, transform: `translateY(${row.start}px)` }}>
          {frames.slice(row.index * columns, (row.index + 1) * columns).map((f) => <FrameCard key={f.id} frame={f} shot={undefined} chosen={false} current={false} onPick={() => undefined} onOpen={() => undefined} />)}
        </div>
      ))}
    </div>
  );
}
