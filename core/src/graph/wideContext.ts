import type { CastField } from '../colour/castField';
import type { ToneBase, ToneModel } from '../finish/localTone';
import type { Light, Plane } from '../image/plane';
import type { AroundMask } from '../kind/passEvaluation';

/** What was worked out before: by what it was worked out from, and, for the middle of a drag, by the pass that it was worked out for last. */
class Remembered<T extends object> {
  private readonly values = new Map<string, T>();

  /** @param most things that are remembered by either name */
  constructor(private readonly most: number) {}

  /** What there was for this pass last time; undefined where nothing was. */
  last(pass: string): T | undefined {
    return this.values.get(`of ${pass}`);
  }

  /**
   * @param pass its id. @param exact false takes what there was for this pass last time, if anything.
   * @param key names everything that the value depends on; null: it is not looked up
   */
  take(pass: string, exact: boolean, key: () => string | null, make: () => T): T {
    const lately = `of ${pass}`;
    const last = this.last(pass);
    if (!exact && last) return last;
    const name = key();
    const value = (name === null ? undefined : this.values.get(name)) ?? make();
    for (const each of name === null ? [lately] : [name, lately]) {
      this.values.delete(each);
      this.values.set(each, value);
    }
    while (this.values.size > 2 * this.most) this.values.delete(this.values.keys().next().value!);
    return value;
  }
}

/** How a pass changes broad light: null where it does not. */
export interface Toned {
  readonly tone: ToneModel | null;
  readonly veil: Plane | null;
}

/** What was worked out in a wide context: broad light, what becomes of it, what was carried into masks, how the colour of light goes, and what bright light throws. */
export interface WideContext {
  readonly bases: Remembered<ToneBase>;
  readonly tones: Remembered<Toned>;
  readonly fills: Remembered<AroundMask>;
  readonly casts: Remembered<CastField>;
  readonly glows: Remembered<Light>;
}
const MOST_BASES = 6;
const MOST_TONES = 4;
const MOST_FILLS = 24;
const MOST_CASTS = 6;
const MOST_GLOWS = 4;

export const newWideContext = (): WideContext => ({ bases: new Remembered(MOST_BASES), tones: new Remembered(MOST_TONES), fills: new Remembered(MOST_FILLS), casts: new Remembered(MOST_CASTS), glows: new Remembered(MOST_GLOWS) });
