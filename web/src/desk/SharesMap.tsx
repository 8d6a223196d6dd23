import { useEffect, useMemo } from 'react';
import type { ContributionMap } from '@zaddle/core/graph/contributionMap';
import type { MixDocument } from '@zaddle/document';
import type { Engine } from '../engine/useEngine';
import type { Viewport } from './useViewport';

/** Cells across the picture, and how many of one pass must lie together to be named. */
const ACROSS = 60;
const NAMED = 12;

/** A region of cells of one pass: where its name goes. */
interface Region {
  readonly pass: string;
  readonly column: number;
  readonly row: number;
}

/** Regions of cells that belong to one pass, largest first; each named at the cell of it that lies nearest to its middle. */
export function regionsOf({ columns, rows, passes, cells }: ContributionMap): Region[] {
  const seen = new Uint8Array(cells.length);
  const regions: { region: Region; size: number }[] = [];
  for (let start = 0; start < cells.length; start++) {
    if (seen[start] || cells[start] < 0) continue;
    const found = [start];
    seen[start] = 1;
    for (let k = 0; k < found.length; k++) {
      const [x, y] = [found[k] % columns, Math.floor(found[k] / columns)];
      for (const [dx, dy] of [[1, 0], [-1, 0], [0, 1], [0, -1]]) {
        const next = (y + dy) * columns + x + dx;
        if (x + dx < 0 || x + dx >= columns || y + dy < 0 || y + dy >= rows || seen[next] || cells[next] !== cells[start]) continue;
        seen[next] = 1;
        found.push(next);
      }
    }
    if (found.length < NAMED) continue;
    const middle = [0, 1].map((c) => found.reduce((sum, cell) => sum + (c === 0 ? cell % columns : Math.floor(cell / columns)), 0) / found.length);
    const off = (cell: number): number => Math.hypot((cell % columns) - middle[0], Math.floor(cell / columns) - middle[1]);
    const nearest = found.reduce((best, cell) => (off(cell) < off(best) ? cell : best));
    regions.push({ region: { pass: passes[cells[start]], column: nearest % columns, row: Math.floor(nearest / columns) }, size: found.length });
  }
  return regions.sort((a, b) => b.size - a.size).map(({ region }) => region);
}

/** Lines between cells of different passes, as an SVG path in cells. */
export function bordersOf({ columns, rows, cells }: ContributionMap): string {
  let path = '';
  for (let y = 0; y < rows; y++) {
    for (let x = 0; x < columns; x++) {
      const own = cells[y * columns + x];
      if (x + 1 < columns && cells[y * columns + x + 1] !== own) path += `M${x + 1} ${y}v1`;
      if (y + 1 < rows && cells[(y + 1) * columns + x] !== own) path += `M${x} ${y + 1}h1`;
    }
  }
  return path;
}

interface MapProps {
  readonly mix: MixDocument;
  readonly view: Viewport;
  readonly known: ContributionMap | null;
  readonly ask: Engine['map'];
}

/** The picture as a map: which pass gives most where, outlined and named. */
export function SharesMap({ mix, view, known, ask }: MapProps) {
  const rows = Math.max(1, Math.round((ACROSS * mix.height) / mix.width));
  useEffect(() => ask(mix, ACROSS, rows), [ask, mix, rows]);
  const drawn = useMemo(() => known && { path: bordersOf(known), regions: regionsOf(known) }, [known]);
  if (!known || !drawn) return null;
  const [width, height] = [mix.width * view.scale, mix.height * view.scale];
  return (
    <div className="shares-map" style={{ left: view.x, top: view.y, width, height }} role="img" aria-label="Which pass gives most where">
      <svg viewBox={`0 0 ${known.columns} ${known.rows}`} preserveAspectRatio="none"><path className="under" d={drawn.path} /><path d={drawn.path} /></svg>
      {drawn.regions.map(({ pass, column, row }, k) => <span key={k} style={{ left: `${((column + 0.5) / known.columns) * 100}%`, top: `${((row + 0.5) / known.rows) * 100}%` }}>{mix.passes.find((p) => p.id === pass)?.name ?? 'Frame'}</span>)}
    </div>
  );
}
