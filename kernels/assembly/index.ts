export { warpRow8, warpRow16 } from "./warp";
export { lineariseRow, accumulateRow, normaliseRow, subtractRow } from "./light";
export { mixRow, foldRow, finishMaskRow } from "./mix";
export { logLuminanceRow, planeRow, guidedRow, gainRow, balanceRow, encodeRow } from "./tone";
export { shrinkRow8 } from "./shrink";
