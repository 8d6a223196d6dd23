export * from './mixDocument';
export * from './commands';
export { openMix, InvalidMix } from './openMix';
export { mixSchema, opticsSchema, responseSchema } from './schema';
export { commandSchema } from './commandSchema';
