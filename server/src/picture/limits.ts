/** Largest picture that is taken in: a header that claims more is refused before anything is decoded. */
export const MAX_PIXELS = 130_000_000;
/** Longest side of a picture that is taken in, pixels. */
export const MAX_SIDE = 60_000;
/** Largest file that is taken in, bytes. */
export const MAX_FILE = 400_000_000;

/** An error whose message is for the person, and says what to do. */
export class PlainError extends Error {}

/** Why a file is not a frame, in words for the person. */
export class RejectedFile extends PlainError {}
