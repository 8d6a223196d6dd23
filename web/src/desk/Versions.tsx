import { Button, Popover, TextInput } from '@mantine/core';
import { useState } from 'react';
import { failed } from '../frame/failed';
import { useConfirm } from '../frame/useConfirm';
import { useDeleteVersionMutation, useKeepVersionMutation, useVersionsQuery } from '../store/api';

interface VersionsProps {
  readonly shot: string;
  /** The server has every change: only what it has can be kept. */
  readonly saved: boolean;
  readonly onBack: (version: string) => void;
}

const when = (time: string): string => new Date(time).toLocaleString('en-GB', { day: 'numeric', month: 'short', hour: '2-digit', minute: '2-digit' });

/** Named versions of the shot's mix: keep this state, go back to one (which can be undone), throw one away. */
export function Versions({ shot, saved, onBack }: VersionsProps) {
  const [name, setName] = useState('');
  const [open, setOpen] = useState(false);
  const { data = [] } = useVersionsQuery(shot);
  const [keep] = useKeepVersionMutation();
  const [remove] = useDeleteVersionMutation();
  const { ask, dialog } = useConfirm();
  const keepNow = (): void => {
    if (name.trim() && saved) void keep({ shot, name: name.trim() }).unwrap().then(() => setName(''), failed);
  };
  return (
    <>
      <Popover opened={open} onChange={setOpen} position="bottom-end" shadow="sm" trapFocus>
        <Popover.Target>
          <Button size="compact-sm" variant="default" onClick={() => setOpen(!open)} aria-expanded={open}>Versions{data.length > 0 ? ` (${data.length})` : ''}</Button>
        </Popover.Target>
        <Popover.Dropdown className="versions">
          {data.length === 0 && <p className="soft">No version is kept yet. Give this state a name before you try something else; you can come back to it at any time.</p>}
          {data.map((version) => (
            <div key={version.id} className="version">
              <span>{version.name}</span><span className="soft">{when(version.createdAt)}</span>
              <button className="flat" onClick={() => { onBack(version.id); setOpen(false); }}>Go back to it</button>
              <button className="flat" onClick={() => { setOpen(false); ask({ title: `Throw away “${version.name}”?`, act: 'Throw away', text: 'The mix stays as it is now. This version is gone for good.', onYes: () => void remove({ shot, version: version.id }).unwrap().catch(failed) }); }} aria-label={`Throw away ${version.name}`}>×</button>
            </div>
          ))}
          <form onSubmit={(event) => { event.preventDefault(); keepNow(); }}>
            <TextInput size="xs" label="Keep this state as" placeholder="Before the client's wishes" maxLength={80} value={name} onChange={(event) => setName(event.currentTarget.value)} />
            <Button size="compact-sm" type="submit" mt={6} disabled={!name.trim() || !saved}>{saved ? 'Keep' : 'Saving…'}</Button>
          </form>
        </Popover.Dropdown>
      </Popover>
      {dialog}
    </>
  );
}
