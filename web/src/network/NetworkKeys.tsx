import { Button, Group, SegmentedControl, Table, TextInput } from '@mantine/core';
import { useState } from 'react';
import { failed } from '../frame/failed';
import { useConfirm } from '../frame/useConfirm';
import { useMakeKeyMutation, useRevokeKeyMutation, type MadeKey, type Network, type NetworkKey } from '../store/api';

/** What a key opens, in words. */
const OPENS: Readonly<Record<NetworkKey['opens'], string>> = { pages: 'Pages', work: 'Work' };

const lastUse = ({ usedAt, usedBy }: NetworkKey): string => (usedAt === null ? 'not yet' : `${new Date(usedAt).toLocaleString([], { day: 'numeric', month: 'short', hour: '2-digit', minute: '2-digit' })}${usedBy ? `, ${usedBy}` : ''}`);

/** A key that was just made: what to do with it. It is not told again. */
function JustMade({ made, address }: { made: MadeKey; address: string }) {
  return (
    <section className="just-made" aria-label="The new key">
      <p>Write it down now: it is not shown again.</p>
      <p><code>{made.secret}</code></p>
      {made.opens === 'pages'
        ? <p>Open <code>{address}</code> on the other device and type it there, once.</p>
        : <><p>On the other computer:</p><p><code>./zaddle worker --server {address} --key {made.secret}</code></p></>}
    </section>
  );
}

/** Makes a key for somebody. */
function MakeKey({ address }: { address: string }) {
  const [name, setName] = useState('');
  const [opens, setOpens] = useState<NetworkKey['opens']>('pages');
  const [made, setMade] = useState<MadeKey | null>(null);
  const [make, { isLoading }] = useMakeKeyMutation();
  const submit = (): void => void make({ name: name.trim(), opens }).unwrap().then((key) => { setMade(key); setName(''); }, failed);
  return (
    <form onSubmit={(event) => { event.preventDefault(); submit(); }}>
      <Group align="end" gap={10} mt={14}>
        <TextInput label="A key for" placeholder="tablet, office computer…" maxLength={60} value={name} onChange={(e) => setName(e.currentTarget.value)} style={{ flex: 1 }} />
        <SegmentedControl aria-label="What it opens" data={[{ value: 'pages', label: 'to open these pages' }, { value: 'work', label: 'to lend its cores' }]} value={opens} onChange={(value) => setOpens(value as NetworkKey['opens'])} />
        <Button type="submit" disabled={name.trim() === ''} loading={isLoading}>Make</Button>
      </Group>
      {made && <JustMade made={made} address={address} />}
    </form>
  );
}

/** By which addresses this Zaddle is reached, and the keys that open it. */
export function NetworkKeys({ network: { addresses, encrypted, away, keys } }: { network: Network }) {
  const [revoke] = useRevokeKeyMutation();
  const { ask, dialog } = useConfirm();
  return (
    <>
      <p style={{ marginTop: 0 }}>
        {away ? 'You are here over the network, by a key. ' : 'Others reach this Zaddle by a key at '}
        {!away && addresses.map((each, k) => <span key={each}>{k > 0 && ', '}<code>{each}</code></span>)}
        {!away && '. '}
        {encrypted ? 'What goes over the line is encrypted.' : 'What goes over the line is not encrypted: use it in a network of your own only.'}
      </p>
      {keys.length > 0 && (
        <Table>
          <Table.Thead><Table.Tr><Table.Th>Key</Table.Th><Table.Th>Opens</Table.Th><Table.Th>Last used</Table.Th><Table.Th /></Table.Tr></Table.Thead>
          <Table.Tbody>
            {keys.map((key) => (
              <Table.Tr key={key.id}>
                <Table.Td>{key.name}</Table.Td><Table.Td>{OPENS[key.opens]}</Table.Td><Table.Td>{lastUse(key)}</Table.Td>
                <Table.Td>{!away && <button className="flat" aria-label={`Revoke ${key.name}`} onClick={() => ask({ title: `Revoke ${key.name}?`, text: key.opens === 'work' ? 'The computer that has it stops at once; what it has in hand is done by others.' : 'Who has it is out at once.', act: 'Revoke', onYes: () => void revoke(key.id).unwrap().catch(failed) })}>Revoke</button>}</Table.Td>
              </Table.Tr>
            ))}
          </Table.Tbody>
        </Table>
      )}
      {away ? <p className="soft">Keys are made and revoked on the computer that Zaddle runs on.</p> : <MakeKey address={addresses[0]} />}
      {dialog}
    </>
  );
}
