import type { ToldStance } from '../geometry/estimateStance';

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
  /** Of what leans: how the camera stood, so that it can be told anew as the picture is straightened. */
  readonly stance?: ToldStance;
  /** The frame that it is about. */
  readonly frame?: string;
}
