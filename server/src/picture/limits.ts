/** Largest picture that is taken in: a header that claims more is refused before anything is decoded. */
export const MAX_PIXELS = 130_000_000;

/** Why a file is not a frame, in words for the person. */
export class RejectedFile extends Error {}
