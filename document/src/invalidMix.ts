/** What is wrong with a document, in words. */
export class InvalidMix extends Error {}
