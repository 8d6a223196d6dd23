/** Solves the symmetric positive system a x = b in place by Cholesky; n x n row-major. Returns false if not positive. */
export function solveCholesky(a: Float64Array, b: Float64Array, n: number): boolean {
  for (let j = 0; j < n; j++) {
    for (let i = j; i < n; i++) {
      let sum = a[i * n + j];
      for (let k = 0; k < j; k++) sum -= a[i * n + k] * a[j * n + k];
      if (i === j) {
        if (!(sum > 1e-14)) return false;
        a[j * n + j] = Math.sqrt(sum);
      } else a[i * n + j] = sum / a[j * n + j];
    }
  }
  for (let i = 0; i < n; i++) {
    for (let k = 0; k < i; k++) b[i] -= a[i * n + k] * b[k];
    b[i] /= a[i * n + i];
  }
  for (let i = n - 1; i >= 0; i--) {
    for (let k = i + 1; k < n; k++) b[i] -= a[k * n + i] * b[k];
    b[i] /= a[i * n + i];
  }
  return true;
}
