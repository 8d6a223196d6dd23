import type { MixDocument, Pass } from '@zaddle/document';
import { drawnBy } from '../area/areas';
import type { Tool } from '../store/deskSlice';
import { useAppSelector } from '../store/store';
import { sizeTold } from './SizeMenu';
import type { OrderSeen } from './useOrderSeen';

const CHECK_WORDS = { difference: 'Difference in structure: black where frames lie on each other', through: 'The frame half over the reference', alone: 'Blinking between frame and reference' } as const;
const wordOf = (tool: Tool): string => (tool === 'more' ? 'More of' : tool === 'less' ? 'Less of' : PICK_WORDS[tool] ?? (tool === 'outline' ? 'Outline on' : (drawnBy(tool)?.doing ?? '')));
const PICK_WORDS: Partial<Record<Tool, string>> = { neutral: 'Click what should be white or grey (Shift: several), for', tone: 'Press on a tone and drag up or down, for', sample: 'Click what the area should take in, for', band: 'Click a colour to change all that have its hue, by', fillRamp: 'Drag from the first tone to the second, for' };

interface HintsProps {
  readonly mix: MixDocument;
  readonly target: Pass | null;
  /** The pointer paints or draws; or it points at places. */
  readonly paints: boolean;
  readonly searches: boolean;
  /** Why a stroke would not be seen; null: it would. */
  readonly unseen: string | null;
  /** What came of neutral places that were pointed at; null: none were. */
  readonly greys: string | null;
  /** What was asked for is being found. */
  readonly finding: boolean;
  readonly check: keyof typeof CHECK_WORDS | null;
  readonly order: OrderSeen;
}

/** What is being done to the picture, and what of it is shown, in words over it. */
export function StageHints({ mix, target, paints, searches, unseen, greys, finding, check, order }: HintsProps) {
  const { tool, look, solo } = useAppSelector((s) => s.desk);
  return (
    <>
      {paints && target && <div className={`hint ${tool === 'more' || tool === 'less' ? tool : 'draw'}`} role="status">{wordOf(tool)} “{target.name}”{greys && `: ${greys}`}{finding && ': looking for it…'}{unseen && <span className="late">: not seen, {unseen}</span>}</div>}
      {!paints && finding && <div className="hint draw" role="status">Looking for it…</div>}
      {searches && <div className="hint draw" role="status">{tool === 'heal' ? 'Heal: click a spot, drag from the middle of a larger one, or Shift and drag round it' : 'Search by spot: click what is not clean, drag from its middle, or Shift and drag round it'}</div>}
      {check && <div className="hint">{CHECK_WORDS[check]}</div>}
      {!paints && !check && look === 'before' && <div className="hint">Before: the reference as shot</div>}
      {!paints && !check && look === 'without' && target && <div className="hint">Without “{target.name}”</div>}
      {target && (look === 'coloured' || look === 'mask') && <div className={`hint ${paints ? 'below' : ''}`}>{target.on ? `Mask of “${target.name}”: ${look === 'mask' ? 'white where it counts' : 'in colour where it counts'}` : `“${target.name}” is muted: its mask is not shown`}</div>}
      {look === 'edges' && <div className="hint">Where sharpening takes effect: white whole, black not at all</div>}
      {!paints && !check && order.option && look === 'after' && <div className="hint">{sizeTold(order.option, mix)}</div>}
      {!paints && solo && look !== 'before' && <div className="hint">One pass by itself</div>}
    </>
  );
}
