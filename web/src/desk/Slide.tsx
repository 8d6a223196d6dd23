import { useState } from 'react';
import { canBeTyped, readTyped, type Show } from './showValues';

interface SlideProps {
  readonly label: string;
  /** What it does, where its label alone does not say. */
  readonly title?: string;
  readonly value: number;
  readonly min: number;
  readonly max: number;
  readonly step: number;
  readonly show: Show;
  /** The value that changes nothing: a double click goes back to it. */
  readonly rest?: number;
  /** `done` is false while the knob is held. */
  readonly onChange: (value: number, done: boolean) => void;
}

/** The value in digits, which a click lets be typed: Enter takes it, Escape leaves it as it was. */
function Typed({ label, value, min, max, show, onChange }: Omit<SlideProps, 'step' | 'rest' | 'title'>) {
  const [typing, setTyping] = useState(false);
  if (!canBeTyped(show)) return <output>{show(value)}</output>;
  if (!typing) return <button className="typed" aria-label={`${label}: ${show(value)}, type another value`} onClick={(e) => { e.preventDefault(); setTyping(true); }}>{show(value)}</button>;
  const done = (text: string | null): void => {
    setTyping(false);
    const next = text === null ? NaN : readTyped(show, text);
    if (Number.isFinite(next)) onChange(Math.min(max, Math.max(min, next)), true);
  };
  return (
    <input
      className="typed" type="text" inputMode="decimal" aria-label={`${label}, typed`} defaultValue={show(value)} autoFocus onFocus={(e) => e.currentTarget.select()} onBlur={() => setTyping(false)}
      onKeyDown={(e) => { if (e.key === 'Enter') done(e.currentTarget.value); else if (e.key === 'Escape') { e.stopPropagation(); done(null); } }}
    />
  );
}

/** A labelled slider that tells a drag from its end; its value can be typed, and a double click brings back the one that changes nothing. */
export function Slide({ label, title, value, min, max, step, show, rest, onChange }: SlideProps) {
  return (
    <div className="field" title={title}>
      <span onDoubleClick={() => rest !== undefined && onChange(rest, true)}>{label}</span>
      <input
        type="range" aria-label={label} min={min} max={max} step={step} value={value}
        onChange={(e) => onChange(Number(e.currentTarget.value), false)}
        onPointerUp={(e) => onChange(Number(e.currentTarget.value), true)}
        onKeyUp={(e) => onChange(Number(e.currentTarget.value), true)}
        onDoubleClick={() => rest !== undefined && onChange(rest, true)}
      />
      <Typed label={label} value={value} min={min} max={max} show={show} onChange={onChange} />
    </div>
  );
}
