import { NativeSelect } from '@mantine/core';
import { BLEND_MODES, type Blending, type PassChanges } from '@zaddle/document';
import { percent } from './showValues';
import { Slide } from './Slide';

/** How the light of a pass joins what is below it. A list that was chosen from gives the focus back: keys are the desk's again. */
export function BlendFields({ blending, onChange }: { blending: Blending; onChange: (changes: PassChanges, done: boolean) => void }) {
  return (
    <>
      <NativeSelect size="xs" mt={4} mb={6} label="Blend mode" value={blending.mode} data={[...BLEND_MODES]} onChange={(e) => { onChange({ mode: e.currentTarget.value }, true); e.currentTarget.blur(); }} />
      <Slide label="Brightness" value={blending.brightness} min={0} max={1} step={0.01} show={percent} rest={1} onChange={(brightness, done) => onChange({ brightness }, done)} />
      <Slide label="Colour" value={blending.colour} min={0} max={1} step={0.01} show={percent} rest={1} onChange={(colour, done) => onChange({ colour }, done)} />
    </>
  );
}
