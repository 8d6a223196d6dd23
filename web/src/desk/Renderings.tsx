import { useMemo } from 'react';
import { renderedBy, renderingCommand, renderingLabel, renderingNow, RENDERINGS, renderingWhat, type Rendering } from '@zaddle/core/mix/renderings';
import { applyCommand, type Command, type MixDocument, type Pass } from '@zaddle/document';
import type { Engine } from '../engine/useEngine';
import { freshId } from './newPass';
import { SideBySide } from './SideBySide';

interface RenderingsProps {
  readonly mix: MixDocument;
  /** The pass whose light, or whose tones, are rendered; null: the whole picture. */
  readonly pass: Pass | null;
  readonly known: Engine['state']['sketches'];
  readonly ask: Engine['sketch'];
  readonly onAct: (command: Command, done: boolean) => void;
}

/** Ways to render the tones of this picture, or of the light of one pass, side by side; what is taken are settings of a tone pass, to go on from. */
export function Renderings({ mix, pass, known, ask, onAct }: RenderingsProps) {
  const of = pass?.id ?? null;
  const ways = useMemo(() => RENDERINGS.map((rendering) => ({ key: rendering, label: renderingLabel(rendering), what: renderingWhat(rendering), mix: applyCommand(mix, renderingCommand(mix, of, rendering, 'rendering')).document })), [mix, of]);
  const own = renderedBy(mix, of);
  const now = renderingNow(own);
  const take = (rendering: Rendering): void => {
    if (rendering !== now) onAct(renderingCommand(mix, of, rendering, freshId('pass')), true);
  };
  const whose = pass && 'source' in pass ? `the light of “${pass.name}” alone` : `${pass ? '' : 'the whole picture'}${own ? `${pass ? '' : ', by '}“${own.name}”` : ''}`;
  return (
    <SideBySide label="Renderings" ways={ways} chosen={now} known={known} ask={ask} onTake={take}>
      <span className="soft">Tones of {whose}. Every setting can be gone on with in the tone pass.</span>
    </SideBySide>
  );
}
