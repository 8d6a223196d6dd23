export * from './mixDocument';
export * from './commands';
export { openMix, InvalidMix } from './openMix';
export { mixSchema } from './schema';
export { commandSchema } from './commandSchema';
