import fc from 'fast-check';

/** The cases of a run are the same each time, so that what a change broke is told from what was never tried; `ZADDLE_PROPERTY_SEED` tries others. */
const USUAL_SEED = 20_261;

fc.configureGlobal({ ...fc.readConfigureGlobal(), seed: Number(process.env.ZADDLE_PROPERTY_SEED ?? USUAL_SEED) });
