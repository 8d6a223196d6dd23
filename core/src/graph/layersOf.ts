import type { PreparedPass } from './prepareMix';

/** How passes lie in bundles: the layers that are open before each, those that begin with it, and how many that are tied to it follow. */
export function layersOf(passes: readonly PreparedPass[]): { depth: number; opens: number; followers: number }[] {
  const byId = new Map(passes.map(({ pass }) => [pass.id, pass]));
  const levelOf = (within: string | null): number => (within === null ? 0 : 1 + levelOf(byId.get(within)?.within ?? null));
  let depth = 0;
  return passes.map(({ pass, tied }, index) => {
    const level = levelOf(pass.within);
    let followers = 0;
    while (!tied && passes[index + followers + 1]?.tied) followers++;
    const layers = { depth, opens: Math.max(0, level - depth), followers };
    // A bundle closes the layer of what it holds.
    depth = level;
    return layers;
  });
}
