import { COLDEST_LIGHT, gainsForLight, lightForGains, WARMEST_LIGHT, type LightColour } from '@zaddle/core/colour/temperature';
import type { Command, FrameUse, MixDocument, Triple } from '@zaddle/document';
import { kelvin, stops, whole } from './showValues';
import { Slide } from './Slide';

interface SettingsProps {
  readonly mix: MixDocument;
  /** The frame that is looked at, or null. */
  readonly frame: string | null;
  readonly name: string;
  /** Frames of the shot by name, those of the mix among them. */
  readonly frames: readonly { readonly id: string; readonly name: string }[];
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

/** Exposure that a frame shares with all others: what it has of its own aside. */
export const sharedStops = ({ stops, ownStops }: FrameUse): number => stops + (ownStops ?? 0);
const EXACT = 1e3;
const fine = (v: number): number => Math.round(Math.max(-12, Math.min(12, v)) * EXACT) / EXACT;

/** The frame whose exposure all others are matched to, or null where they are matched to none of them. */
export const matchedTo = ({ frames, reference }: MixDocument): string | null => [reference, ...Object.keys(frames)].find((id) => Math.abs(sharedStops(frames[id])) < 2 / EXACT) ?? null;

/** The command that makes all frames as bright as one of them was exposed; what single ones have of their own stays. */
export function matchExposure({ frames }: MixDocument, id: string): Command {
  const by = sharedStops(frames[id]);
  return { kind: 'several', commands: Object.entries(frames).map(([other, use]): Command => ({ kind: 'changeFrame', id: other, changes: { stops: fine(use.stops - by) } })) };
}

/** The command that makes one frame brighter than its exposure says, by stops, in all passes that use it. */
export function ownExposure({ frames }: MixDocument, id: string, own: number): Command {
  return { kind: 'changeFrame', id, changes: { stops: fine(sharedStops(frames[id]) - own), ownStops: own === 0 ? null : own } };
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

/** Which frame's exposure all are matched to. */
function Exposure({ mix, frames, onAct }: Pick<SettingsProps, 'mix' | 'frames' | 'onAct'>) {
  const now = matchedTo(mix);
  return (
    <label className="field">
      <span>As bright as</span>
      <select aria-label="As bright as" value={now ?? ''} onChange={(e) => { onAct(matchExposure(mix, e.currentTarget.value), true); e.currentTarget.blur(); }}>
        {now === null && <option value="" disabled>none of them</option>}
        {frames.filter(({ id }) => id in mix.frames).map(({ id, name }) => <option key={id} value={id}>{name}</option>)}
      </select>
    </label>
  );
}

/** White balance and exposure of all frames at once, and what the chosen one has of its own. */
export function FrameSettings({ mix, frame, name, frames, onAct }: SettingsProps) {
  const own = frame === null ? null : (mix.frames[frame]?.own ?? ONE);
  return (
    <>
      <h4>All frames</h4>
      <Exposure mix={mix} frames={frames} onAct={onAct} />
      <Light gains={sharedBalance(mix)} onChange={(gains, done) => onAct(shareBalance(mix, gains), done)} />
      {frame !== null && own && (
        <>
          <h4>{name} on its own</h4>
          <Slide label="Exposure" value={mix.frames[frame].ownStops ?? 0} min={-4} max={4} step={0.05} rest={0} show={stops} onChange={(v, done) => onAct(ownExposure(mix, frame, Math.round(v * 100) / 100), done)} />
          <Light gains={own} onChange={(gains, done) => onAct(ownBalance(mix, frame, gains), done)} />
          {(own !== ONE || mix.frames[frame].ownStops) && <div className="tools"><button onClick={() => onAct({ kind: 'several', commands: [ownBalance(mix, frame, ONE), ownExposure(mix, frame, 0)] }, true)}>As all others</button></div>}
        </>
      )}
    </>
  );
}
