import type { HealPass, PassChanges } from '@zaddle/document';
import { turnedSource } from './healing';
import { Slide } from './Slide';

/** How a healed place is taken from elsewhere: turned, mirrored, and how softly its pieces meet. */
export function HealFields({ pass, onChange }: { pass: HealPass; onChange: (changes: PassChanges, done: boolean) => void }) {
  const all = (how: 'quarter' | 'mirrored'): void => onChange({ patches: pass.patches.map((patch) => turnedSource(patch, how)) }, true);
  return (
    <>
      <p className="soft">{pass.patches.length === 1 ? 'One piece, taken from elsewhere' : `${pass.patches.length} pieces, taken from elsewhere`}; drag a round handle in the picture to choose another source.</p>
      <div className="tools"><button onClick={() => all('quarter')} title="Each source by a quarter about its middle">Turn</button><button onClick={() => all('mirrored')} title="Each source, left and right changed">Mirror</button></div>
      {pass.patches.length > 1 && <Slide label="Seams" value={pass.softness} min={0} max={0.02} step={0.0005} show={(v) => `${(100 * v).toFixed(2)} %`} onChange={(softness, done) => onChange({ softness }, done)} />}
    </>
  );
}
