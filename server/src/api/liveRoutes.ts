import { Router } from 'express';
import { coverage, setQuality, type StatedFrame } from '@zaddle/core/read/setQuality';
import { FrameEntity, ShootEntity, ShotEntity } from '../data/entities';
import type { ServerWorkshop } from '../jobs/workshop';
import { isWatching } from '../live/watchFolder';

/** The view that a tethered camera is shooting right now, and what it still lacks. */
export function liveRoutes({ database }: ServerWorkshop): Router {
  const router = Router();
  router.get('/live', async (_request, response) => {
    const shoot = await database.getRepository(ShootEntity).findOne({ where: { live: true }, order: { createdAt: 'DESC' } });
    if (!shoot) return void response.json({ shoot: null, watching: isWatching() });
    const rows = await database.getRepository(FrameEntity).find({ where: { shootId: shoot.id, state: 'gathered', dropped: false }, select: { id: true, name: true, shotId: true, facts: true, stats: true } as never });
    const frames = rows.filter((f) => f.facts && f.stats).sort((a, b) => (a.facts!.takenAt ?? 0) - (b.facts!.takenAt ?? 0) || a.name.localeCompare(b.name, 'en', { numeric: true }));
    const latest = frames[frames.length - 1];
    if (!latest) return void response.json({ shoot: { id: shoot.id, name: shoot.name }, shot: null });
    // Until sorting has placed the newest frame, it stands beside the frames before it.
    const shotId = latest.shotId ?? frames[frames.length - 2]?.shotId ?? null;
    const members = frames.filter((f) => f.shotId === shotId || f === latest);
    const stated: StatedFrame[] = members.map((f) => ({ facts: f.facts!, stats: f.stats! }));
    const shot = shotId ? await database.getRepository(ShotEntity).findOneBy({ id: shotId }) : null;
    response.json({
      shoot: { id: shoot.id, name: shoot.name },
      shot: { id: shotId, label: shot?.label ?? 'New shot', frames: members.length, latest: { id: latest.id, name: latest.name, seconds: latest.facts!.seconds } },
      coverage: coverage(stated),
      readings: setQuality(stated).map((r) => ({ ...r, where: r.where ? [r.where[0] / latest.facts!.width, r.where[1] / latest.facts!.height] : undefined })),
    });
  });
  return router;
}
