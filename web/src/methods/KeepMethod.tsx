import { Button, Modal, NativeSelect, TextInput } from '@mantine/core';
import { notifications } from '@mantine/notifications';
import { useState } from 'react';
import { PART_TITLES, partWords } from '@zaddle/core/method/partWords';
import { METHOD_LIGHTS, METHOD_ROOMS, PART_NAMES, type Method, type MethodParts, type PartName } from '@zaddle/document';
import { failed } from '../frame/failed';
import { useAddMethodMutation, useMethodPartsQuery, useMethodsQuery, useUpdateMethodMutation } from '../store/api';

interface KeepProps {
  readonly shot: string;
  readonly onClose: () => void;
}

const AS_NEW = '';

/** Keeps what was decided on a shot as a method: which of it, under which name, or in place of one that is there. */
export function KeepMethod({ shot, onClose }: KeepProps) {
  const { data: parts } = useMethodPartsQuery(shot, { refetchOnMountOrArgChange: true });
  const { data: methods = [] } = useMethodsQuery();
  const [add, adding] = useAddMethodMutation();
  const [update, updating] = useUpdateMethodMutation();
  const [instead, setInstead] = useState(AS_NEW);
  const [head, setHead] = useState<Pick<Method, 'name' | 'what' | 'room' | 'light'>>({ name: '', what: '', room: 'any room', light: 'any light' });
  const [left, setLeft] = useState<ReadonlySet<PartName>>(new Set());
  const there = PART_NAMES.filter((name) => parts?.[name] !== undefined);
  const kept = there.filter((name) => !left.has(name));
  const toggle = (name: PartName): void => setLeft((now) => new Set(now.has(name) ? [...now].filter((each) => each !== name) : [...now, name]));
  const choose = (id: string): void => {
    setInstead(id);
    const old = methods.find((each) => each.id === id)?.method;
    if (old) setHead({ name: old.name, what: old.what, room: old.room, light: old.light });
  };
  const keep = (): void => {
    if (!parts || kept.length === 0 || !head.name.trim()) return;
    const method: Method = { format: 'zaddle-method', version: 1, ...head, name: head.name.trim(), what: head.what.trim(), parts: Object.fromEntries(kept.map((name) => [name, parts[name]])) as MethodParts };
    const work = instead === AS_NEW ? add(method).unwrap() : update({ id: instead, method }).unwrap();
    void work.then(() => {
      notifications.show({ message: `“${method.name}” is kept.` });
      onClose();
    }, failed);
  };
  return (
    <Modal opened onClose={onClose} title="Keep as a method" size="md">
      <form className="keep-method" onSubmit={(event) => { event.preventDefault(); keep(); }}>
        <NativeSelect size="xs" label="Keep it" value={instead} onChange={(e) => choose(e.currentTarget.value)} data={[{ value: AS_NEW, label: 'as a new method' }, ...methods.map(({ id, method }) => ({ value: id, label: `in place of “${method.name}”` }))]} />
        <TextInput size="xs" label="Name" maxLength={60} data-autofocus value={head.name} onChange={(e) => setHead({ ...head, name: e.currentTarget.value })} />
        <TextInput size="xs" label="What it does for a picture" maxLength={200} value={head.what} onChange={(e) => setHead({ ...head, what: e.currentTarget.value })} />
        <div className="pair">
          <NativeSelect size="xs" label="For" value={head.room} data={[...METHOD_ROOMS]} onChange={(e) => setHead({ ...head, room: e.currentTarget.value as Method['room'] })} />
          <NativeSelect size="xs" label="In" value={head.light} data={[...METHOD_LIGHTS]} onChange={(e) => setHead({ ...head, light: e.currentTarget.value as Method['light'] })} />
        </div>
        <fieldset>
          <legend>Decisions that it holds</legend>
          {!parts && <p className="soft">Looking at what was done…</p>}
          {there.map((name) => <label key={name} className="check"><input type="checkbox" checked={!left.has(name)} onChange={() => toggle(name)} /> <span><b>{PART_TITLES[name]}</b> <span className="soft">{partWords(name, parts![name]!)}</span></span></label>)}
        </fieldset>
        <p className="soft">What belongs to this shot alone, such as painted masks, clean-up and healed places, is left out.</p>
        <Button size="compact-sm" type="submit" disabled={kept.length === 0 || !head.name.trim() || adding.isLoading || updating.isLoading}>Keep</Button>
      </form>
    </Modal>
  );
}
