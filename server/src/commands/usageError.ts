/** A mistake of the person at the command line: shown without a stack. */
export class UsageError extends Error {}
