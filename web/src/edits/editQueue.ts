import { sharing } from './sharing';
import { applyCommand, draftOf, type Command, type MixDocument } from '@zaddle/document';

/** A mix as the server has it. */
export interface MixState {
  readonly document: MixDocument;
  readonly revision: number;
  readonly canUndo: boolean;
  readonly canRedo: boolean;
}

/** Something that a person did and the server may not know yet. */
export type Edit = {
  /** Names this one edit: sent twice, it is done once. */
  readonly id: string;
  /** Revision that the person saw when they did it. */
  readonly base: number;
} & ({ readonly kind: 'command'; readonly command: Command } | { readonly kind: 'undo' } | { readonly kind: 'redo' } | { readonly kind: 'reference'; readonly frame: string } | { readonly kind: 'version'; readonly version: string });

/** What came of sending an edit. */
export type Answer =
  | { readonly kind: 'taken'; readonly state: Omit<MixState, 'document'> & { readonly document?: MixDocument } }
  /** Refused for good, with how things stand where that was told. */
  | { readonly kind: 'refused'; readonly why: string; readonly state: MixState | null }
  /** Nobody answered, or the server cannot just now: to be sent again. */
  | { readonly kind: 'away' };

export interface QueueView {
  /** The mix with everything that was done here, sent or not. */
  readonly document: MixDocument;
  readonly canUndo: boolean;
  readonly canRedo: boolean;
  readonly saving: 'saved' | 'saving' | 'away';
  /** Edits that the server does not have yet. */
  readonly unsent: number;
  /** When the last edit was saved, milliseconds since 1970; null before the first. */
  readonly savedAt: number | null;
}

interface QueueSetup {
  /** @param known revision whose document is at hand. */
  readonly send: (edit: Edit, known: number) => Promise<Answer>;
  /** Keeps what is not sent yet, so that it outlives the page. */
  readonly keep: (unsent: readonly Edit[]) => void;
  readonly refused: (why: string) => void;
  readonly pause: (milliseconds: number) => Promise<void>;
  readonly now: () => number;
}

/** Milliseconds before an edit that nobody took is sent again: at first, and at most. */
const AGAIN = 500;
const LONGEST = 5000;

/** What pending edits make of a document. Undoing is the server's to work out; what does not fit any more is left out, and will be refused. */
function withPending(document: MixDocument, pending: readonly Edit[]): MixDocument {
  for (const edit of pending) {
    if (edit.kind !== 'command') continue;
    try {
      document = draftOf(document, edit.command);
    } catch {
      // Removed meanwhile by somebody else.
    }
  }
  return document;
}

/**
 * Edits of one mix on their way to the server: one after the other, in the order that they were done in, each until it was
 * answered. What is shown is the server's mix with all of them applied, so an edit always stands on the ones before it.
 */
export class EditQueue {
  private pending: readonly Edit[];
  /** What the server told by itself while an edit was on its way: it may hold that edit or not. */
  private told: MixState | null = null;
  private running = false;
  private away = false;
  private savedAt: number | null = null;
  private readonly listeners = new Set<() => void>();
  private shown: QueueView;

  /** @param unsent edits that an earlier page could not send any more. */
  constructor(private state: MixState, private readonly setup: QueueSetup, unsent: readonly Edit[] = []) {
    this.pending = unsent;
    this.shown = this.look();
    void this.run();
  }

  readonly subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };
  readonly view = (): QueueView => this.shown;

  get revision(): number {
    return this.state.revision;
  }

  /** Does something. @throws InvalidMix when a command does not fit what is there */
  add(id: string, what: { kind: 'command'; command: Command } | { kind: 'undo' | 'redo' } | { kind: 'reference'; frame: string } | { kind: 'version'; version: string }): void {
    if (what.kind === 'command') applyCommand(this.shown.document, what.command);
    this.pending = [...this.pending, { ...what, id, base: this.state.revision } as Edit];
    this.changed();
    void this.run();
  }

  /** Takes over edits that another window left: they were done before those that wait here. */
  adopt(left: readonly Edit[]): void {
    const first = this.running ? 1 : 0;
    this.pending = [...this.pending.slice(0, first), ...left, ...this.pending.slice(first)];
    this.changed();
    void this.run();
  }

  /** Takes what the server told of itself; what is older than what is known says nothing new. */
  take(state: MixState): void {
    if (state.revision <= this.state.revision) return;
    if (this.running) this.told = state;
    else this.stand(state);
    this.changed();
  }

  private look(): QueueView {
    const { canUndo, canRedo } = this.state;
    const commands = this.pending.some((edit) => edit.kind !== 'redo');
    return {
      document: withPending(this.state.document, this.pending), canUndo: canUndo || commands, canRedo: canRedo && !commands,
      saving: this.pending.length === 0 ? 'saved' : this.away ? 'away' : 'saving', unsent: this.pending.length, savedAt: this.savedAt,
    };
  }

  private changed(): void {
    this.setup.keep(this.pending);
    this.shown = this.look();
    this.listeners.forEach((listener) => listener());
  }

  /** What did not change stays the very same: the picture is made anew only where it did. */
  private stand(state: MixState): void {
    this.state = { ...state, document: sharing(this.shown.document, sharing(this.state.document, state.document)) };
  }

  private settle(edit: Edit, answer: Exclude<Answer, { kind: 'away' }>): void {
    this.pending = this.pending.slice(1);
    if (answer.kind === 'taken') {
      const document = answer.state.document ?? withPending(this.state.document, [edit]);
      this.stand({ ...answer.state, document });
      this.savedAt = this.setup.now();
    } else if (answer.state) this.stand(answer.state);
    if (this.told && this.told.revision > this.state.revision) this.stand(this.told);
    this.told = null;
  }

  private async run(): Promise<void> {
    if (this.running) return;
    this.running = true;
    let wait = AGAIN;
    while (this.pending.length > 0) {
      const edit = this.pending[0];
      const answer = await this.setup.send(edit, this.state.revision);
      if (answer.kind === 'away') {
        this.away = true;
        this.changed();
        await this.setup.pause(wait);
        wait = Math.min(LONGEST, wait * 2);
        continue;
      }
      wait = AGAIN;
      this.away = false;
      this.settle(edit, answer);
      this.changed();
      if (answer.kind === 'refused') this.setup.refused(answer.why);
    }
    this.running = false;
  }
}
