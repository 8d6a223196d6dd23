import { Button, Group, Modal, TextInput } from '@mantine/core';
import { useDisclosure } from '@mantine/hooks';
import dayjs from 'dayjs';
import { useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { notifications } from '@mantine/notifications';
import { useConfirm } from '../frame/useConfirm';
import { KeepShoot } from './KeepShoot';
import { RestoreShoot } from './RestoreShoot';
import { isDone, listed, nextStep } from './listed';
import { foreseenWords, standing } from '../outbox/foreseen';
import { useForecast } from '../outbox/useForecast';
import { useAddShootMutation, useDeleteShootMutation, useShootsQuery, type ForeseenShoot, type ShootSummary } from '../store/api';

/** When a shoot is due, and whether it will be late. @param at when that was foreseen, milliseconds */
function Due({ shoot, foreseen, at }: { shoot: ShootSummary; foreseen: ForeseenShoot | undefined; at: number }) {
  if (!shoot.dueAt) return <span className="soft">no due time</span>;
  const due = dayjs(shoot.dueAt);
  const how = foreseen && standing(foreseen);
  const hours = due.diff(dayjs(), 'minute') / 60;
  return (
    <div>
      <div>{due.format('ddd D MMM, HH:mm')}</div>
      {!isDone(shoot) && <div className={hours < 1 ? 'late' : 'soft'}>{hours < 0 ? `${Math.ceil(-hours)} h late` : `in ${hours < 2 ? `${Math.round(hours * 60)} min` : `${Math.floor(hours)} h`}`}</div>}
      {foreseen && <div className={how === 'late' || how === 'tight' ? how : 'soft'}>{foreseenWords(foreseen, at)}</div>}
    </div>
  );
}

function NewShoot({ opened, onClose }: { opened: boolean; onClose: () => void }) {
  const [name, setName] = useState('');
  const [address, setAddress] = useState('');
  const [due, setDue] = useState(dayjs().add(1, 'day').hour(7).minute(0).format('YYYY-MM-DDTHH:mm'));
  const [add, { isLoading }] = useAddShootMutation();
  const navigate = useNavigate();
  const submit = async (): Promise<void> => {
    const { id } = await add({ name: name.trim(), address: address.trim(), dueAt: due ? dayjs(due).toISOString() : null }).unwrap();
    void navigate(`/shoots/${id}`);
  };
  return (
    <Modal opened={opened} onClose={onClose} title="New shoot">
      <form onSubmit={(event) => { event.preventDefault(); void submit(); }}>
        <TextInput label="Name" value={name} onChange={(e) => setName(e.currentTarget.value)} required maxLength={120} data-autofocus />
        <TextInput label="Address" mt="sm" value={address} onChange={(e) => setAddress(e.currentTarget.value)} maxLength={200} />
        <TextInput label="Due" mt="sm" type="datetime-local" value={due} onChange={(e) => setDue(e.currentTarget.value)} />
        <Group mt="md" justify="flex-end"><Button type="submit" loading={isLoading} disabled={!name.trim()}>Make the shoot</Button></Group>
      </form>
    </Modal>
  );
}

/** What to do next with a shoot, and the way there. */
function Next({ shoot }: { shoot: ShootSummary }) {
  const navigate = useNavigate();
  const { text, to } = nextStep(shoot);
  return <button className="next" onClick={(event) => { event.preventDefault(); void navigate(to); }}>{text}</button>;
}

/** What is due when, and how far each shoot is. */
export function Shoots() {
  const { data: shoots, isLoading, isError } = useShootsQuery();
  const { forecast, at } = useForecast();
  const [remove] = useDeleteShootMutation();
  const { ask, dialog } = useConfirm();
  const askToDelete = (shoot: ShootSummary): void => {
    const files = shoot.frames.waiting + shoot.frames.gathered + shoot.frames.rejected;
    ask({
      title: `Delete “${shoot.name}”?`, act: 'Delete the shoot', text: `Its ${files} files, ${shoot.shots} shots with all work on them, and delivered pictures leave this server for good.`,
      onYes: () => void remove(shoot.id).unwrap().catch(() => notifications.show({ color: 'red', title: 'Not deleted', message: 'The server does not answer. Try again.' })),
    });
  };
  const [opened, { open, close }] = useDisclosure(false);
  const [kept, setKept] = useState<ShootSummary | null>(null);
  const [search, setSearch] = useState('');
  const rows = listed(shoots ?? [], search);
  return (
    <main className="page">
      <Group justify="space-between" mb="md">
        <h1>Shoots</h1>
        <Group gap={8}>{(shoots?.length ?? 0) > 3 && <TextInput type="search" aria-label="Search shoots" placeholder="Search by name or address" value={search} onChange={(e) => setSearch(e.currentTarget.value)} w={220} />}<RestoreShoot /><Button onClick={open}>New shoot</Button></Group>
      </Group>
      {isError && <p className="late">The server does not answer. Is it still running?</p>}
      {!isLoading && shoots?.length === 0 && <p>No shoot yet. Make one, then drop a camera card on it.</p>}
      {shoots && shoots.length > 0 && rows.length === 0 && <p>No shoot is called that. <button className="quiet" onClick={() => setSearch('')}>Show all</button></p>}
      {rows.map((shoot) => (
        <Link key={shoot.id} className="shoot-row" to={`/shoots/${shoot.id}`}>
          {shoot.cover ? <img src={`/api/frames/${shoot.cover}/thumbnail`} alt="" /> : <div className="no-cover" />}
          <div><h2>{shoot.name}</h2><div className="soft">{shoot.address}</div></div>
          <Due shoot={shoot} foreseen={forecast?.shoots.find(({ id }) => id === shoot.id)} at={at} />
          <div>
            <div className="count"><span>Frames read</span><span>{shoot.frames.gathered}{shoot.frames.rejected > 0 ? `, ${shoot.frames.rejected} rejected` : ''}</span></div>
            <div className="count"><span>Shots mixed</span><span>{shoot.mixed} of {shoot.shots}</span></div>
            {(shoot.approved > 0 || shoot.sentBack > 0) && <div className="count"><span>Approved</span><span>{shoot.approved} of {shoot.shots}{shoot.sentBack > 0 ? `, ${shoot.sentBack} sent back` : ''}</span></div>}
            <div className="count"><span>Delivered</span><span>{shoot.delivered} of {shoot.shots}</span></div>
          </div>
          <div className="next-step">
            <Next shoot={shoot} />
            <span><button className="quiet" aria-label={`Keep ${shoot.name}`} onClick={(event) => { event.preventDefault(); setKept(shoot); }}>Archive…</button> <button className="quiet" aria-label={`Delete ${shoot.name}`} onClick={(event) => { event.preventDefault(); askToDelete(shoot); }}>Delete…</button></span>
          </div>
        </Link>
      ))}
      {dialog}
      {kept && <KeepShoot shoot={kept} onClose={() => setKept(null)} />}
      <NewShoot opened={opened} onClose={close} />
    </main>
  );
}
