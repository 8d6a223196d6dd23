import { COLDEST_LIGHT, gainsForLight, lightForGains, WARMEST_LIGHT, type LightColour } from '@zaddle/core/colour/temperature';
import type { Command, MixDocument, Triple } from '@zaddle/document';
import { kelvin, whole } from './showValues';
import { Slide } from './Slide';

interface SettingsProps {
  readonly mix: MixDocument;
  /** The frame that is looked at, or null. */
  readonly frame: string | null;
  readonly name: string;
  readonly onAct: (command: Command, done: boolean) => void;
}

const ONE: Triple = [1, 1, 1];
const rounded = (gains: readonly number[]): Triple => gains.map((g) => Math.round(Math.min(100, g) * 1e5) / 1e5) as unknown as Triple;

/** What brings all frames of a shot to one balance is shared: its gains are those of the reference, its own aside. */
export function sharedBalance({ frames, reference }: MixDocument): Triple {
  const { balance, own } = frames[reference];
  return rounded(balance.map((g, c) => g / (own ?? ONE)[c]));
}

/** The command that gives all frames another balance; what single ones have of their own stays on top of it. */
export function shareBalance(mix: MixDocument, balance: Triple): Command {
  const by = balance.map((g, c) => g / sharedBalance(mix)[c]);
  return { kind: 'several', commands: Object.entries(mix.frames).map(([id, use]): Command => ({ kind: 'changeFrame', id, changes: { balance: rounded(use.balance.map((g, c) => g * by[c])) } })) };
}

/** The command that gives one frame a balance of its own on top of the shared one, or none (gains of 1). */
export function ownBalance({ frames }: MixDocument, id: string, own: Triple): Command {
  const before = frames[id].own ?? ONE;
  const balance = rounded(frames[id].balance.map((g, c) => (g / before[c]) * own[c]));
  return { kind: 'changeFrame', id, changes: { balance, own: own.every((g) => g === 1) ? null : rounded(own) } };
}

function Light({ gains, onChange }: { gains: Triple; onChange: (gains: Triple, done: boolean) => void }) {
  const colour = lightForGains(gains);
  const set = (changes: Partial<LightColour>, done: boolean): void => onChange(rounded(gainsForLight({ ...colour, ...changes })), done);
  return (
    <>
      <Slide label="Temperature" value={-1e6 / colour.kelvin} min={-1e6 / WARMEST_LIGHT} max={-1e6 / COLDEST_LIGHT} step={1} show={kelvin} onChange={(v, done) => set({ kelvin: -1e6 / v }, done)} />
      <Slide label="Tint" value={colour.tint} min={-60} max={60} step={1} show={whole} onChange={(tint, done) => set({ tint }, done)} />
    </>
  );
}

/** White balance of all frames at once, and what the chosen one has of its own. */
export function FrameSettings({ mix, frame, name, onAct }: SettingsProps) {
  const own = frame === null ? null : (mix.frames[frame]?.own ?? ONE);
  return (
    <>
      <h4>All frames</h4>
      <Light gains={sharedBalance(mix)} onChange={(gains, done) => onAct(shareBalance(mix, gains), done)} />
      {frame !== null && own && (
        <>
          <h4>{name} on its own</h4>
          <Light gains={own} onChange={(gains, done) => onAct(ownBalance(mix, frame, gains), done)} />
          {own !== ONE && <div className="tools"><button onClick={() => onAct(ownBalance(mix, frame, ONE), true)}>As all others</button></div>}
        </>
      )}
    </>
  );
}
