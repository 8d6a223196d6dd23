import type { MixDocument } from '@zaddle/document';
import type { DeskState } from '../store/deskSlice';
import { useBlink } from './useCompared';
import type { Viewport } from './useViewport';

/** A picture of the client's that was dropped in. */
export interface ClientPicture {
  readonly name: string;
  readonly url: string;
}

interface ComparedProps {
  readonly mix: MixDocument;
  readonly view: Viewport;
  readonly compare: NonNullable<DeskState['compare']>;
  readonly client: ClientPicture | null;
  /** Takes the canvas that the engine draws the other mix on, and whether there is one. */
  readonly canvas: (canvas: HTMLCanvasElement | null) => void;
  readonly drawn: boolean;
  /** The client's picture cannot be shown. */
  readonly onBroken: () => void;
}

/** The other picture, over the first: how it lies there makes the wipe, the blink, the difference. */
export function ComparedPicture({ mix, view, compare, client, canvas, drawn, onBroken }: ComparedProps) {
  const { way, at } = compare;
  const blinked = useBlink(way === 'blink');
  return (
    <div className={`window other ${way === 'beside' ? 'right' : way}`} style={way === 'wipe' ? { clipPath: `inset(0 0 0 ${at * 100}%)` } : { visibility: way === 'blink' && !blinked ? 'hidden' : 'visible' }}>
      <canvas ref={canvas} data-testid="beside" hidden={!drawn} />
      {compare.with === 'client' && client && <img src={client.url} alt={client.name} draggable={false} style={{ left: view.x, top: view.y, width: mix.width * view.scale, height: mix.height * view.scale }} onError={onBroken} />}
    </div>
  );
}
