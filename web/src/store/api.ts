import { createApi, fetchBaseQuery } from '@reduxjs/toolkit/query/react';
import type { Reading } from '@zaddle/core/read/readings';
import type { FrameFacts, Role } from '@zaddle/core/intake/frameFacts';
import type { Command, MixDocument } from '@zaddle/document';

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

/** The server's REST interface. Events from the server invalidate what they touch (`useServerEvents`). */
export const api = createApi({
  baseQuery: fetchBaseQuery({ baseUrl: '/api' }),
  tagTypes: ['Shoots', 'Shoot', 'Shot', 'Deliveries'],
  endpoints: (build) => ({
    shoots: build.query<ShootSummary[], void>({ query: () => 'shoots', providesTags: ['Shoots'] }),
    shoot: build.query<ShootDetail, string>({ query: (id) => `shoots/${id}`, providesTags: ['Shoot'] }),
    addShoot: build.mutation<{ id: string }, { name: string; address: string; dueAt: string | null }>({ query: (body) => ({ url: 'shoots', method: 'POST', body }), invalidatesTags: ['Shoots'] }),
    labelShot: build.mutation<Shot, { id: string; label: string }>({ query: ({ id, label }) => ({ url: `shots/${id}`, method: 'PATCH', body: { label } }), invalidatesTags: ['Shoot', 'Shot'] }),
    shot: build.query<ShotDetail, string>({ query: (id) => `shots/${id}`, providesTags: ['Shot'] }),
    command: build.mutation<MixView, { shot: string; command: Command }>({
      query: ({ shot, command }) => ({ url: `shots/${shot}/mix/commands`, method: 'POST', body: command }),
      onQueryStarted: ({ shot }, { dispatch, queryFulfilled }) => takeOver(shot, dispatch, queryFulfilled),
    }),
    step: build.mutation<MixView, { shot: string; direction: 'undo' | 'redo' }>({
      query: ({ shot, direction }) => ({ url: `shots/${shot}/mix/${direction}`, method: 'POST' }),
      onQueryStarted: ({ shot }, { dispatch, queryFulfilled }) => takeOver(shot, dispatch, queryFulfilled),
    }),
    deliveries: build.query<Delivery[], void>({ query: () => 'deliveries', providesTags: ['Deliveries'] }),
    deliver: build.mutation<{ ids: string[] }, { shots: string[]; quality: number }>({ query: (body) => ({ url: 'deliveries', method: 'POST', body }), invalidatesTags: ['Deliveries'] }),
    retry: build.mutation<{ id: string }, string>({ query: (id) => ({ url: `deliveries/${id}/retry`, method: 'POST' }), invalidatesTags: ['Deliveries'] }),
  }),
});

/** Puts the server's answer to a change into the cached shot, so that no second request is needed. */
async function takeOver(shot: string, dispatch: (action: never) => unknown, answered: Promise<{ data: MixView }>): Promise<void> {
  const answer = await answered.catch(() => null);
  if (!answer) return;
  dispatch(api.util.updateQueryData('shot', shot, (draft) => { (draft as { mix: MixView }).mix = answer.data; }) as never);
}

export const { useShootsQuery, useShootQuery, useAddShootMutation, useLabelShotMutation, useShotQuery, useCommandMutation, useStepMutation, useDeliveriesQuery, useDeliverMutation, useRetryMutation } = api;
