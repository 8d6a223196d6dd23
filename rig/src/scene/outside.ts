import { cloud, hash, noise } from './noise';
import { ramp } from './textures';

/*
 * What is seen from the mill: a creek at half tide, saltmarsh before it, a far bank with trees, a boat shed and cottages, a
 * church tower on the hill behind, clouds. x: bearing, y: elevation, both in radians; radiance relative to a bright sky of 1.
 */

const put = (out: Float64Array, r: number, g: number, b: number, k: number): void => {
  out[0] = r * k;
  out[1] = g * k;
  out[2] = b * k;
};

/** Air between takes contrast and adds its own light. @param k how much of it, 0..1 */
function haze(out: Float64Array, k: number): void {
  out[0] += (0.5 - out[0]) * k;
  out[1] += (0.56 - out[1]) * k;
  out[2] += (0.63 - out[2]) * k;
}

function sky(x: number, y: number, out: Float64Array): void {
  const high = Math.max(0, y);
  const far = 1 / (0.12 + high);
  // Clouds lie on a flat ceiling: smaller and closer together towards the horizon.
  const [u, v] = [x * far * 0.55 + 4, far * 0.9];
  const mass = 0.6 * cloud(u, v) + 0.4 * cloud(u * 2.7 + 9, v * 2.7);
  const cover = ramp(mass, 0.44, 0.6);
  const lit = 0.74 + 0.3 * ramp(mass - 0.35 * (cloud(u + 0.09, v - 0.16) - 0.5), 0.42, 0.68);
  const depth = ramp(high, 0, 0.6);
  const [r, g, b] = [0.62 - 0.38 * depth, 0.73 - 0.33 * depth, 0.86 - 0.16 * depth];
  out[0] = r + (lit * 0.98 - r) * cover;
  out[1] = g + (lit * 0.985 - g) * cover;
  out[2] = b + (lit * 1.01 - b) * cover;
}

/** Crowns of trees along a bank: how high they reach at a bearing. */
const crowns = (x: number, seed: number, scale: number): number => {
  let top = 0;
  for (let k = -1; k <= 1; k++) {
    const cell = Math.floor(x / scale) + k;
    const middle = (cell + 0.3 + 0.4 * hash(cell, seed)) * scale;
    const half = scale * (0.45 + 0.45 * hash(cell, seed + 1));
    const t = (x - middle) / half;
    if (t > -1 && t < 1) top = Math.max(top, (0.35 + 0.65 * hash(cell, seed + 2)) * Math.sqrt(1 - t * t));
  }
  return top;
};

/** Leaves in clumps: lit from above left, dark between. @param size of a clump, radians */
function leaves(x: number, y: number, seed: number, size: number, out: Float64Array): void {
  const clump = cloud(x / size + seed, y / size);
  const light = clump - cloud(x / size + seed + 0.22, y / size - 0.3);
  const leaf = noise((x / size) * 9, (y / size) * 9 + seed);
  const k = Math.max(0.12, 0.5 + 1.7 * light + 0.45 * (leaf - 0.5));
  const autumn = hash(Math.floor(x / (size * 3.1)), seed) * 0.6;
  put(out, 0.1 + 0.1 * autumn, 0.16 + 0.03 * autumn, 0.045, k);
}

/** A house front with windows and a pitched roof; false where the point is beside it. */
function cottage(x: number, y: number, at: number, foot: number, w: number, seed: number, out: Float64Array): boolean {
  const [u, v] = [(x - at) / w, (y - foot) / w];
  if (u < -0.06 || u > 1.06 || v < 0) return false;
  if (v < 0.52 && u >= 0 && u <= 1) {
    const pane = (Math.abs(u - 0.26) < 0.07 || Math.abs(u - 0.72) < 0.07) && v > 0.2 && v < 0.4;
    const door = Math.abs(u - 0.48) < 0.055 && v < 0.3;
    if (pane) put(out, 0.14, 0.16, 0.19, noise(u * 9, v * 9) + 0.5);
    else if (door) put(out, 0.08, 0.13, 0.16, 1);
    else put(out, seed % 2 ? 0.66 : 0.5, seed % 2 ? 0.63 : 0.42, seed % 2 ? 0.57 : 0.34, 0.72 + 0.16 * cloud(u * 9, v * 9) - 0.16 * ramp(v, 0.44, 0.52));
    return true;
  }
  const ridge = 0.86;
  const slope = 0.52 + 0.34 * Math.min(1, Math.min(u + 0.06, 1.06 - u) / 0.14);
  if (v < Math.min(ridge, slope)) {
    put(out, 0.2, 0.15, 0.13, 0.7 + 0.5 * noise(u * 40, Math.floor(v * 34) * 3.1) * (0.7 + 0.3 * ramp((v * 34) % 1, 0, 0.4)));
    return true;
  }
  if (Math.abs(u - 0.8) < 0.045 && v < 1.0) {
    put(out, 0.3, 0.17, 0.12, 0.8 + 0.3 * noise(u * 60, v * 60));
    return true;
  }
  return false;
}

/** Hill and far bank with what stands on them; false above all of it. */
function farBank(x: number, y: number, out: Float64Array): boolean {
  const bank = 0.012 + 0.004 * cloud(x * 7, 1);
  if (cottage(x, y, -0.21, bank, 0.05, 1, out) || cottage(x, y, -0.148, bank - 0.001, 0.042, 2, out) || cottage(x, y, 0.36, bank, 0.055, 3, out)) {
    haze(out, 0.12);
    return true;
  }
  // The boat shed: tarred boards, a slipway door, a tin roof.
  const [u, v] = [(x - 0.1) / 0.13, (y - 0.006) / 0.05];
  if (u > 0 && u < 1 && v > 0 && v < 0.72 + 0.3 * (1 - Math.abs(2 * u - 1))) {
    const roof = v > 0.7;
    const plank = 0.75 + 0.3 * hash(Math.floor(u * 34), 3) - 0.3 * (1 - ramp(Math.abs(((u * 34) % 1) - 0.5), 0.05, 0.16));
    if (roof) put(out, 0.34, 0.33, 0.33, 0.75 + 0.25 * Math.cos(u * 300) + 0.2 * noise(u * 20, v * 20));
    else if (Math.abs(u - 0.5) < 0.15 && v < 0.5) put(out, 0.05, 0.08, 0.1, 1);
    else put(out, 0.23, 0.08, 0.06, plank);
    haze(out, 0.08);
    return true;
  }
  const trees = bank + 0.006 + 0.062 * crowns(x, 5, 0.047) * (0.6 + 0.4 * noise(x * 5, 3)) + 0.006 * (noise(x * 420, y * 420) - 0.5) + 0.008 * (noise(x * 130, y * 130) - 0.5);
  if (y < trees) {
    leaves(x, y, 2, 0.011, out);
    haze(out, 0.14);
    return true;
  }
  const behind = bank + 0.02 + 0.075 * crowns(x + 0.02, 17, 0.08) * (0.5 + 0.5 * noise(x * 3 + 8, 1)) + 0.007 * (noise(x * 260, y * 260) - 0.5);
  if (y < behind) {
    leaves(x, y, 9, 0.02, out);
    haze(out, 0.34);
    return true;
  }
  const tower = Math.abs(x + 0.05) < 0.0085 && y < 0.128 - (Math.abs((x + 0.05) % 0.0057) < 0.0028 ? 0 : 0.003);
  const hill = 0.062 + 0.05 * cloud(x * 1.9 + 3, 2) + 0.004 * cloud(x * 40, 8);
  if (tower || y < hill) {
    if (tower && y > hill - 0.01) put(out, 0.4, 0.38, 0.34, 0.75 + 0.3 * ramp(x + 0.05, 0.004, -0.004));
    else {
      const field = hash(Math.floor(x * 14 + 2 * cloud(x * 3, y * 20)), Math.floor(y * 55 + 2 * cloud(x * 5, 1)));
      put(out, 0.14 + 0.14 * field, 0.2 + 0.08 * field, 0.08, 0.8 + 0.35 * cloud(x * 60, y * 120));
    }
    haze(out, 0.46);
    return true;
  }
  return false;
}

/** The creek: the far bank and the sky upside down, broken by ripples. */
function water(x: number, y: number, bank: number, out: Float64Array): void {
  const near = (bank - y) / 0.12;
  const [u, v] = [x * (40 + 160 * (1 - near)), 26 / (0.05 + near)];
  const wave = (noise(u, v * 6) - 0.5) * 0.6 + (noise(u * 2.7, v * 15) - 0.5) * 0.4;
  const mirrored = bank + (bank - y) * (0.9 + 1.2 * wave * (0.4 + near)) + Math.abs(wave) * 0.02;
  if (!farBank(x + wave * 0.004, mirrored, out)) sky(x, mirrored * 1.5, out);
  const k = 0.62 + 0.2 * wave;
  out[0] = out[0] * k + 0.035;
  out[1] = out[1] * k + 0.045;
  out[2] = out[2] * k + 0.04;
}

/** A sailing dinghy on its mooring; false beside it. */
function boat(x: number, y: number, at: number, line: number, size: number, out: Float64Array): boolean {
  const [u, v] = [(x - at) / size, (y - line) / size];
  if (v > 0 && v < 0.2 && Math.abs(u) < 0.5 - 0.35 * (1 - v / 0.2) ** 2) {
    if (v > 0.155) put(out, 0.42, 0.24, 0.11, 1);
    else put(out, 0.62, 0.64, 0.62, 0.55 + 0.4 * (v / 0.2) + 0.15 * ramp(u, 0.4, -0.4));
    return true;
  }
  if (Math.abs(u - 0.08) < 0.011 && v > 0 && v < 1.5) {
    put(out, 0.4, 0.3, 0.2, 0.9);
    return true;
  }
  if (v < 0 && v > -0.3 && Math.abs(u + 0.05 * (noise(x * 900, y * 2500) - 0.5)) < 0.42) {
    put(out, 0.4, 0.42, 0.42, 0.55 + 0.4 * noise(x * 200, y * 3000));
    return true;
  }
  return false;
}

/** Height of the eye over the marsh and of the tallest grass, metres; rows of grass follow each other by a ratio of distance. */
const EYE = 3;
const TALLEST = 0.75;
const ROW_RATIO = 1.06;

/** Saltmarsh: rows of grass one behind the other, pools between them. */
function marsh(x: number, y: number, out: Float64Array): void {
  // Nearer rows do not reach up to here; farther ones begin higher.
  const first = Math.ceil(Math.log((EYE - TALLEST) / -y) / Math.log(ROW_RATIO));
  const last = Math.floor(Math.log((EYE + 0.2) / -y) / Math.log(ROW_RATIO));
  for (let k = first; k <= last; k++) {
    const far = ROW_RATIO ** k;
    const across = x * far + k * 17.3;
    const foot = (-EYE + 0.35 * (noise(across * 0.8, k * 5.1) - 0.6)) / far;
    const wet = ramp(cloud(x * far * 0.1 + 2, k * 0.09), 0.57, 0.63);
    const leant = across + 0.14 * (y - foot) * far * (noise(across * 0.9, k) - 0.2);
    const blade = noise(leant * 30, k * 3.7);
    const tuft = cloud(across * 1.4, k * 1.9);
    const height = ((0.08 + 0.62 * tuft) * (0.3 + 0.7 * blade) * (1 - wet)) / far;
    if (wet > 0.95 || y < foot || y > foot + height) continue;
    const up = (y - foot) * far;
    const tone = noise(leant * 30 + 0.5, k * 3.7 + 9);
    const ripe = ramp(cloud(x * far * 0.22 + 8, k * 0.12), 0.4, 0.65);
    put(out, 0.2 + 0.14 * ripe, 0.23 + 0.04 * ripe, 0.085 + 0.03 * ripe, 0.2 + 0.8 * up + 0.6 * tone * tuft + 0.15 * tuft);
    haze(out, Math.min(0.25, far * 0.004));
    return;
  }
  const ground = EYE / Math.max(0.02, -y);
  const shine = 0.62 + 0.16 * noise(x * ground * 2, ground * 3) + 0.1 * noise(x * ground * 9, ground * 14);
  const wet = ramp(cloud(x * ground * 0.1 + 2, (Math.log(ground) / Math.log(ROW_RATIO)) * 0.09), 0.54, 0.58);
  put(out, 0.1 + 0.4 * wet, 0.1 + 0.46 * wet, 0.06 + 0.56 * wet, shine);
}

export function creekView(x: number, y: number, out: Float64Array): void {
  const bank = 0.004 + 0.003 * cloud(x * 7, 1);
  if (y > bank) {
    if (!farBank(x, y, out)) sky(x, y, out);
    return;
  }
  if (boat(x, y, -0.06, -0.018, 0.036, out) || boat(x, y, 0.27, -0.012, 0.026, out) || boat(x, y, -0.36, -0.026, 0.042, out)) return;
  const shore = -0.05 - 0.02 * cloud(x * 5, 9) - 0.003 * noise(x * 90, 4);
  if (y > shore) return water(x, y, bank, out);
  if (y > shore - 0.008) return put(out, 0.2, 0.17, 0.13, 0.5 + 0.7 * noise(x * 160, y * 600));
  marsh(x, y, out);
}
