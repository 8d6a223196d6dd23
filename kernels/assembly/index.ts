export { warpRow8, warpRow16 } from "./warp";
export { lineariseRow, accumulateRow, topRow, normaliseRow, subtractRow } from "./light";
export { mixRow, foldRow, finishMaskRow, chunksRow } from "./mix";
export { logLuminanceRow, planeRow, guidedRow, gainRow, balanceRow, shadeRow, encodeRow } from "./tone";
export { addRow8, sumRows8, shrinkSums, greyRow8, halveRow } from "./shrink";
export { correlate, trackPoints } from "./align";
export { strokeRow, rampRow } from "./stroke";
export { spotRow } from "./spot";
export { boxBlur, multiply, windowModel, applyModel } from "./guided";
