import { Button, Group } from '@mantine/core';
import { useRef, useState } from 'react';
import { asFile, fromFile, namedOrderSchema, type Order, type OrderAsFile } from '@zaddle/document';
import { failed } from '../frame/failed';
import { jsonOfFile, refuseFile } from '../frame/jsonOfFile';
import { useConfirm } from '../frame/useConfirm';
import { orderWords, useAllOrders, type OrderOption } from '../outbox/orders';
import { useAddOrderMutation, useDeleteOrderMutation, useUpdateOrderMutation } from '../store/api';
import { NamesShown } from './NamesShown';
import { OrderFields } from './OrderFields';

/** Largest file that is looked at: an order is a kilobyte. */
const LARGEST = 100_000;

/** An order as it is being changed. */
interface Draft {
  readonly name: string;
  readonly order: Order;
}

/** What is wrong with an order, in words; null: nothing. */
function faultOf({ name, order }: Draft): string | null {
  const { error } = namedOrderSchema.validate(asFile(name.trim(), order), { convert: false });
  return error ? `${error.message}.` : null;
}

/** A name that no order has yet. */
function freeName(name: string, taken: readonly string[]): string {
  const used = new Set(taken.map((each) => each.toLowerCase()));
  let free = name;
  for (let n = 2; used.has(free.toLowerCase()); n++) free = `${name} ${n}`;
  return free;
}

interface EditorProps {
  readonly option: OrderOption;
  readonly onCopy: (draft: Draft) => void;
  readonly onDelete: () => void;
}

/** One order: looked at where it ships, else changed and kept. */
function Editor({ option: { id, label, order: kept, ships }, onCopy, onDelete }: EditorProps) {
  const [draft, setDraft] = useState<Draft>({ name: label, order: kept });
  const [update, updating] = useUpdateOrderMutation();
  const changed = draft.name !== label || JSON.stringify(draft.order) !== JSON.stringify(kept);
  const fault = ships ? null : faultOf(draft);
  const keep = (): void => void update({ id, order: asFile(draft.name.trim(), draft.order) }).unwrap().then(({ name, order }) => setDraft({ name, order }), failed);
  return (
    <form className="order-editor" aria-label={label} onSubmit={(event) => { event.preventDefault(); if (changed && !fault) keep(); }}>
      <header>
        {ships ? <h2>{label}</h2> : <input className="typed-name" aria-label="Name of the order" maxLength={60} value={draft.name} onChange={(e) => setDraft({ ...draft, name: e.currentTarget.value })} />}
        <p className="soft">{orderWords(draft.order)}</p>
      </header>
      <OrderFields order={draft.order} fixed={ships} onChange={(changes) => setDraft({ ...draft, order: { ...draft.order, ...changes } })} />
      {fault && <p className="late" role="alert">{fault}</p>}
      <Group gap={8}>
        {!ships && <Button type="submit" size="compact-sm" disabled={!changed || fault !== null} loading={updating.isLoading}>Keep</Button>}
        {!ships && changed && <Button size="compact-sm" variant="default" onClick={() => setDraft({ name: label, order: kept })}>As it was</Button>}
        <Button size="compact-sm" variant="default" onClick={() => onCopy(draft)}>{ships ? 'Copy, to change it' : 'Copy'}</Button>
        <a className="flat" href={`/api/orders/${id}/file`} download>Save as a file</a>
        {!ships && <button type="button" className="quiet" onClick={onDelete}>Throw away</button>}
      </Group>
      <NamesShown name={ships ? id : draft.name} order={draft.order} alone={id === 'full'} />
    </form>
  );
}

/** What is delivered to whom: orders that ship, and those of one's own, with their files' names on one's own shots. */
export function Orders() {
  const all = useAllOrders();
  const [at, setAt] = useState('full');
  const [add] = useAddOrderMutation();
  const [remove] = useDeleteOrderMutation();
  const { ask, dialog } = useConfirm();
  const file = useRef<HTMLInputElement>(null);
  const option = all.find(({ id }) => id === at) ?? all[0];
  const addOwn = ({ name, order }: Draft): void => void add(asFile(freeName(name, all.flatMap(({ id, label }) => [id, label])), order)).unwrap().then(({ id }) => setAt(id), failed);
  const take = async (taken: File | undefined): Promise<void> => {
    const read = taken && (await jsonOfFile(taken, 'order', LARGEST));
    if (!read) return;
    const { error, value } = namedOrderSchema.validate(read.value, { convert: false });
    if (error) return refuseFile(taken, 'order', `${error.message}.`);
    addOwn(fromFile(value as OrderAsFile));
  };
  const throwAway = ({ id, label }: OrderOption): void => ask({ title: `Throw away “${label}”?`, act: 'Throw away', text: 'What was delivered by it stays, and can be made again. To have it again later, save it as a file first.', onYes: () => void remove(id).unwrap().then(() => setAt('full'), failed) });
  return (
    <main className="page orders-page">
      <aside>
        <h1>Orders</h1>
        <p className="soft">What a client gets of each picture. Chosen where you deliver: at the desk, on the wall, for a shoot.</p>
        <nav aria-label="Orders">
          {all.map(({ id, label, ships }) => <button key={id} className="flat" aria-pressed={id === option.id} onClick={() => setAt(id)}>{label}{ships ? <span className="soft"> built in</span> : null}</button>)}
        </nav>
        <Group gap={8}>
          <Button size="compact-sm" onClick={() => addOwn({ name: 'New order', order: all[0].order })}>New order</Button>
          <Button size="compact-sm" variant="default" onClick={() => file.current?.click()}>Take from a file…</Button>
        </Group>
        <input ref={file} type="file" accept="application/json,.json" hidden aria-label="File of an order" onChange={(e) => { void take(e.currentTarget.files?.[0]); e.currentTarget.value = ''; }} />
      </aside>
      <Editor key={option.id} option={option} onCopy={addOwn} onDelete={() => throwAway(option)} />
      {dialog}
    </main>
  );
}
