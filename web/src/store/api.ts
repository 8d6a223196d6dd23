import { createApi, fetchBaseQuery } from '@reduxjs/toolkit/query/react';
import type { Start } from '@zaddle/core/propose/starts';
import type { GroupingCommand } from '@zaddle/core/intake/regroup';
import type { Method, MethodParts, MixDocument, NamedPicture, OrderAsFile, PartName, Point } from '@zaddle/document';
import type { Batch, Delivery, Destinations, Forecast, GivenMethod, KeptMethod, KeptOrder, KeptTable, LensView, LiveView, MadeKey, MixHistory, MixVersion, Network, NetworkKey, ReviewState, ShootDetail, ShootMethod, ShootStart, ShootSummary, Shot, ShotDetail, Wall, WallShot } from './answers';

export type * from './answers';

/** What says that a request comes from this page: forms elsewhere cannot send it. */
const ASKED = { 'X-Requested-With': 'zaddle' };

/** The server's REST interface. Events from the server invalidate what they touch (`useServerEvents`). */
export const api = createApi({
  baseQuery: fetchBaseQuery({ baseUrl: '/api', headers: ASKED }),
  tagTypes: ['Tables', 'Shoots', 'Shoot', 'Shot', 'Deliveries', 'Live', 'Lens', 'Versions', 'History', 'Starts', 'Methods', 'ShootMethod', 'Wall', 'Orders', 'Forecast', 'Network'],
  endpoints: (build) => ({
    shoots: build.query<ShootSummary[], void>({ query: () => 'shoots', providesTags: ['Shoots'] }),
    shoot: build.query<ShootDetail, string>({ query: (id) => `shoots/${id}`, providesTags: ['Shoot'] }),
    addShoot: build.mutation<{ id: string }, { name: string; address: string; dueAt: string | null }>({ query: (body) => ({ url: 'shoots', method: 'POST', body }), invalidatesTags: ['Shoots'] }),
    labelShot: build.mutation<Shot, { id: string; label: string }>({ query: ({ id, label }) => ({ url: `shots/${id}`, method: 'PATCH', body: { label } }), invalidatesTags: ['Shoot', 'Shot', 'Wall'] }),
    regroup: build.mutation<void, { shoot: string; command: GroupingCommand }>({ query: ({ shoot, command }) => ({ url: `shoots/${shoot}/grouping/commands`, method: 'POST', body: command }), invalidatesTags: ['Shoot', 'Shot', 'Shoots'] }),
    regroupStep: build.mutation<void, { shoot: string; direction: 'undo' | 'redo' }>({ query: ({ shoot, direction }) => ({ url: `shoots/${shoot}/grouping/${direction}`, method: 'POST' }), invalidatesTags: ['Shoot', 'Shot', 'Shoots'] }),
    mark: build.mutation<void, { shoot: string; frames: readonly string[]; marked: boolean }>({
      query: ({ shoot, frames, marked }) => ({ url: `shoots/${shoot}/marks`, method: 'POST', body: { frames, marked } }),
      onQueryStarted: ({ shoot, frames, marked }, { dispatch }) => void dispatch(markAtOnce(shoot, frames, marked)),
      invalidatesTags: ['Shoot'],
    }),
    wantFile: build.mutation<void, string>({ query: (frame) => ({ url: `frames/${frame}/want`, method: 'POST' }), invalidatesTags: ['Shoot', 'Shot'] }),
    deleteShoot: build.mutation<void, string>({ query: (id) => ({ url: `shoots/${id}`, method: 'DELETE' }), invalidatesTags: ['Shoots', 'Deliveries'] }),
    diskUse: build.query<{ originals: number; delivered: number; others: number }, string>({ query: (id) => `shoots/${id}/disk` }),
    duplicateShoot: build.mutation<{ id: string }, string>({ query: (id) => ({ url: `shoots/${id}/duplicate`, method: 'POST' }), invalidatesTags: ['Shoots', 'Deliveries'] }),
    restoreShoot: build.mutation<{ id: string; withoutFiles: number }, File>({ query: (body) => ({ url: 'shoots/archive', method: 'POST', body, headers: { 'Content-Type': 'application/zip' } }), invalidatesTags: ['Shoots', 'Deliveries'] }),
    deleteFrame: build.mutation<void, string>({ query: (id) => ({ url: `frames/${id}`, method: 'DELETE' }), invalidatesTags: ['Shoot', 'Shoots'] }),
    deleteDelivery: build.mutation<void, string>({ query: (id) => ({ url: `deliveries/${id}`, method: 'DELETE' }), invalidatesTags: ['Deliveries', 'Shoots'] }),
    starts: build.query<ShootStart, string>({ query: (shoot) => `shoots/${shoot}/start`, providesTags: ['Starts'] }),
    chooseStart: build.mutation<{ changed: number }, { shoot: string; start: Start; others: boolean }>({ query: ({ shoot, ...body }) => ({ url: `shoots/${shoot}/start`, method: 'PUT', body }), invalidatesTags: ['Starts'] }),
    letStay: build.mutation<{ stays: readonly Point[] }, { shot: string; at: Point; stays: boolean }>({ query: ({ shot, ...body }) => ({ url: `shots/${shot}/stays`, method: 'PUT', body }), invalidatesTags: ['Shot'] }),
    proposeAnew: build.mutation<void, string>({ query: (shot) => ({ url: `shots/${shot}/mix/anew`, method: 'POST' }), invalidatesTags: ['Shoot', 'Shot'] }),
    shot: build.query<ShotDetail, string>({ query: (id) => `shots/${id}`, providesTags: ['Shot'] }),
    versions: build.query<MixVersion[], string>({ query: (shot) => `shots/${shot}/versions`, providesTags: ['Versions'] }),
    version: build.query<MixVersion & { document: MixDocument }, { shot: string; version: string }>({ query: ({ shot, version }) => `shots/${shot}/versions/${version}`, providesTags: ['Versions'] }),
    history: build.query<MixHistory, string>({ query: (shot) => `shots/${shot}/history`, providesTags: ['History'] }),
    keepVersion: build.mutation<MixVersion, { shot: string; name: string }>({ query: ({ shot, name }) => ({ url: `shots/${shot}/versions`, method: 'POST', body: { name } }), invalidatesTags: ['Versions'] }),
    renameVersion: build.mutation<MixVersion, { shot: string; version: string; name: string }>({ query: ({ shot, version, name }) => ({ url: `shots/${shot}/versions/${version}`, method: 'PATCH', body: { name } }), invalidatesTags: ['Versions'] }),
    deleteVersion: build.mutation<void, { shot: string; version: string }>({ query: ({ shot, version }) => ({ url: `shots/${shot}/versions/${version}`, method: 'DELETE' }), invalidatesTags: ['Versions'] }),
    lens: build.query<LensView, string>({ query: (shot) => `shots/${shot}/lens`, providesTags: ['Lens'] }),
    keepLens: build.mutation<LensView, { shot: string; keep: boolean }>({ query: ({ shot, keep }) => ({ url: `shots/${shot}/lens`, method: keep ? 'PUT' : 'DELETE' }), invalidatesTags: ['Lens'] }),
    tables: build.query<KeptTable[], void>({ query: () => 'tables', providesTags: ['Tables'] }),
    addTable: build.mutation<KeptTable, { name: string; text: string }>({ query: ({ name, text }) => ({ url: 'tables', method: 'POST', params: { name }, body: text, headers: { 'Content-Type': 'text/plain', ...ASKED } }), invalidatesTags: ['Tables'] }),
    deleteTable: build.mutation<void, string>({ query: (digest) => ({ url: `tables/${digest}`, method: 'DELETE' }), invalidatesTags: ['Tables'] }),
    methods: build.query<KeptMethod[], void>({ query: () => 'methods', providesTags: ['Methods'] }),
    addMethod: build.mutation<KeptMethod, unknown>({ query: (body) => ({ url: 'methods', method: 'POST', body }), invalidatesTags: ['Methods'] }),
    updateMethod: build.mutation<KeptMethod, { id: string; method: Method }>({ query: ({ id, method }) => ({ url: `methods/${id}`, method: 'PUT', body: method }), invalidatesTags: ['Methods'] }),
    deleteMethod: build.mutation<void, string>({ query: (id) => ({ url: `methods/${id}`, method: 'DELETE' }), invalidatesTags: ['Methods'] }),
    orderMethods: build.mutation<KeptMethod[], readonly string[]>({ query: (ids) => ({ url: 'methods/order', method: 'PUT', body: { ids } }), invalidatesTags: ['Methods'] }),
    methodParts: build.query<MethodParts, string>({ query: (shot) => `shots/${shot}/method-parts` }),
    shootMethod: build.query<ShootMethod, string>({ query: (shoot) => `shoots/${shoot}/method`, providesTags: ['ShootMethod'] }),
    giveMethod: build.mutation<GivenMethod, { shoot: string; method: Method; strength: number; off: readonly PartName[]; shots: 'all' | readonly string[]; later: boolean }>({ query: ({ shoot, ...body }) => ({ url: `shoots/${shoot}/method`, method: 'POST', body }), invalidatesTags: ['Shot', 'History', 'ShootMethod'] }),
    takeMethodBack: build.mutation<{ back: number; tuned: number; left: number }, string>({ query: (run) => ({ url: `method-runs/${run}/back`, method: 'POST' }), invalidatesTags: ['Shot', 'History', 'ShootMethod'] }),
    orders: build.query<KeptOrder[], void>({ query: () => 'orders', providesTags: ['Orders'] }),
    addOrder: build.mutation<KeptOrder, unknown>({ query: (body) => ({ url: 'orders', method: 'POST', body }), invalidatesTags: ['Orders'] }),
    updateOrder: build.mutation<KeptOrder, { id: string; order: OrderAsFile }>({ query: ({ id, order }) => ({ url: `orders/${id}`, method: 'PUT', body: order }), invalidatesTags: ['Orders'] }),
    deleteOrder: build.mutation<void, string>({ query: (id) => ({ url: `orders/${id}`, method: 'DELETE' }), invalidatesTags: ['Orders'] }),
    namedPictures: build.query<{ readonly shot: string; readonly picture: NamedPicture }[], string>({ query: (shoot) => `shoots/${shoot}/named-pictures`, providesTags: ['Shoot', 'Wall'] }),
    wall: build.query<Wall, string>({ query: (shoot) => `shoots/${shoot}/wall`, providesTags: ['Wall'] }),
    reviewShot: build.mutation<void, { shoot: string; shot: string; state: ReviewState | null; note: string; revision: number }>({
      query: ({ shot, state, note, revision }) => ({ url: `shots/${shot}/review`, method: 'PUT', body: { state, note, revision } }),
      invalidatesTags: ['Wall', 'Shot', 'Shoots'],
    }),
    tour: build.mutation<void, { shoot: string; shots: readonly string[] }>({
      query: ({ shoot, shots }) => ({ url: `shoots/${shoot}/tour`, method: 'PUT', body: { shots } }),
      onQueryStarted: ({ shoot, shots }, { dispatch }) => void dispatch(tourAtOnce(shoot, shots)),
      invalidatesTags: ['Wall'],
    }),
    bringTogether: build.mutation<{ changed: number; alike: number; left: readonly { label: string; why: string }[] }, { shoot: string; shots: 'all' | readonly string[]; light: boolean; colour: boolean; strength: number }>({ query: ({ shoot, ...body }) => ({ url: `shoots/${shoot}/together`, method: 'POST', body }), invalidatesTags: ['Wall', 'Shot', 'History'] }),
    takeTogetherBack: build.mutation<{ back: number; left: number }, string>({ query: (run) => ({ url: `set-runs/${run}/back`, method: 'POST' }), invalidatesTags: ['Wall', 'Shot', 'History'] }),
    labels: build.query<string[], string>({ query: (shoot) => `shoots/${shoot}/labels`, providesTags: ['Shoot'] }),
    live: build.query<LiveView, void>({ query: () => 'live', providesTags: ['Live'] }),
    network: build.query<Network, void>({ query: () => 'keys', providesTags: ['Network'] }),
    makeKey: build.mutation<MadeKey, { name: string; opens: NetworkKey['opens'] }>({ query: (body) => ({ url: 'keys', method: 'POST', body }), invalidatesTags: ['Network'] }),
    revokeKey: build.mutation<void, string>({ query: (id) => ({ url: `keys/${id}`, method: 'DELETE' }), invalidatesTags: ['Network'] }),
    deliveries: build.query<Delivery[], void>({ query: () => 'deliveries', providesTags: ['Deliveries'] }),
    deliver: build.mutation<{ ids: string[] }, { shots: string[]; orders: readonly string[]; quality: number; folder?: string | null; receiver?: string | null }>({ query: (body) => ({ url: 'deliveries', method: 'POST', body }), invalidatesTags: ['Deliveries'] }),
    orderAhead: build.mutation<void, { shoot: string; orders: readonly string[]; folder: string | null; receiver: string | null }>({ query: ({ shoot, ...body }) => ({ url: `shoots/${shoot}/standing`, method: 'PUT', body }), invalidatesTags: ['Shoot'] }),
    dropOrderAhead: build.mutation<void, string>({ query: (shoot) => ({ url: `shoots/${shoot}/standing`, method: 'DELETE' }), invalidatesTags: ['Shoot'] }),
    deliverAgain: build.mutation<{ id: string }, string>({ query: (id) => ({ url: `deliveries/${id}/again`, method: 'POST' }), invalidatesTags: ['Deliveries'] }),
    batchAgain: build.mutation<{ batch: string; ids: string[] }, { id: string; orders: readonly string[] | null; folder: string | null; receiver: string | null }>({ query: ({ id, ...body }) => ({ url: `batches/${id}/again`, method: 'POST', body }), invalidatesTags: ['Deliveries', 'Forecast'] }),
    sendAgain: build.mutation<{ id: string }, string>({ query: (id) => ({ url: `deliveries/${id}/send`, method: 'POST' }), invalidatesTags: ['Deliveries'] }),
    batches: build.query<{ batches: readonly Batch[] }, void>({ query: () => 'batches', providesTags: ['Deliveries'] }),
    destinations: build.query<Destinations, void>({ query: () => 'destinations' }),
    changeBatch: build.mutation<Batch, { id: string; paused?: boolean; move?: 'first' | 'earlier' | 'later' }>({ query: ({ id, ...body }) => ({ url: `batches/${id}`, method: 'PATCH', body }), invalidatesTags: ['Deliveries', 'Forecast'] }),
    stopBatch: build.mutation<{ stopped: number }, string>({ query: (id) => ({ url: `batches/${id}/stop`, method: 'POST' }), invalidatesTags: ['Deliveries', 'Forecast'] }),
    retryBatch: build.mutation<{ again: number }, string>({ query: (id) => ({ url: `batches/${id}/retry`, method: 'POST' }), invalidatesTags: ['Deliveries', 'Forecast'] }),
    deleteBatch: build.mutation<void, string>({ query: (id) => ({ url: `batches/${id}`, method: 'DELETE' }), invalidatesTags: ['Deliveries', 'Shoots', 'Forecast'] }),
    forecast: build.query<Forecast, void>({ query: () => 'forecast', providesTags: ['Forecast'] }),
    planShoot: build.mutation<unknown, { id: string; dueAt?: string | null; handSeconds?: number | null }>({ query: ({ id, ...body }) => ({ url: `shoots/${id}`, method: 'PATCH', body }), invalidatesTags: ['Shoots', 'Shoot', 'Forecast'] }),
    retry: build.mutation<{ id: string }, string>({ query: (id) => ({ url: `deliveries/${id}/retry`, method: 'POST' }), invalidatesTags: ['Deliveries'] }),
  }),
});

/** The order of the tour shows before the server has answered. */
const tourAtOnce = (shoot: string, ids: readonly string[]) =>
  api.util.updateQueryData('wall', shoot, (draft) => {
    (draft.shots as WallShot[]).sort((a, b) => ids.indexOf(a.id) - ids.indexOf(b.id));
  });

/** A mark shows before the server has answered. */
const markAtOnce = (shoot: string, frames: readonly string[], marked: boolean) =>
  api.util.updateQueryData('shoot', shoot, (draft) => {
    for (const frame of draft.frames as { id: string; marked: boolean }[]) if (frames.includes(frame.id)) frame.marked = marked;
  });

export const { useNetworkQuery, useMakeKeyMutation, useRevokeKeyMutation, useTablesQuery, useAddTableMutation, useDeleteTableMutation, useSendAgainMutation, useBatchAgainMutation, useDiskUseQuery, useDuplicateShootMutation, useRestoreShootMutation, useBatchesQuery, useDestinationsQuery, useChangeBatchMutation, useStopBatchMutation, useRetryBatchMutation, useDeleteBatchMutation, useForecastQuery, usePlanShootMutation, useOrdersQuery, useAddOrderMutation, useUpdateOrderMutation, useDeleteOrderMutation, useNamedPicturesQuery, useWallQuery, useReviewShotMutation, useTourMutation, useBringTogetherMutation, useTakeTogetherBackMutation, useMethodsQuery, useAddMethodMutation, useUpdateMethodMutation, useDeleteMethodMutation, useOrderMethodsMutation, useMethodPartsQuery, useShootMethodQuery, useGiveMethodMutation, useTakeMethodBackMutation, useStartsQuery, useLetStayMutation, useChooseStartMutation, useShootsQuery, useShootQuery, useAddShootMutation, useLabelShotMutation, useRegroupMutation, useRegroupStepMutation, useMarkMutation, useWantFileMutation, useProposeAnewMutation, useShotQuery, useDeleteShootMutation, useDeleteFrameMutation, useDeleteDeliveryMutation, useVersionsQuery, useVersionQuery, useHistoryQuery, useKeepVersionMutation, useDeleteVersionMutation, useRenameVersionMutation, useLensQuery, useKeepLensMutation, useLabelsQuery, useLiveQuery, useDeliveriesQuery, useDeliverMutation, useOrderAheadMutation, useDropOrderAheadMutation, useDeliverAgainMutation, useRetryMutation } = api;
