import { Modal } from '@mantine/core';
import { failed } from '../frame/failed';
import { useDeleteTableMutation, type KeptTable } from '../store/api';

/** All colour tables that are kept: read back as files, or thrown away while nothing needs them. */
export function TablesDialog({ opened, tables, onClose }: { readonly opened: boolean; readonly tables: readonly KeptTable[]; readonly onClose: () => void }) {
  const [remove] = useDeleteTableMutation();
  return (
    <Modal opened={opened} onClose={onClose} title="Colour tables">
      <ul className="rows">
        {tables.map(({ digest, name, what }) => (
          <li key={digest}>
            <span>{name}</span> <span className="soft">{what}</span>
            <span className="tools">
              <a href={`/api/tables/${digest}`} download>Save the file</a>
              <button className="flat" aria-label={`Throw away ${name}`} onClick={() => void remove(digest).unwrap().catch(failed)}>Throw away</button>
            </span>
          </li>
        ))}
      </ul>
      {tables.length === 0 && <p>None is kept.</p>}
    </Modal>
  );
}
