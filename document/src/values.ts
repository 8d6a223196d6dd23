/*
 * What a mix is made of besides passes and areas, as plain JSON. Positions are fractions of the reference's longer side.
 */

/** Id of a frame. */
export type FrameId = string;

/** Red, green, blue. */
export type Triple = readonly [number, number, number];
/** A 3x3 matrix, row-major. As a map of pixel positions it is normalised to [8] = 1; integers are pixel centres. */
export type Matrix3 = readonly [number, number, number, number, number, number, number, number, number];

/**
 * A smooth field of small displacements over the reference, for frames in which near and far things moved differently: added
 * to where the homography puts a point. Values at the nodes of a regular grid, the outermost on the picture's edges,
 * linear in between.
 */
export interface Mesh {
  readonly columns: number;
  readonly rows: number;
  /** Displacement in pixels of the frame at full size: x then y of each node, row by row. */
  readonly shifts: readonly number[];
}

/** What a lens does; r is 1 in the corner. */
export interface Optics {
  /** Radial distortion. */
  readonly k1: number;
  readonly k2: number;
  /** Lateral colour: red (blue) is magnified by 1 + red r² (1 + blue r²) against green. */
  readonly red: number;
  readonly blue: number;
  /** Light that arrives at r, against the centre: 1 - falloff[0] r² - falloff[1] r⁴. */
  readonly falloff: readonly [number, number];
}

/** Which of the lens's errors are corrected. */
export interface Corrections {
  readonly distortion: boolean;
  readonly fringes: boolean;
  readonly falloff: boolean;
}

/** How a frame enters the picture: geometry, exposure and balance, found once and shared by all passes that use it. */
export interface FrameUse {
  /** Full size in pixels, after the EXIF orientation is applied. */
  readonly width: number;
  readonly height: number;
  /** Reference pixel to this frame's pixel, row-major, both freed of lens error. */
  readonly homography: Matrix3;
  /** What near and far things add to that, or null. */
  readonly mesh: Mesh | null;
  /** Exposure against the mix's own zero (the reference that it was proposed with), stops. */
  readonly stops: number;
  /** Gains on linear camera RGB to the shot's common white balance. */
  readonly balance: Triple;
  /** Gains by which its balance differs from what all frames of the shot share, and which `balance` holds already; null, or left out: it shares theirs. */
  readonly own?: Triple | null;
  /** Stops by which it is brighter than its exposure makes it, and which `stops` holds already (less of them is brighter); null, or left out: none. */
  readonly ownStops?: number | null;
}
