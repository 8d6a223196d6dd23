import { linkOf } from './area/areas';
import { LONGEST_CHAIN } from './area/same';
import { InvalidMix } from './invalidMix';
import type { Mix } from './mixDocument';
import type { Pass } from './pass/passes';

/** Passes whose masks a pass takes over. */
export const linksOf = (pass: Pass): string[] => pass.mask.flatMap((area) => linkOf(area) ?? []);

/** Linked masks are there, and none comes round to itself. @throws InvalidMix */
export function checkLinks({ passes }: Pick<Mix, 'passes'>): void {
  const byId = new Map(passes.map((pass) => [pass.id, pass]));
  const follow = (pass: Pass, chain: readonly Pass[]): void => {
    if (chain.length > LONGEST_CHAIN) throw new InvalidMix(`Masks are linked in a circle, or one to the next more than ${LONGEST_CHAIN} times, from “${chain[0].name}” on. Copy one instead of linking it.`);
    for (const id of linksOf(pass)) {
      const next = byId.get(id);
      if (!next) throw new InvalidMix(`The mask of “${pass.name}” is linked to that of a pass which is not there. Copy the mask before you remove the pass that it comes from.`);
      follow(next, [...chain, pass]);
    }
  };
  for (const pass of passes) if (linksOf(pass).length > 0) follow(pass, []);
}
