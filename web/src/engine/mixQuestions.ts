import { writeCube } from '@zaddle/core/finish/writeCube';
import type { Grain, MixDocument, Triple } from '@zaddle/document';
import { castBelow, contributionsOf, facesOfMasks, grainOf, probed, readingsOf, sketched, tabulated } from './measureMix';
import type { Answer, Asked, Sketched } from './messages';
import type { Session } from './session';
import { visiblePart } from './visiblePart';

/** What questions about a mix need of the worker that answers them. */
interface MixAsker {
  readonly session: () => Session | null;
  readonly send: (message: Answer, transfer?: Transferable[]) => void;
  /** Lets messages that came meanwhile in first. */
  readonly turn: () => Promise<void>;
  /** Whether pictures are made or waited for. */
  readonly isBusy: () => boolean;
  /** Frames whose pixels are needed to show a mix. */
  readonly framesOf: (mix: MixDocument) => readonly string[];
  readonly loadTables: (mix: MixDocument) => Promise<void>;
  readonly bitmapOf: (rgba: Uint8ClampedArray, width: number, height: number) => ImageBitmap;
  readonly bitmapOfRgb: (rgb: Uint8Array, width: number, height: number) => ImageBitmap;
}

/** Milliseconds after which it is looked again whether pictures are still made. */
const AGAIN = 20;

/** Opaque grey pixels. */
const greyPixels = (values: Uint8Array): Uint8ClampedArray => Uint8ClampedArray.from({ length: values.length * 4 }, (_, i) => ((i & 3) === 3 ? 255 : values[i >> 2]));

/** Questions that are answered once the pictures that are waited for are made; the newest of a kind wins. */
function newest<Q>({ session, turn, isBusy }: MixAsker, answer: (s: Session, question: Q) => void): (question: Q) => void {
  let asked: Q | null = null;
  const look = async (own: Q): Promise<void> => {
    await turn();
    if (asked !== own) return;
    const s = session();
    if (isBusy() || !s) return void setTimeout(() => void look(own), AGAIN);
    asked = null;
    try {
      answer(s, own);
    } catch {
      // A frame that is still on its way: it is asked again with the next picture, or the next place.
    }
  };
  return (question) => {
    asked = question;
    void look(question);
  };
}

/** Answers what is asked about a mix: what is measured on it, and small pictures of it. */
export function mixQuestions(asker: MixAsker) {
  const { session, send, turn, isBusy, framesOf, loadTables, bitmapOf, bitmapOfRgb } = asker;
  /** Sketches that are asked for; a newer question takes their place. */
  let sketches: readonly Sketched<MixDocument>[] = [];
  return {
    map: newest<Asked<'map'>>(asker, (s, { mix, columns, rows }) => send({ kind: 'mapped', map: contributionsOf(s, mix, columns, rows) })),
    /** Small pictures of masks: white where they count. */
    faces: newest<Asked<'faces'>>(asker, (s, { mix, columns, rows }) => {
      const faces = new Map([...facesOfMasks(s, mix, columns, rows)].map(([id, face]) => [id, bitmapOf(greyPixels(face), columns, rows)] as const));
      send({ kind: 'faced', faces }, [...faces.values()]);
    }),
    readings: newest<Asked<'readings'>>(asker, (s, { mix }) => send({ kind: 'read', readings: readingsOf(s, mix) })),
    place: newest<Asked<'probe'>>(asker, (s, { mix, at, scale, pass, ticket }) => send({ kind: 'probed', ticket, probe: probed(s, mix, at, scale, pass) })),
    /** Makes sketches one by one, pictures that are waited for first. */
    async sketch(own: readonly Sketched<MixDocument>[]): Promise<void> {
      sketches = own;
      for (const { key, mix, columns, rows } of own) {
        await turn();
        while (sketches === own && (isBusy() || !session())) await new Promise((resolve) => setTimeout(resolve, AGAIN));
        const s = session();
        if (sketches !== own || !s) return;
        try {
          await loadTables(mix);
          const picture = bitmapOfRgb(sketched(s, mix, columns, rows), columns, rows);
          send({ kind: 'sketched', key, picture }, [picture]);
        } catch {
          // A frame that is still on its way: it is asked again with the next change.
        }
      }
    },
    /** What takes a cast away; a frame that is still on its way is told as nothing. */
    cast({ mix, pass, ticket }: Asked<'cast'>): void {
      let gains: Triple | null = null;
      try {
        const s = session();
        gains = s && castBelow(s, mix, pass);
      } finally {
        send({ kind: 'castTold', ticket, gains });
      }
    },
    /** What a pass does to colours, as a file; nothing where the shot is not there yet. */
    table({ mix, pass, space, ticket }: Asked<'tabulate'>): void {
      const s = session();
      const table = s && tabulated(s, mix, pass, space);
      send({ kind: 'tabulated', ticket, text: table && writeCube(table) });
    },
    /** How grainy what is seen is; nothing where it is not seen pixel by pixel, or not all of its pixels are there yet. */
    grain({ mix, view, ticket }: Asked<'grain'>): void {
      const [s, visible] = [session(), visiblePart(mix, view)];
      let grain: Grain | null = null;
      try {
        const missing = s && visible && s.missing(mix, framesOf(mix), visible);
        if (missing && missing.proxies.length + missing.parts.length === 0) grain = grainOf(s, mix, visible);
      } finally {
        send({ kind: 'grainTold', ticket, grain });
      }
    },
    /** Another shot is opened. */
    leave(): void {
      sketches = [];
    },
  };
}
