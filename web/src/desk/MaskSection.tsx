import { NativeSelect } from '@mantine/core';
import { EDGED_THINGS, framesOfArea, linkOf, type Area, type MixDocument, type Pass, type PassChanges } from '@zaddle/document';
import { LISTED } from '../area/areas';
import type { Frame } from '../store/api';
import { areaChosen, maskCopied } from '../store/deskSlice';
import { useAppDispatch, useAppSelector } from '../store/store';
import { AreaRow } from './AreaRow';
import { freshId } from './newPass';

interface MaskProps {
  readonly mix: MixDocument;
  readonly pass: Pass;
  readonly frames: readonly Frame[];
  readonly onChange: (changes: PassChanges, done: boolean) => void;
  readonly onRemoveArea: (area: string) => void;
}

/** Areas with ids of their own, as far as the frames that they name are in this mix. */
const copied = (areas: readonly Area[], { frames }: MixDocument): Area[] => areas.filter((area) => linkOf(area) === null && framesOfArea(area).every((id) => id in frames)).map((area) => ({ ...area, id: freshId('area') }));

/** The mask of the selected pass: its areas in order, and what can be added to them. */
export function MaskSection({ mix, pass, frames, onChange, onRemoveArea }: MaskProps) {
  const dispatch = useAppDispatch();
  const held = useAppSelector((s) => s.desk.mask);
  const add = (areas: readonly Area[]): void => {
    if (areas.length === 0) return;
    onChange({ mask: [...pass.mask, ...areas] }, true);
    dispatch(areaChosen(areas[areas.length - 1].id));
  };
  const join = pass.mask.length === 0 ? 'add' : 'intersect';
  const begin = (text: string): void => {
    const [what, id] = text.split(':');
    if (what === 'paste') return add(copied(held!.areas, mix));
    const edged = EDGED_THINGS.find((thing) => thing === what);
    if (edged) return add([{ id: freshId('area'), kind: 'found', what: edged, edge: mix.reference, join, inverted: false }]);
    if (what === 'lit') return add([{ id: freshId('area'), kind: 'found', what: 'lit', frame: id, among: [], join, inverted: false }]);
    if (what === 'same') return add([{ id: freshId('area'), kind: 'same', join, inverted: false, pass: id }]);
    if (what === 'copy') return add(copied(mix.passes.find((p) => p.id === id)!.mask, mix));
    const kind = LISTED.find((k) => k.kind === what);
    if (kind) add([{ id: freshId('area'), join, inverted: false, ...kind.start() } as Area]);
  };
  const others = mix.passes.filter((p) => p.id !== pass.id && p.mask.length > 0);
  const lights = [...new Set(mix.passes.flatMap((p) => ('source' in p && p.kind === 'light' && 'frame' in p.source ? [p.source.frame] : [])))];
  const options = [
    { value: '', label: 'Add to the mask…' },
    ...LISTED.map(({ kind, label }) => ({ value: kind, label })),
    { value: 'glass', label: 'What was found: the view through glass' },
    { value: 'before', label: 'What was found: what stands before the glass' },
    { value: 'sky', label: 'What was found: the sky' },
    { value: 'ceiling', label: 'What was found: the ceiling, where it is painted' },
    { value: 'walls', label: 'What was found: walls, where they are painted' },
    ...lights.flatMap((id) => { const frame = frames.find((f) => f.id === id && f.role === 'flash'); return frame ? [{ value: `lit:${id}`, label: `What was found: lit by ${frame.name}` }] : []; }),
    ...others.map(({ id, name }) => ({ value: `same:${id}`, label: `Linked to the mask of ${name}` })),
    ...others.map(({ id, name }) => ({ value: `copy:${id}`, label: `Copy of the mask of ${name}` })),
    ...(held && copied(held.areas, mix).length > 0 ? [{ value: 'paste', label: `Mask taken from ${held.from}` }] : []),
  ];
  return (
    <>
      <h4 className="with-act">Mask{pass.mask.length > 0 && <button className="flat" title="Take it along: it can be added to any pass, of any shot" onClick={() => dispatch(maskCopied({ from: pass.name, areas: pass.mask }))}>Take along</button>}</h4>
      {pass.mask.length === 0 && <p className="soft">Everywhere. Less takes it away under the brush; a ramp lets it come in softly.</p>}
      {pass.mask.map((area) => <AreaRow key={area.id} mix={mix} pass={pass.id} area={area} put={(next, done) => onChange({ mask: pass.mask.map((a) => (a.id === area.id ? next : a)) }, done)} onRemove={() => onRemoveArea(area.id)} />)}
      <NativeSelect size="xs" mt={4} aria-label="Add to the mask" value="" data={options} onChange={(e) => { begin(e.currentTarget.value); e.currentTarget.blur(); }} />
    </>
  );
}
