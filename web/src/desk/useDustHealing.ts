import { notifications } from '@mantine/notifications';
import { useEffect, useRef } from 'react';
import { draftOf, type Command, type MixDocument } from '@zaddle/document';
import type { HealWay } from '../engine/healSpot';
import type { Engine } from '../engine/useEngine';
import { useAppSelector } from '../store/store';
import { healing } from './healing';
import { HEALED_EDGE, roundSpot } from './useSpotPointer';

/** How much larger than a speck a place is that heals it: what is dark reaches further than where it is told. */
const ROUND = 2.2;
const LEAST_RADIUS = 0.0018;

/** Heals places of dust that were asked for, one after the other, as one step. */
export function useDustHealing(standing: MixDocument, heal: Engine['heal'], onAct: (command: Command, done: boolean) => void): void {
  const dust = useAppSelector((s) => s.desk.dust);
  const now = useRef(standing);
  now.current = standing;
  useEffect(() => {
    if (!dust) return;
    let alive = true;
    const first = (mix: MixDocument, areas: Parameters<Engine['heal']>[1]): Promise<HealWay | null> => new Promise((resolve) => heal(mix, areas, ({ way, more }) => { if (way || !more) resolve(way); }));
    void (async () => {
      let mix = now.current;
      const commands: Command[] = [];
      for (const [x, y, radius] of dust.places) {
        const { areas } = roundSpot([x, y], [x + Math.max(LEAST_RADIUS, ROUND * radius), y], HEALED_EDGE);
        const way = await first(mix, areas);
        if (!alive) return;
        if (!way) continue;
        const { command } = healing(mix.passes, areas, way);
        mix = draftOf(mix, command);
        commands.push(...(command.kind === 'several' ? command.commands : [command]));
      }
      if (commands.length > 0) onAct({ kind: 'several', commands }, true);
      else notifications.show({ color: 'red', title: 'Not healed', message: 'Nothing about these places is calm enough to heal them from. Heal them one by one (\\).' });
    })();
    return () => void (alive = false);
    // Once for each time that it is asked.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [dust]);
}
