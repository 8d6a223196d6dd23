import { readCube } from '@zaddle/core/finish/readCube';
import type { ColourTable, ColourTables } from '@zaddle/core/finish/colourTable';
import { tablesOf, type MixDocument } from '@zaddle/document';

/** Milliseconds after which a table that was not there is asked for again. */
const AGAIN = 5000;

/** Colour tables that pictures go through, read once, whichever shot is open. */
export class TableShelf {
  private readonly known = new Map<string, ColourTable>();
  /** Those that the server did not have, and when: the picture is shown without them. */
  private readonly gone = new Map<string, number>();

  get tables(): ColourTables {
    return this.known;
  }

  /** Reads the tables that mixes name and that are not there yet. */
  async load(mixes: readonly (MixDocument | null)[]): Promise<void> {
    const wanted = tablesOf(mixes.flatMap((mix) => mix?.passes ?? [])).filter((digest) => !this.known.has(digest) && !(performance.now() - (this.gone.get(digest) ?? -Infinity) < AGAIN));
    await Promise.all(wanted.map((digest) => this.read(digest)));
  }

  private async read(digest: string): Promise<void> {
    const response = await fetch(`/api/tables/${digest}`);
    if (response.status === 404) this.gone.set(digest, performance.now());
    else if (!response.ok) throw new Error(`A colour table could not be loaded (${response.status}). Reload the page.`);
    else this.known.set(digest, readCube(await response.text()));
  }
}
