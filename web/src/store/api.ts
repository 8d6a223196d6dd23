import { createApi, fetchBaseQuery } from '@reduxjs/toolkit/query/react';
import type { CellState } from '@zaddle/core/read/setQuality';
import type { Reading } from '@zaddle/core/read/readings';
import type { GroupingCommand } from '@zaddle/core/intake/regroup';
import type { FrameFacts, Role } from '@zaddle/core/intake/frameFacts';
import type { Command, MixDocument } from '@zaddle/document';
import { Changes } from './freshAnswer';

export interface ShootSummary {
  readonly id: string;
  readonly name: string;
  readonly address: string;
  readonly dueAt: string | null;
  readonly frames: { readonly waiting: number; readonly gathered: number; readonly rejected: number };
  readonly shots: number;
  readonly mixed: number;
  readonly delivered: number;
  readonly cover: string | null;
}
export interface Frame {
  readonly id: string;
  readonly shotId: string | null;
  readonly name: string;
  readonly state: 'waiting' | 'gathered' | 'rejected';
  readonly why: string;
  readonly facts: FrameFacts | null;
  readonly role: Role;
  readonly used: boolean;
  readonly residualPx: number | null;
  readonly parts: readonly (number | null)[];
  readonly marked: boolean;
  readonly dropped: boolean;
}
export interface Shot {
  readonly id: string;
  readonly shootId: string;
  readonly position: number;
  readonly label: string;
  readonly confidence: number;
  readonly why: string;
  readonly state: 'sorted' | 'mixed' | 'failed';
  readonly readings: readonly Reading[];
}
export interface ShootDetail {
  readonly id: string;
  readonly name: string;
  readonly address: string;
  readonly dueAt: string | null;
  /** Of regrouping by hand. */
  readonly canUndo: boolean;
  readonly canRedo: boolean;
  readonly frames: readonly Frame[];
  readonly shots: readonly Shot[];
}
export interface MixView {
  readonly document: MixDocument;
  readonly canUndo: boolean;
  readonly canRedo: boolean;
}
export interface ShotDetail {
  readonly shot: Shot;
  readonly frames: readonly Frame[];
  readonly mix: MixView | null;
}
export interface Delivery {
  readonly id: string;
  readonly shotId: string;
  readonly name: string;
  readonly quality: number;
  readonly state: 'waiting' | 'running' | 'done' | 'failed';
  readonly progress: number;
  readonly why: string;
  readonly bytes: string | null;
  readonly attempts: number;
  readonly createdAt: string;
}

/** What is kept for the camera and lens of a shot. */
export interface LensView {
  readonly lens: { readonly camera: string; readonly lens: string; readonly focalLength: number } | null;
  readonly kept: { readonly keptAt: string } | null;
}

/** The view that a tethered camera is shooting right now. */
export interface LiveView {
  readonly shoot: { readonly id: string; readonly name: string } | null;
  readonly shot?: { readonly id: string | null; readonly label: string; readonly frames: number; readonly latest: { readonly id: string; readonly name: string; readonly seconds: number | null } } | null;
  readonly coverage?: { readonly columns: number; readonly rows: number; readonly cells: readonly CellState[] } | null;
  /** Places are shares of width and height. */
  readonly readings?: readonly Reading[];
}

/** The server's REST interface. Events from the server invalidate what they touch (`useServerEvents`). */
export const api = createApi({
  baseQuery: fetchBaseQuery({ baseUrl: '/api' }),
  tagTypes: ['Shoots', 'Shoot', 'Shot', 'Deliveries', 'Live', 'Lens'],
  endpoints: (build) => ({
    shoots: build.query<ShootSummary[], void>({ query: () => 'shoots', providesTags: ['Shoots'] }),
    shoot: build.query<ShootDetail, string>({ query: (id) => `shoots/${id}`, providesTags: ['Shoot'] }),
    addShoot: build.mutation<{ id: string }, { name: string; address: string; dueAt: string | null }>({ query: (body) => ({ url: 'shoots', method: 'POST', body }), invalidatesTags: ['Shoots'] }),
    labelShot: build.mutation<Shot, { id: string; label: string }>({ query: ({ id, label }) => ({ url: `shots/${id}`, method: 'PATCH', body: { label } }), invalidatesTags: ['Shoot', 'Shot'] }),
    regroup: build.mutation<void, { shoot: string; command: GroupingCommand }>({ query: ({ shoot, command }) => ({ url: `shoots/${shoot}/grouping/commands`, method: 'POST', body: command }), invalidatesTags: ['Shoot', 'Shot', 'Shoots'] }),
    regroupStep: build.mutation<void, { shoot: string; direction: 'undo' | 'redo' }>({ query: ({ shoot, direction }) => ({ url: `shoots/${shoot}/grouping/${direction}`, method: 'POST' }), invalidatesTags: ['Shoot', 'Shot', 'Shoots'] }),
    mark: build.mutation<void, { shoot: string; frames: readonly string[]; marked: boolean }>({
      query: ({ shoot, frames, marked }) => ({ url: `shoots/${shoot}/marks`, method: 'POST', body: { frames, marked } }),
      onQueryStarted: ({ shoot, frames, marked }, { dispatch }) => void dispatch(markAtOnce(shoot, frames, marked)),
      invalidatesTags: ['Shoot'],
    }),
    wantFile: build.mutation<void, string>({ query: (frame) => ({ url: `frames/${frame}/want`, method: 'POST' }), invalidatesTags: ['Shoot', 'Shot'] }),
    proposeAnew: build.mutation<void, string>({ query: (shot) => ({ url: `shots/${shot}/mix/anew`, method: 'POST' }), invalidatesTags: ['Shoot', 'Shot'] }),
    shot: build.query<ShotDetail, string>({
      queryFn: async (id, _api, _options, ask) => {
        const { data, error } = await changes.freshAnswer(id, () => ask(`shots/${id}`));
        return error ? { error } : { data: data as ShotDetail };
      },
      providesTags: ['Shot'],
    }),
    command: build.mutation<MixView, { shot: string; command: Command }>({
      query: ({ shot, command }) => ({ url: `shots/${shot}/mix/commands`, method: 'POST', body: command }),
      onQueryStarted: ({ shot }, { dispatch, queryFulfilled }) => takeOver(shot, dispatch, queryFulfilled),
    }),
    step: build.mutation<MixView, { shot: string; direction: 'undo' | 'redo' }>({
      query: ({ shot, direction }) => ({ url: `shots/${shot}/mix/${direction}`, method: 'POST' }),
      onQueryStarted: ({ shot }, { dispatch, queryFulfilled }) => takeOver(shot, dispatch, queryFulfilled),
    }),
    takeReference: build.mutation<MixView, { shot: string; frame: string }>({
      query: ({ shot, frame }) => ({ url: `shots/${shot}/mix/reference`, method: 'POST', body: { frame } }),
      onQueryStarted: ({ shot }, { dispatch, queryFulfilled }) => takeOver(shot, dispatch, queryFulfilled),
    }),
    lens: build.query<LensView, string>({ query: (shot) => `shots/${shot}/lens`, providesTags: ['Lens'] }),
    keepLens: build.mutation<LensView, { shot: string; keep: boolean }>({ query: ({ shot, keep }) => ({ url: `shots/${shot}/lens`, method: keep ? 'PUT' : 'DELETE' }), invalidatesTags: ['Lens'] }),
    labels: build.query<string[], string>({ query: (shoot) => `shoots/${shoot}/labels`, providesTags: ['Shoot'] }),
    live: build.query<LiveView, void>({ query: () => 'live', providesTags: ['Live'] }),
    deliveries: build.query<Delivery[], void>({ query: () => 'deliveries', providesTags: ['Deliveries'] }),
    deliver: build.mutation<{ ids: string[] }, { shots: string[]; quality: number }>({ query: (body) => ({ url: 'deliveries', method: 'POST', body }), invalidatesTags: ['Deliveries'] }),
    retry: build.mutation<{ id: string }, string>({ query: (id) => ({ url: `deliveries/${id}/retry`, method: 'POST' }), invalidatesTags: ['Deliveries'] }),
  }),
});

/** Changes to mixes of shots. */
const changes = new Changes();

/** A mark shows before the server has answered. */
const markAtOnce = (shoot: string, frames: readonly string[], marked: boolean) =>
  api.util.updateQueryData('shoot', shoot, (draft) => {
    for (const frame of draft.frames as { id: string; marked: boolean }[]) if (frames.includes(frame.id)) frame.marked = marked;
  });

/** Puts the server's answer to a change into the cached shot, so that no second request is needed. */
async function takeOver(shot: string, dispatch: (action: never) => unknown, answered: Promise<{ data: MixView }>): Promise<void> {
  const answer = await answered.catch(() => null);
  if (!answer) return;
  changes.add(shot);
  dispatch(api.util.updateQueryData('shot', shot, (draft) => { (draft as { mix: MixView }).mix = answer.data; }) as never);
}

export const { useShootsQuery, useShootQuery, useAddShootMutation, useLabelShotMutation, useRegroupMutation, useRegroupStepMutation, useMarkMutation, useWantFileMutation, useProposeAnewMutation, useShotQuery, useCommandMutation, useStepMutation, useTakeReferenceMutation, useLensQuery, useKeepLensMutation, useLabelsQuery, useLiveQuery, useDeliveriesQuery, useDeliverMutation, useRetryMutation } = api;
