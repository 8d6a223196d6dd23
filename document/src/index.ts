export * from './mixDocument';
export * from './commands';
export { openMix, readTrusted, InvalidMix } from './openMix';
export { checkWhole } from './checkChange';
export { touchedPaths, collide } from './touched';
export { mixSchema, frameSchema, opticsSchema, responseSchema, wholeText } from './schema';
export { commandSchema } from './commandSchema';
