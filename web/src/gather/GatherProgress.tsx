import { Progress } from '@mantine/core';
import type { ShootDetail } from '../store/api';

/** What is being done with a card, and how far it is; nothing once all of it is done. */
export function GatherProgress({ shoot: { frames, shots, standing } }: { shoot: ShootDetail }) {
  const read = frames.filter((f) => f.state !== 'waiting').length;
  const usable = frames.filter((f) => f.state === 'gathered').length;
  const done = shots.filter((s) => s.state !== 'sorted').length;
  const stage = read < frames.length
    ? { text: `Reading ${read} of ${frames.length} files…`, share: read / frames.length, animated: false }
    : shots.length === 0 && usable > 0
      ? { text: `Sorting ${usable} frames into shots…`, share: 1, animated: true }
      : done < shots.length
        ? { text: `Lining up: ${done} of ${shots.length} shots are ready to open.${standing ? '' : ' Order them now, and they go out once the last one is.'}`, share: done / shots.length, animated: false }
        : null;
  if (!stage) return null;
  return <div className="doing" role="status">{stage.text}<Progress value={100 * stage.share} animated={stage.animated} mt={4} /></div>;
}
