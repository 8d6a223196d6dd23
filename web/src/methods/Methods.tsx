import { Button } from '@mantine/core';
import { notifications } from '@mantine/notifications';
import { useRef, useState } from 'react';
import { METHOD_LIGHTS, METHOD_ROOMS, type Method } from '@zaddle/document';
import { failed } from '../frame/failed';
import { jsonOfFile, refuseFile } from '../frame/jsonOfFile';
import { useConfirm } from '../frame/useConfirm';
import { useAddMethodMutation, useDeleteMethodMutation, useMethodsQuery, useOrderMethodsMutation, useShootQuery, useShootsQuery, useUpdateMethodMutation, type KeptMethod } from '../store/api';
import { sketchOf } from './choices';
import { MethodRow } from './MethodRow';
import { useSketches } from './useSketches';

/** How methods are laid out. */
const LAYOUTS = { keys: 'in the order of keys', room: 'by kind of room', light: 'by light' } as const;
type Layout = keyof typeof LAYOUTS;

/** Largest file that is looked at: a method is kilobytes. */
const LARGEST = 1_000_000;

/** The shot that methods are shown on: of the shoot that is due first, unless another is chosen. */
function useShownShot() {
  const { data: shoots = [] } = useShootsQuery();
  const [shoot, setShoot] = useState('');
  const [shot, setShot] = useState('');
  const shootNow = shoot || (shoots.find(({ mixed }) => mixed > 0)?.id ?? '');
  const { data } = useShootQuery(shootNow, { skip: shootNow === '' });
  const shots = (data?.shots ?? []).filter(({ state }) => state === 'mixed');
  const shotNow = shots.some(({ id }) => id === shot) ? shot : (shots[0]?.id ?? '');
  return { shoots: shoots.filter(({ mixed }) => mixed > 0), shots, shoot: shootNow, shot: shotNow, setShoot, setShot };
}

/** Groups of methods under headings, each with its place among all. */
function groupsOf(methods: readonly KeptMethod[], layout: Layout): { readonly title: string; readonly rows: readonly { readonly kept: KeptMethod; readonly index: number }[] }[] {
  const rows = methods.map((kept, index) => ({ kept, index }));
  if (layout === 'keys') return [{ title: '', rows }];
  const titles: readonly string[] = layout === 'room' ? METHOD_ROOMS : METHOD_LIGHTS;
  return titles.map((title) => ({ title, rows: rows.filter(({ kept }) => kept.method[layout] === title) })).filter((group) => group.rows.length > 0);
}

/** Kept decisions: how each looks on a shot of one's own, what it is for, in which order it has its key. */
export function Methods() {
  const { data: methods = [] } = useMethodsQuery();
  const { shoots, shots, shoot, shot, setShoot, setShot } = useShownShot();
  const [canvas, setCanvas] = useState<HTMLCanvasElement | null>(null);
  const sketches = useSketches(shot, methods, canvas);
  const [layout, setLayout] = useState<Layout>('keys');
  const [add] = useAddMethodMutation();
  const [update] = useUpdateMethodMutation();
  const [remove] = useDeleteMethodMutation();
  const [order] = useOrderMethodsMutation();
  const { ask, dialog } = useConfirm();
  const file = useRef<HTMLInputElement>(null);
  const take = async (taken: File | undefined): Promise<void> => {
    const read = taken && (await jsonOfFile(taken, 'method', LARGEST));
    if (!read) return;
    await add(read.value).unwrap().then((kept) => notifications.show({ message: `“${kept.method.name}” is among your methods now.` }), (error: { data?: { detail?: string } }) => refuseFile(taken, 'method', error.data?.detail ?? 'The server did not take it.'));
  };
  const change = (id: string, method: Method): void => void update({ id, method }).unwrap().catch(failed);
  const move = (index: number, by: 1 | -1): void => {
    const ids = methods.map(({ id }) => id);
    [ids[index], ids[index + by]] = [ids[index + by], ids[index]];
    void order(ids).unwrap().catch(failed);
  };
  const throwAway = ({ id, method: { name } }: KeptMethod): void => ask({ title: `Throw away “${name}”?`, act: 'Throw away', text: 'Shots that have it keep it. To have it again later, save it as a file first.', onYes: () => void remove(id).unwrap().catch(failed) });
  return (
    <main className="page">
      <header className="methods-head">
        <div>
          <h1>Methods</h1>
          <p className="soft">Decisions that any shot can be given, with a strength. Make one at the desk (Shift + m), from a shot that you like.</p>
          <p>
            <label>Shown on <select aria-label="Shoot" value={shoot} onChange={(e) => { setShoot(e.currentTarget.value); setShot(''); }}>{shoots.map(({ id, name }) => <option key={id} value={id}>{name}</option>)}</select></label>{' '}
            <select aria-label="Shot" value={shot} onChange={(e) => setShot(e.currentTarget.value)}>{shots.map(({ id, label }) => <option key={id} value={id}>{label}</option>)}</select>{' '}
            <label>laid out <select aria-label="Layout" value={layout} onChange={(e) => setLayout(e.currentTarget.value as Layout)}>{Object.entries(LAYOUTS).map(([value, words]) => <option key={value} value={value}>{words}</option>)}</select></label>{' '}
            <Button size="compact-sm" variant="default" onClick={() => file.current?.click()}>Take from a file…</Button>
            <input ref={file} type="file" accept="application/json,.json" hidden aria-label="File of a method" onChange={(e) => { void take(e.currentTarget.files?.[0]); e.currentTarget.value = ''; }} />
          </p>
        </div>
        <figure className="method-face"><canvas ref={setCanvas} /><figcaption>{shot === '' ? 'No shot is lined up yet: methods are shown on one once there is' : 'As it stands'}</figcaption></figure>
      </header>
      {groupsOf(methods, layout).map(({ title, rows }) => (
        <section key={title || 'all'} aria-label={title || 'All methods'}>
          {title && <h2>{title.replace(/^./, (c) => c.toUpperCase())}</h2>}
          {rows.map(({ kept, index }) => (
            <MethodRow key={kept.id} kept={kept} index={index} last={index === methods.length - 1} ordered={layout === 'keys'} picture={sketchOf(sketches, kept.id)} onChange={(method) => change(kept.id, method)} onMove={(by) => move(index, by)} onDelete={() => throwAway(kept)} />
          ))}
        </section>
      ))}
      {methods.length === 0 && <p>No method is kept. Open a shot and keep what you did there as one, or take one from a file.</p>}
      {dialog}
    </main>
  );
}
