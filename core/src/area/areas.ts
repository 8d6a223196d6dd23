import type { Area, AreaKinds } from '@zaddle/document';
import type { AreaEvaluation } from '../kind/areaEvaluation';
import { box } from './box';
import { brush } from './brush';
import { found } from './found';
import { outline } from './outline';
import { ramp } from './ramp';
import { spot } from './spot';

const EVALUATIONS: { readonly [K in keyof AreaKinds]: AreaEvaluation<AreaKinds[K], unknown, unknown> } = { brush, ramp, found, spot, outline, box };

/** How areas of a kind are evaluated. */
export const areaEvaluation = (kind: Area['kind']): AreaEvaluation<Area, unknown, unknown> => EVALUATIONS[kind];
