import { notifications } from '@mantine/notifications';
import type { NoiseReduction } from '@zaddle/document';
import { percent } from './showValues';
import { Slide } from './Slide';
import type { StageQuestions } from './Stage';

interface NoiseProps {
  readonly noise: NoiseReduction | null;
  readonly grain: StageQuestions['grain'];
  readonly onChange: (noise: NoiseReduction, done: boolean) => void;
}

/** Shares that somebody starts with who measures for the first time. */
const FIRST = { brightness: 0.5, colour: 0.8 };
const inBytes = (deviations: readonly number[]): string => (255 * Math.max(...deviations)).toFixed(1);

/** How much of the picture's noise is taken away, of brightness and of colour, and by what it was measured. */
export function NoiseFields({ noise, grain, onChange }: NoiseProps) {
  const measure = (): void => grain((found) => {
    if (found) onChange({ ...(noise ?? FIRST), grain: found }, true);
    else notifications.show({ color: 'red', title: 'Not measured', message: 'Noise is measured in what is seen at 1:1 (e): go to a plain wall or ceiling there, wait until it is sharp, and measure again.' });
  });
  return (
    <>
      {noise && (
        <>
          <Slide label="Brightness" value={noise.brightness} min={0} max={1} step={0.01} rest={0} show={percent} onChange={(brightness, done) => onChange({ ...noise, brightness }, done)} />
          <Slide label="Colour" value={noise.colour} min={0} max={1} step={0.01} rest={0} show={percent} onChange={(colour, done) => onChange({ ...noise, colour }, done)} />
        </>
      )}
      <div className="tools"><button title="Takes what is seen at 1:1 as the measure" onClick={measure}>Measure here</button></div>
      <p className="soft">{noise ? `Measured: up to ±${inBytes(noise.grain.brightness)} of 255 in brightness, ±${inBytes(noise.grain.colour)} in colour. What stands out more is left alone.` : 'The frames of this shot told nothing of their noise. Measure it on a plain wall or ceiling at 1:1 (e).'}</p>
    </>
  );
}
