import type { Area, AreaKinds } from '@zaddle/document';
import type { AreaEvaluation } from '../kind/areaEvaluation';
import { box } from './box';
import { brush } from './brush';
import { channel } from './channel';
import { found } from './found';
import { hues } from './hues';
import { outline } from './outline';
import { ramp } from './ramp';
import { same } from './same';
import { spot } from './spot';
import { tones } from './tones';

const EVALUATIONS: { readonly [K in keyof AreaKinds]: AreaEvaluation<AreaKinds[K], unknown, unknown> } = { brush, ramp, found, spot, outline, box, tones, channel, hues, same };

/** How areas of a kind are evaluated. */
export const areaEvaluation = (kind: Area['kind']): AreaEvaluation<Area, unknown, unknown> => EVALUATIONS[kind];
