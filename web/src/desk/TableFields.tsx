import { NativeSelect } from '@mantine/core';
import { notifications } from '@mantine/notifications';
import { useRef, useState } from 'react';
import { TABLE_SPACES, type AdjustPass, type PassChanges, type TableSpace, type TableUse } from '@zaddle/document';
import { useAddTableMutation, useTablesQuery } from '../store/api';
import { percent } from './showValues';
import { Slide } from './Slide';
import type { StageQuestions } from './Stage';
import { TablesDialog } from './TablesDialog';
import { addTable, saveText } from './tableFiles';

interface TableProps {
  readonly pass: AdjustPass;
  readonly tabulate: StageQuestions['tabulate'];
  readonly onChange: (changes: PassChanges, done: boolean) => void;
}

const SPACE_LABELS: Readonly<Record<TableSpace, string>> = { srgb: 'sRGB, as displayed', p3: 'Display P3, as displayed', linear: 'linear sRGB' };

/** A colour table that a pass puts colours through last: chosen, taken from a file, made for which values, by how much; and the pass's own colours saved as one. */
export function TableFields({ pass, tabulate, onChange }: TableProps) {
  const { data: kept = [] } = useTablesQuery();
  const [add] = useAddTableMutation();
  const file = useRef<HTMLInputElement>(null);
  const [listed, setListed] = useState(false);
  const { table = null } = pass;
  const isHere = table === null || kept.some(({ digest }) => digest === table.digest);
  const options = [{ value: '', label: 'none' }, ...kept.map(({ digest, name }) => ({ value: digest, label: name })), ...(isHere ? [] : [{ value: table.digest, label: `${table.name} (not here)` }])];
  const set = (changes: Partial<TableUse>, done: boolean): void => {
    if (table) onChange({ table: { ...table, ...changes } }, done);
  };
  const choose = (digest: string, name: string): void => onChange({ table: digest === '' ? null : { space: 'srgb', strength: 1, ...table, digest, name } }, true);
  const take = async (taken: File | undefined): Promise<void> => {
    const added = taken && (await addTable(taken, (body) => add(body).unwrap()));
    if (added) choose(added.digest, added.name);
  };
  const save = (): void => tabulate(pass.id, table?.space ?? 'srgb', (text) => {
    if (text === null) notifications.show({ color: 'red', title: 'Not saved', message: 'The picture is not there yet. Try again once it is.' });
    else saveText(`${pass.name.replace(/[^\p{L}\p{N}]+/gu, '-').toLowerCase() || 'colours'}.cube`, text);
  });
  return (
    <fieldset className="band" aria-label="Colour table">
        <NativeSelect size="xs" label="Colour table" value={table?.digest ?? ''} data={options} onChange={(e) => { const { value } = e.currentTarget; choose(value, kept.find(({ digest }) => digest === value)?.name ?? ''); e.currentTarget.blur(); }} />
      <input ref={file} type="file" accept=".cube" hidden aria-label="File of a colour table" onChange={(e) => { void take(e.currentTarget.files?.[0]); e.currentTarget.value = ''; }} />
      {!isHere && <p role="alert" className="why">This table is not on this server: the picture is shown without it, and cannot be delivered. Add its file.</p>}
      {table && (
        <>
          <Slide label="Strength" title="How much of what the table does to colours" value={table.strength} min={0} max={1} step={0.01} show={percent} rest={1} onChange={(strength, done) => set({ strength }, done)} />
          <NativeSelect size="xs" label="Made for" value={table.space} data={TABLE_SPACES.map((value) => ({ value, label: SPACE_LABELS[value] }))} onChange={(e) => { set({ space: e.currentTarget.value as TableSpace }, true); e.currentTarget.blur(); }} />
        </>
      )}
      <div className="tools">
        <button title="Add a table from a .cube file" onClick={() => file.current?.click()}>Add…</button>
        <button title="What this pass does to colours, saved as a .cube file: all but broad tones, local contrast, veil, glow and even light, which depend on the place" onClick={save}>Save as…</button>
        <button title="All colour tables: saved as files, or thrown away" disabled={kept.length === 0} onClick={() => setListed(true)}>All…</button>
      </div>
      <TablesDialog opened={listed} tables={kept} onClose={() => setListed(false)} />
    </fieldset>
  );
}
