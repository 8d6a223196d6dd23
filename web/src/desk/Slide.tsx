interface SlideProps {
  readonly label: string;
  readonly value: number;
  readonly min: number;
  readonly max: number;
  readonly step: number;
  readonly show: (value: number) => string;
  /** `done` is false while the knob is held. */
  readonly onChange: (value: number, done: boolean) => void;
}

/** A labelled slider that tells a drag from its end. */
export function Slide({ label, value, min, max, step, show, onChange }: SlideProps) {
  return (
    <label className="field">
      <span>{label}</span>
      <input
        type="range" aria-label={label} min={min} max={max} step={step} value={value}
        onChange={(e) => onChange(Number(e.currentTarget.value), false)}
        onPointerUp={(e) => onChange(Number(e.currentTarget.value), true)}
        onKeyUp={(e) => onChange(Number(e.currentTarget.value), true)}
      />
      <output>{show(value)}</output>
    </label>
  );
}

export const percent = (v: number): string => `${Math.round(v * 100)} %`;
export const stops = (v: number): string => `${v > 0 ? '+' : v < 0 ? '−' : ''}${Math.abs(v).toFixed(2)}`;
