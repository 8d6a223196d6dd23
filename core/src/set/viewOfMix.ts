import type { Mix } from '@zaddle/document';
import { linearToSrgb } from '../colour/transfer';
import type { ToldStance } from '../geometry/estimateStance';
import { stanceRotation } from '../geometry/straightenMap';
import { createPlane, luminance, mapPlane, type Light, type Plane } from '../image/plane';
import { USUAL_FOCAL } from '../mix/frameMix';
import { outputToReference } from '../mix/outputToReference';
import { describeView, type Ray, type ViewFeatures } from './describeView';

/** Light below this has no colour to tell. */
const DARK = 0.01;

const overGreen = (channel: Float32Array, { width, height, g }: Light): Plane => createPlane(width, height, channel.map((v, i) => Math.log2(Math.max(DARK, v) / Math.max(DARK, g[i]))));

/** Describes what the picture of a mix shows, as a level camera sees it. @param picture all of its output, at any size. @param stance how its camera stood, where that is known */
export function viewOfMix(mix: Mix, picture: Light, stance: ToldStance | null): ViewFeatures {
  const { width, height } = mix.frames[mix.reference];
  const focal = (stance?.focal ?? USUAL_FOCAL) * Math.max(width, height);
  const r = stanceRotation({ roll: 0, pitch: 0, ...stance?.plumb, yaw: 0 });
  const rayAt = (x: number, y: number): Ray => {
    const [u, v] = outputToReference(mix, ((x + 0.5) * mix.width) / picture.width - 0.5, ((y + 0.5) * mix.height) / picture.height - 0.5);
    const [a, b] = [(u - (width - 1) / 2) / focal, (v - (height - 1) / 2) / focal];
    const length = Math.hypot(a, b, 1);
    return [(r[0] * a + r[1] * b + r[2]) / length, (r[3] * a + r[4] * b + r[5]) / length, (r[6] * a + r[7] * b + r[8]) / length];
  };
  return describeView(mapPlane(luminance(picture), (v) => 255 * linearToSrgb(v)), overGreen(picture.r, picture), overGreen(picture.b, picture), rayAt);
}
