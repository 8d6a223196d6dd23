import { Group, Modal } from '@mantine/core';
import { failed } from '../frame/failed';
import { useDeleteTableMutation, type KeptTable } from '../store/api';

/** All colour tables that are kept: read back as files, or thrown away while nothing needs them. */
export function TablesDialog({ opened, tables, onClose }: { readonly opened: boolean; readonly tables: readonly KeptTable[]; readonly onClose: () => void }) {
  const [remove] = useDeleteTableMutation();
  return (
    <Modal opened={opened} onClose={onClose} title="Colour tables">
      <div role="list">
      {tables.map(({ digest, name, what }) => (
        <Group key={digest} role="listitem" justify="space-between" wrap="nowrap" py={4}>
          <span>{name} <span className="soft">{what}</span></span>
          <Group gap="sm" wrap="nowrap">
            <a href={`/api/tables/${digest}`} download aria-label={`Save ${name} as a file`}>Save</a>
            <button className="flat" aria-label={`Throw away ${name}`} onClick={() => void remove(digest).unwrap().catch(failed)}>Throw away</button>
          </Group>
        </Group>
      ))}
      </div>
      {tables.length === 0 && <p>None is kept.</p>}
    </Modal>
  );
}
