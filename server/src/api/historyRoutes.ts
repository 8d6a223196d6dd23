import { Router } from 'express';
import { namesIn, readStep, readTrusted, stepWords } from '@zaddle/document';
import { FrameEntity, MixEntity, MixStepEntity } from '../data/entities';
import type { ServerWorkshop } from '../jobs/workshop';
import { isUuid, notFound } from './problem';

/** Steps that are told, the last ones: more than anybody reads. */
const TOLD = 300;

/** One step of a mix's history, in words. */
export interface HistoryStep {
  readonly step: number;
  readonly words: string;
  /** Undone: it can be redone. */
  readonly undone: boolean;
}

/** The history of a shot's mix as a readable list. Going to a step is undoing or redoing until there (`mixRoutes`). */
export function historyRoutes({ database }: ServerWorkshop): Router {
  const router = Router();
  router.get('/shots/:id/history', async (request, response) => {
    const mix = isUuid(request.params.id) ? await database.getRepository(MixEntity).findOneBy({ shotId: request.params.id }) : null;
    if (!mix) throw notFound('mix');
    const steps = await database.getRepository(MixStepEntity).find({ where: { shotId: mix.shotId }, order: { step: 'DESC' }, take: TOLD });
    const frames = await database.getRepository(FrameEntity).find({ where: { shotId: mix.shotId }, select: { id: true, name: true } });
    const known = namesIn(steps.flatMap(({ command, inverse }) => [readStep(command), readStep(inverse)]));
    for (const { id, name } of readTrusted(mix.document).passes) known.set(id, name);
    const names = { pass: (id: string) => known.get(id) ?? 'A pass', frame: (id: string) => frames.find((f) => f.id === id)?.name ?? 'A frame' };
    response.json({
      position: mix.position,
      steps: steps.reverse().map(({ step, command }): HistoryStep => ({ step, words: stepWords(readStep(command), names), undone: step > mix.position })),
    });
  });
  return router;
}
