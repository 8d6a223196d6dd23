import { beyondToggled, comparedWith, lookChosen, mapToggled, markingToggled, nextMaskLook, panelOpened, laidOut, tellingToggled } from '../store/deskSlice';
import { useAppDispatch, useAppSelector } from '../store/store';
import { SizeMenu } from './SizeMenu';
import type { OrderSeen } from './useOrderSeen';
import type { Viewport } from './useViewport';

interface FootProps {
  readonly view: Viewport;
  readonly order: OrderSeen;
  readonly onWhole: () => void;
  readonly onOne: () => void;
  /** A pass is selected. */
  readonly hasTarget: boolean;
  /** The picture is still being made. */
  readonly working: boolean;
}

/** How large the picture is, and what is shown of it. */
export function StageFoot({ view, order, onWhole, onOne, hasTarget, working }: FootProps) {
  const dispatch = useAppDispatch();
  const { look, compare, telling, mapped, marking, laid, beyond, panel } = useAppSelector((s) => s.desk);
  return (
    <div className="foot" onPointerDown={(e) => e.stopPropagation()}>
      <button onClick={onWhole} aria-pressed={view.whole}>Whole</button>
      <button onClick={onOne} aria-pressed={Math.abs(view.scale - 1) < 1e-6}>1:1</button>
      <SizeMenu all={order.all} seen={order.option} />
      <span>{Math.round(view.scale * 100)} %</span>
      <button onClick={() => dispatch(laidOut('starts'))} aria-pressed={laid === 'starts'} title="Ways to begin with this shot, side by side (j)">Begin with</button>
      <button onClick={() => dispatch(panelOpened(panel === 'methods' ? 'pass' : 'methods'))} aria-pressed={panel === 'methods'} title="Kept decisions for this shot, and for others (Shift + m)">Methods</button>
      <button onClick={() => dispatch(lookChosen('before'))} aria-pressed={look === 'before'}>Before</button>
      <button onClick={() => dispatch(comparedWith(compare ? null : 'before'))} aria-pressed={compare !== null} title="Hold it beside a frame, a version, a picture of the client’s (d)">Compare</button>
      <button onClick={() => dispatch(tellingToggled())} aria-pressed={telling} title="What lies under the pointer, and where it comes from (i)">Tell</button>
      <button onClick={() => dispatch(mapToggled())} aria-pressed={mapped} title="Which pass gives most where (Shift + i)">Shares</button>
      <button onClick={() => dispatch(markingToggled())} aria-pressed={marking} title="What was replaced or filled, for the client to know (Shift + c)">Changed</button>
      <button onClick={() => dispatch(beyondToggled())} aria-pressed={beyond || panel === 'framing'} disabled={panel === 'framing'} title="What the crop cuts off, dimmed (Shift + w)">Beyond</button>
      <button onClick={() => dispatch(lookChosen('clipping'))} aria-pressed={look === 'clipping'}>Clipped</button>
      <button onClick={() => dispatch(lookChosen(nextMaskLook(look)))} aria-pressed={look === 'coloured' || look === 'mask'} disabled={!hasTarget} title="Where the selected pass counts (v)">Mask</button>
      {working && <span className="soft" role="img" aria-label="The picture is still being made">…</span>}
    </div>
  );
}
