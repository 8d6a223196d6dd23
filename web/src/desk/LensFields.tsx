import type { Command, MixDocument, Optics } from '@zaddle/document';
import { useKeepLensMutation, useLensQuery, type Shot } from '../store/api';
import { Slide } from './Slide';

interface LensProps {
  readonly shot: Shot;
  readonly mix: MixDocument;
  readonly onAct: (command: Command, done: boolean) => void;
}

const CORRECTIONS = [['distortion', 'Distortion'], ['fringes', 'Colour fringes'], ['falloff', 'Corner fall-off']] as const;
const perCent = (v: number): string => `${v < 0 ? '−' : ''}${Math.abs(100 * v).toFixed(2)} %`;

/** What the lens does to all frames of the shot, what of it is corrected, and keeping it for the camera. */
export function LensFields({ shot, mix, onAct }: LensProps) {
  const { data } = useLensQuery(shot.id);
  const [keep] = useKeepLensMutation();
  const { lens, corrects } = mix;
  const change = (changes: Partial<Optics>, done: boolean): void => onAct({ kind: 'changeMix', changes: { lens: { ...lens, ...changes } } }, done);
  const name = data?.lens ? [data.lens.camera, data.lens.lens].filter(Boolean).join(', ') : null;
  return (
    <>
      <h4>Lens</h4>
      {CORRECTIONS.map(([key, label]) => (
        <label key={key} className="check"><input type="checkbox" checked={corrects[key]} onChange={(e) => onAct({ kind: 'changeMix', changes: { corrects: { ...corrects, [key]: e.currentTarget.checked } } }, true)} /> {label}</label>
      ))}
      <Slide label="Distortion" value={lens.k1} min={-0.1} max={0.1} step={0.0005} show={perCent} onChange={(k1, done) => change({ k1 }, done)} />
      <Slide label="Red" value={lens.red} min={-0.002} max={0.002} step={0.00002} show={perCent} onChange={(red, done) => change({ red }, done)} />
      <Slide label="Blue" value={lens.blue} min={-0.002} max={0.002} step={0.00002} show={perCent} onChange={(blue, done) => change({ blue }, done)} />
      <Slide label="Fall-off" value={lens.falloff[0]} min={0} max={0.7} step={0.01} show={perCent} onChange={(v, done) => change({ falloff: [v, lens.falloff[1]] }, done)} />
      <p className="soft">{mix.response.length > 0 ? 'The camera’s response was found from the bracket.' : 'The camera’s response is taken as sRGB.'}</p>
      {name && (
        <div className="tools">
          <button onClick={() => void keep({ shot: shot.id, keep: true })}>Keep for {name}</button>
          {data?.kept && <button onClick={() => void keep({ shot: shot.id, keep: false })}>Forget</button>}
        </div>
      )}
      {data?.kept && <p className="soft">Kept: the next shots with this lens start from it.</p>}
    </>
  );
}
