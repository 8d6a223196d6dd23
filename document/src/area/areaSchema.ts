import { byKind } from '../fields';
import { AREAS } from './areas';

/** Joi schema of an area of any kind. */
export const areaSchema = byKind(Object.fromEntries(Object.entries(AREAS).map(([kind, { schema }]) => [kind, schema])));
