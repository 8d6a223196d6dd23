import type { AdjustPass, Triple } from '@zaddle/document';
import { gainsAgainst } from '../colour/castField';
import { conesToWorking, workingToCones } from '../colour/oklab';
import { BAND_STEPS, changesHues, hueTable } from '../finish/hueBands';
import { tableBlock } from '../finish/tableBlock';
import { CURVE_FROM, CURVE_STEPS, toneCurveTable } from '../finish/tonePoints';
import { veilRemoval } from '../finish/veil';
import type { Pointer } from '../kernels/kernels';
import { identity } from '../kind/keeper';
import type { ChangingPass } from '../kind/passEvaluation';
import type { PlacedPlane } from '../kind/placing';

interface PlacedAdjust {
  /** Gains on red, green, blue, or null where they change nothing. */
  readonly gains: Triple | null;
  readonly tone: { readonly a: PlacedPlane; readonly b: PlacedPlane } | null;
  /** By how much gains lie above 1 that even out the colour of light, a plane a colour, or null. */
  readonly evening: readonly PlacedPlane[] | null;
  /** What is taken from light against a veil, and by how much gains lie above 1 that bring white back, or null. */
  readonly clearing: { readonly taken: PlacedPlane; readonly grown: PlacedPlane } | null;
  /** Light of bright places that glows over what is around, a plane a colour, and its share; or null. */
  readonly glowing: { readonly planes: readonly PlacedPlane[]; readonly share: number } | null;
  /** Stops over log2 luminance, or null where there is no curve. */
  readonly curve: { readonly at: Pointer; readonly count: number } | null;
  /** Contrast about middle grey, as log2 gain over log2 luminance. */
  readonly slope: number;
  readonly lift: number;
  readonly saturation: number;
  /** What becomes of colours by their hue, or null where nothing does. */
  readonly hues: { readonly matrix: Pointer; readonly inverse: Pointer; readonly table: Pointer; readonly muted: number } | null;
  /** A colour table as the kernel reads it, or null. */
  readonly through: { readonly block: Pointer; readonly strength: number } | null;
}

/** log2 of middle grey, about which contrast turns. */
const MIDDLE = Math.log2(0.18);

/** Its parts look at the luminance that comes in, and act at once; bands of hues then look at what comes of them, and a colour table at that. */
export const adjustPass: ChangingPass<AdjustPass, PlacedAdjust> = {
  does: 'changes',
  tones({ highlights, shadows, localContrast }) {
    const wanted = { highlights, shadows, localContrast: localContrast ?? 0 };
    return Object.values(wanted).some((v) => v !== 0) ? wanted : null;
  },
  evens: (pass) => (pass.evenness ?? 0) > 0,
  clears: (pass) => (pass.veil ?? 0) > 0,
  glows: (pass) => (pass.glow ?? 0) > 0,
  place(pass, { tone, cast, veil, glow, table: colours }, placing) {
    const slope = pass.contrast - 1;
    const placed = tone && { a: placing.onReference(tone.a), b: placing.onReference(tone.b) };
    const gains = pass.balance.every((g) => g === 1) ? null : pass.balance;
    const table = pass.curve.length > 0 ? toneCurveTable(pass.curve) : null;
    const curve = table && { at: placing.once(table), count: table.length };
    const [bands, muted] = [pass.bands ?? [], pass.muted ?? 0];
    const hues = muted !== 0 || changesHues(bands) ? { matrix: placing.once(workingToCones()), inverse: placing.once(conesToWorking()), table: placing.once(hueTable(bands)), muted } : null;
    const evening = cast && gainsAgainst(cast, pass.evenness ?? 0).map((plane) => placing.onReference(plane));
    const removal = veil && veilRemoval(veil, pass.veil ?? 0);
    const clearing = removal && { taken: placing.onReference(removal.taken), grown: placing.onReference(removal.grown) };
    const glowing = glow && { planes: [glow.r, glow.g, glow.b].map((data) => placing.onReference({ width: glow.width, height: glow.height, data })), share: pass.glow ?? 0 };
    const through = colours && pass.table && pass.table.strength > 0 ? { block: placing.floats(tableBlock(colours, pass.table.space)), strength: pass.table.strength } : null;
    return { placed: { through, evening, glowing, clearing, hues, gains, tone: placed, curve, slope, lift: pass.exposure - slope * MIDDLE, saturation: pass.saturation }, key: `${tone ? identity(tone.a) : ''} ${cast ? identity(cast) : ''} ${veil ? identity(veil) : ''} ${glow ? identity(glow) : ''} ${colours ? identity(colours) : ''}` };
  },
  row({ through, evening, glowing, clearing, hues, gains, tone, curve, slope, lift, saturation }, work, y, light) {
    const { s, kernels, width: n } = work;
    // A gain of 2 in the place of one colour multiplies it by 1 and what the mask lets through.
    evening?.forEach((plane, c) => {
      work.plane(plane, y, s.a);
      kernels.multiply(s.a, s.mask, n, s.a);
      kernels.balanceRow(light, s.plane, s.a, n, c === 0 ? 2 : 1, c === 1 ? 2 : 1, c === 2 ? 2 : 1);
    });
    if (glowing) {
      glowing.planes.forEach((plane, c) => {
        work.plane(plane, y, s.pieces + c * s.plane);
        kernels.multiply(s.pieces + c * s.plane, s.mask, n, s.pieces + c * s.plane);
      });
      kernels.subtractRow(light, s.plane, s.pieces, s.plane, n, -glowing.share);
    }
    kernels.logLuminanceRow(light, s.plane, n, s.logY);
    if (clearing) {
      work.plane(clearing.taken, y, s.a);
      kernels.multiply(s.a, s.mask, n, s.a);
      kernels.subtractRow(light, s.plane, s.a, 0, n, 1);
      work.plane(clearing.grown, y, s.a);
      kernels.multiply(s.a, s.mask, n, s.a);
      kernels.balanceRow(light, s.plane, s.a, n, 2, 2, 2);
    }
    if (gains) kernels.balanceRow(light, s.plane, s.mask, n, gains[0], gains[1], gains[2]);
    if (tone) {
      work.plane(tone.a, y, s.a);
      work.plane(tone.b, y, s.b);
    } else if (curve) work.copyRow(s.zeros, s.b, 1);
    if (curve) kernels.curveRow(s.logY, n, MIDDLE + CURVE_FROM, CURVE_STEPS, curve.at, curve.count, s.b);
    kernels.gainRow(light, s.plane, s.logY, tone ? s.a : s.zeros, tone || curve ? s.b : s.zeros, s.mask, n, slope, lift, saturation);
    if (hues) kernels.bandsRow(light, s.plane, n, s.mask, hues.matrix, hues.inverse, hues.table, BAND_STEPS, hues.muted);
    if (through) kernels.tableRow(light, s.plane, n, s.mask, through.block, through.strength);
  },
};
