import { Button, Popover, TextInput } from '@mantine/core';
import { useState } from 'react';
import { failed } from '../frame/failed';
import { useConfirm } from '../frame/useConfirm';
import { useEscape } from '../frame/useEscape';
import { useDeleteVersionMutation, useKeepVersionMutation, useRenameVersionMutation, useVersionsQuery } from '../store/api';

interface VersionsProps {
  readonly shot: string;
  /** The server has every change: only what it has can be kept. */
  readonly saved: boolean;
  readonly onBack: (version: string) => void;
}

const when = (time: string): string => new Date(time).toLocaleString('en-GB', { day: 'numeric', month: 'short', hour: '2-digit', minute: '2-digit' });

interface VersionNameProps {
  readonly name: string;
  readonly onRename: (name: string) => void;
}

/** A version's name; a click lets it be typed anew. Enter takes it; whatever else ends the typing leaves it as it was. */
function VersionName({ name, onRename }: VersionNameProps) {
  const [typed, setTyped] = useState<string | null>(null);
  const take = (): void => {
    if (typed?.trim() && typed.trim() !== name) onRename(typed.trim());
    setTyped(null);
  };
  if (typed === null) return <button className="flat name" title="Click to rename" onClick={() => setTyped(name)}>{name}</button>;
  return (
    <form className="name" onSubmit={(event) => { event.preventDefault(); take(); }}>
      <TextInput size="xs" aria-label={`New name of ${name}`} maxLength={80} autoFocus value={typed} onChange={(event) => setTyped(event.currentTarget.value)} onBlur={() => setTyped(null)} />
    </form>
  );
}

/** Named versions of the shot's mix: keep this state, go back to one (which can be undone), throw one away. */
export function Versions({ shot, saved, onBack }: VersionsProps) {
  const [name, setName] = useState('');
  const [open, setOpen] = useState(false);
  useEscape(open, () => setOpen(false));
  const { data = [] } = useVersionsQuery(shot);
  const [keep] = useKeepVersionMutation();
  const [rename] = useRenameVersionMutation();
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
              <VersionName name={version.name} onRename={(next) => void rename({ shot, version: version.id, name: next }).unwrap().catch(failed)} />
              <span className="soft">{when(version.createdAt)}</span>
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
