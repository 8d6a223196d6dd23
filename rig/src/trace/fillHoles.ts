/** A picture of light and which of its pixels are known. */
interface Known {
  readonly width: number;
  readonly height: number;
  readonly light: Float32Array;
  /** 0..1 a pixel. */
  readonly weight: Float32Array;
}

/** Half the size: means of what is known. */
function pull({ width, height, light, weight }: Known): Known {
  const [w, h] = [(width + 1) >> 1, (height + 1) >> 1];
  const half: Known = { width: w, height: h, light: new Float32Array(w * h * 3), weight: new Float32Array(w * h) };
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const [i, q] = [y * width + x, (y >> 1) * w + (x >> 1)];
      half.weight[q] += weight[i];
      for (let c = 0; c < 3; c++) half.light[q * 3 + c] += weight[i] * light[i * 3 + c];
    }
  }
  for (let q = 0; q < w * h; q++) {
    if (half.weight[q] > 0) for (let c = 0; c < 3; c++) half.light[q * 3 + c] /= half.weight[q];
    half.weight[q] = Math.min(1, half.weight[q]);
  }
  return half;
}

/**
 * Fills the pixels of a picture where there is no surface from those around, in place, so that nothing jumps there (pull and
 * push: Gortler et al., "The lumigraph", 1996). @param has 1 where there is a surface; @param light RGB
 */
export function fillHoles(light: Float32Array, width: number, height: number, has: Uint8Array): void {
  const levels: Known[] = [{ width, height, light, weight: Float32Array.from(has) }];
  while (levels[levels.length - 1].width > 1 || levels[levels.length - 1].height > 1) levels.push(pull(levels[levels.length - 1]));
  for (let l = levels.length - 2; l >= 0; l--) {
    const [fine, coarse] = [levels[l], levels[l + 1]];
    for (let y = 0; y < fine.height; y++) {
      for (let x = 0; x < fine.width; x++) {
        const i = y * fine.width + x;
        if (fine.weight[i] > 0) continue;
        const q = (y >> 1) * coarse.width + (x >> 1);
        for (let c = 0; c < 3; c++) fine.light[i * 3 + c] = coarse.light[q * 3 + c];
      }
    }
  }
}
