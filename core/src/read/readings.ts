/** A measured statement about a shot. */
export interface Reading {
  readonly kind: 'misalignment' | 'clipped' | 'view' | 'cast' | 'unused' | 'single' | 'unlit' | 'unsafe' | 'step' | 'blur' | 'changed' | 'moved' | 'glare' | 'lamps' | 'crowded' | 'invented' | 'leaning';
  readonly value: number;
  readonly unit: string;
  readonly state: 'good' | 'check' | 'bad';
  /** What it means and what to do. */
  readonly text: string;
  /** A place to look at, reference pixels. */
  readonly where?: readonly [number, number];
  /** Outlines of single places that it is about, the largest first, reference pixels. */
  readonly places?: readonly (readonly (readonly [number, number])[])[];
  /** The frame that it is about. */
  readonly frame?: string;
}
