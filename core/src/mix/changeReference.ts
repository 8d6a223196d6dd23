import { compose, invert, mapPoint, type Homography } from '../geometry/homography';
import { mapThroughMesh, type Mesh } from '../geometry/mesh';
import { movedStance } from '../geometry/movedStance';
import { movedPass, type Crop, type FrameId, type Framing, type FrameUse, type Mix, type Pass, type Point } from '@zaddle/document';

/** Where a frame lies on another reference: the way back through the new one, then as before. */
function relate(use: FrameUse, home: FrameUse, old: FrameUse): Pick<FrameUse, 'homography' | 'mesh'> {
  const back = invert(home.homography);
  const homography = compose(use.homography, back);
  if (!use.mesh && !home.mesh) return { homography, mesh: null };
  // Node by node: from the new reference to the old one (its own mesh undone to first order), and on through the frame's map.
  const { columns, rows } = (use.mesh ?? home.mesh)!;
  const shifts: number[] = [];
  for (let row = 0; row < rows; row++) {
    for (let column = 0; column < columns; column++) {
      const [x, y] = [(column * (home.width - 1)) / (columns - 1), (row * (home.height - 1)) / (rows - 1)];
      const rough = mapPoint(back, x, y);
      const [ru, rv] = mapThroughMesh(home.homography, home.mesh, old.width, old.height, ...rough);
      const exact = mapPoint(back, 2 * x - ru, 2 * y - rv);
      const [u, v] = mapThroughMesh(use.homography, use.mesh, old.width, old.height, ...exact);
      const [pu, pv] = mapPoint(homography, x, y);
      shifts.push(u - pu, v - pv);
    }
  }
  const mesh: Mesh = { columns, rows, shifts };
  return { homography, mesh };
}

/** What a framing is on another reference. */
function movedFraming(framing: Framing, home: FrameUse, old: FrameUse, place: (at: Point) => Point): Framing {
  const scale = Math.max(old.width, old.height) / Math.max(home.width, home.height);
  const moved = ({ at, width, height }: Crop): Crop => ({ at: place(at), width: width * scale, height: height * scale });
  return { ...framing, ...movedStance(framing, home.homography, old, home, framing.focal), lines: framing.lines.map(({ from, to }) => ({ from: place(from), to: place(to) })), crop: framing.crop && moved(framing.crop), ...(framing.ownCrops ? { ownCrops: framing.ownCrops.map(({ ratio, crop }) => ({ ratio, crop: moved(crop) })) } : {}) };
}

/**
 * The same mix on another reference: maps and masks are carried over and exposures stay, so that the picture stays what it
 * was; only the grid that edges and detections are measured on changes. The crop keeps the old framing.
 * @throws Error when the frame is not lined up in this mix.
 */
export function changeReference<M extends Mix>(mix: M, reference: FrameId): M {
  const home = mix.frames[reference];
  if (!home) throw new Error(`Frame ${reference} is not lined up in this mix.`);
  const old = mix.frames[mix.reference];
  const frames = Object.fromEntries(Object.entries(mix.frames).map(([id, use]) => {
    const lies = id === reference ? { homography: [1, 0, 0, 0, 1, 0, 0, 0, 1] as const, mesh: null } : relate(use, home, old);
    return [id, { ...use, ...lies }];
  }));
  const [oldUnit, unit] = [Math.max(old.width, old.height), Math.max(home.width, home.height)];
  const place = ([x, y]: Point): Point => {
    const [u, v] = mapThroughMesh(home.homography, home.mesh, old.width, old.height, x * oldUnit, y * oldUnit);
    return [u / unit, v / unit];
  };
  const back = invert(home.homography);
  const passes = mix.passes.map((pass): Pass => {
    const moved = movedPass(pass, { place, scale: oldUnit / unit });
    return 'source' in moved ? { ...moved, alignment: moved.alignment && compose(moved.alignment, back) } : moved;
  });
  return { ...mix, reference, frames, passes, geometry: compose(home.homography, mix.geometry) as Homography, ...(mix.framing ? { framing: movedFraming(mix.framing, home, old, place) } : {}) };
}
