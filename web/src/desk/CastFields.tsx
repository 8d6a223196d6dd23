import { notifications } from '@mantine/notifications';
import { useState } from 'react';
import type { AdjustPass, PassChanges, Triple } from '@zaddle/document';
import { percent } from './showValues';
import { Slide } from './Slide';
import type { StageQuestions } from './Stage';

interface CastProps {
  readonly pass: AdjustPass;
  readonly cast: StageQuestions['cast'];
  readonly onChange: (changes: PassChanges, done: boolean) => void;
}

const rounded = (gains: Triple): Triple => gains.map((g) => Math.round(g * 1e5) / 1e5) as unknown as Triple;
/** Gains taken by a strength, in stops. */
const taken = (gains: Triple, strength: number): Triple => rounded(gains.map((g) => g ** strength) as unknown as Triple);

/** Takes the cast away that lies below a pass, in its area or in the whole picture, by a strength. */
export function CastFields({ pass, cast, onChange }: CastProps) {
  const [found, setFound] = useState<{ readonly gains: Triple; readonly strength: number } | null>(null);
  const by = (gains: Triple, strength: number, done: boolean): void => {
    setFound({ gains, strength });
    onChange({ balance: taken(gains, strength) }, done);
  };
  const measure = (): void => cast(pass.id, (gains) => {
    if (gains) by(gains, 1, true);
    else notifications.show({ color: 'red', title: 'Not told', message: 'There is too little light here to tell its cast. Take a larger area, or pick something that should be white.' });
  });
  // Set otherwise meanwhile, the strength means nothing any more.
  const stands = found && pass.balance.join() === taken(found.gains, found.strength).join();
  return (
    <>
      <div className="tools"><button disabled={!pass.on} title={pass.mask.length > 0 ? 'Takes away the mean colour of what its mask covers' : 'Takes away the cast of the whole picture, as its light surfaces tell it'} onClick={measure}>Neutralise</button></div>
      {stands && <Slide label="Cast taken" value={found.strength} min={0} max={1.2} step={0.01} show={percent} rest={1} onChange={(strength, done) => by(found.gains, strength, done)} />}
    </>
  );
}
