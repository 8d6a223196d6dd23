import { randomUUID } from 'node:crypto';
import { told, type Answer } from './ask';

/** A request as a page or a program makes it. `:name` in the path stands for an id. */
export interface PlainRequest {
  readonly method: 'GET' | 'POST' | 'PUT' | 'PATCH' | 'DELETE';
  readonly path: string;
  readonly body?: unknown;
}
type Asking = (method: string, path: string, body?: Buffer | object | null) => Promise<Answer>;

/** Ids of one of everything that a server keeps. */
export interface Ids {
  readonly shoot: string;
  readonly shot: string;
  readonly frames: readonly string[];
  readonly hashes: readonly string[];
  readonly delivery: string;
  readonly batch: string;
  readonly order: string;
  readonly method: string;
  readonly version: string;
  readonly table: string;
  readonly document: { readonly passes: readonly { readonly id: string; readonly name: string; readonly [key: string]: unknown }[]; readonly frames: Readonly<Record<string, object>>; readonly [key: string]: unknown };
  readonly keptOrder: object;
  readonly keptMethod: object;
  /** A method as it is given to a shoot. */
  readonly plainMethod: object;
}

/** A small colour table (.cube) that does nothing. */
export const NEUTRAL_CUBE = 'LUT_3D_SIZE 2\n0 0 0\n1 0 0\n0 1 0\n1 1 0\n0 0 1\n1 0 1\n0 1 1\n1 1 1\n';

/** Has a server keep one of everything, beside a shoot that shows its picture. @throws Error naming what it refused */
export async function oneOfEverything(ask: Asking, shoot: string): Promise<Ids> {
  const say = async <T>(method: string, path: string, body: Buffer | object | null = null): Promise<T> => {
    const answer = await ask(method, path, body);
    const value = told<T>(answer);
    if (value === null) throw new Error(`${method} ${path} was refused: ${answer.status} ${answer.body.toString().slice(0, 300)}`);
    return value;
  };
  const { shots, frames } = await say<{ shots: { id: string }[]; frames: { id: string; sha256: string }[] }>('GET', `/api/shoots/${shoot}`);
  const shot = shots[0].id;
  const { mix } = await say<{ mix: { document: Ids['document'] } }>('GET', `/api/shots/${shot}`);
  const { ids, batch } = await say<{ ids: string[]; batch: string }>('POST', '/api/deliveries', { shots: [shot], orders: ['web'] });
  const { digest } = await say<{ digest: string }>('POST', '/api/tables?name=Neutral', Buffer.from(NEUTRAL_CUBE));
  const kept = await say<{ id: string }>('POST', '/api/orders', { format: 'zaddle-order', version: 1, name: 'Agent', file: 'jpeg', longerSide: 800, quality: 85, words: { title: '', creator: '', copyright: '' } });
  const keptOrder = await say<object>('GET', `/api/orders/${kept.id}/file`);
  const shipped = await say<{ id: string; method: object }[]>('GET', '/api/methods');
  const keptMethod = { ...(await say<object>('GET', `/api/methods/${shipped[0].id}/file`)) };
  const method = await say<{ id: string }>('POST', '/api/methods', keptMethod);
  const version = await say<{ id: string }>('POST', `/api/shots/${shot}/versions`, { name: 'Before' });
  return { shoot, shot, frames: frames.map(({ id }) => id), hashes: frames.map(({ sha256 }) => sha256), delivery: ids[0], batch, order: kept.id, method: method.id, version: version.id, table: digest, document: mix.document, keptOrder, keptMethod, plainMethod: shipped[0].method };
}

/** What may be done to a mix, each kind once or more. */
function commandsOf({ document, frames }: Ids): object[] {
  const pass = document.passes[0];
  const frame = Object.keys(document.frames)[0];
  const brush = { id: 'area-a', kind: 'brush', join: 'add', inverted: false, strokes: [{ points: [[0.1, 0.2], [0.3, 0.4]], radius: 0.05, softness: 0.5, strength: 1, reveal: true }] };
  const outline = { id: 'area-b', kind: 'outline', join: 'add', inverted: false, softness: 0.01, rings: [[[0.1, 0.1], [0.5, 0.1], [0.3, 0.4]].map((at) => ({ at, before: null, after: null }))] };
  return [
    { kind: 'changePass', id: pass.id, changes: { opacity: 0.5, name: 'Base' } }, { kind: 'changePass', id: pass.id, changes: { mask: [brush, outline] } },
    { kind: 'addPass', pass: { ...pass, id: `pass-${randomUUID().slice(0, 8)}` }, index: 1 }, { kind: 'removePass', id: document.passes.at(-1)!.id }, { kind: 'movePass', id: pass.id, index: 1, within: null },
    { kind: 'addArea', pass: pass.id, area: outline, index: 0 }, { kind: 'removeArea', pass: pass.id, area: 'area-b' }, { kind: 'addStroke', pass: pass.id, area: 'area-a', stroke: brush.strokes[0] }, { kind: 'removeStroke', pass: pass.id, area: 'area-a', index: 0 },
    { kind: 'several', commands: [{ kind: 'changePass', id: pass.id, changes: { exposure: 0.5 } }, { kind: 'changeMix', changes: { lens: document.lens } }] },
    { kind: 'addFrame', id: frames.at(-1), use: document.frames[frame] }, { kind: 'removeFrame', id: frame }, { kind: 'changeFrame', id: frame, changes: { stops: 1, balance: [1, 1, 1] } },
    ...Object.keys(document).filter((key) => !['version', 'passes', 'frames'].includes(key)).map((key) => ({ kind: 'changeMix', changes: { [key]: document[key] } })),
  ];
}

/** Every request that a server answers, as it is meant to be: what is mutated. Paths name what they stand for, so that a test can hold them against the routes. */
export function everyRequest(ids: Ids): PlainRequest[] {
  const { shot, frames, hashes, order, version, keptOrder, keptMethod } = ids;
  const asked = { shots: [shot], orders: ['web', order], quality: 90 };
  const get = (...paths: string[]): PlainRequest[] => paths.map((path) => ({ method: 'GET', path }));
  const bare = (method: PlainRequest['method'], ...paths: string[]): PlainRequest[] => paths.map((path) => ({ method, path }));
  return [
    ...get('/health', '/shoots', '/shoots/:shoot', '/shoots/:shoot/labels', '/shoots/:shoot/disk', '/shoots/:shoot/archive', '/shoots/:shoot/wall', '/shoots/:shoot/named-pictures', '/shoots/:shoot/method', '/shoots/:shoot/start', '/forecast', '/live', '/events'),
    ...get('/shots/:shot', '/shots/:shot/found', '/shots/:shot/wide', '/shots/:shot/history', '/shots/:shot/lens', '/shots/:shot/method-parts', '/shots/:shot/preview', '/shots/:shot/versions', '/shots/:shot/versions/:version', '/frames/:frame/thumbnail', '/frames/:frame/picture', '/frames/:frame/proxy', '/frames/:frame/pixels'),
    ...get('/deliveries', '/deliveries/:delivery/file', '/batches', '/batches/:batch/archive', '/destinations', '/orders', '/orders/:order/file', '/methods', '/methods/:method/file', '/tables', '/tables/:table', '/keys', '/lend/hello', '/lend/originals/:hash', '/lend/derived/:kind/:frame'),
    ...commandsOf(ids).map((body): PlainRequest => ({ method: 'POST', path: '/shots/:shot/mix/commands', body })),
    { method: 'POST', path: '/shoots', body: { name: 'A house', address: '1 Lock Road', dueAt: '2030-12-01T07:00:00Z' } },
    { method: 'PATCH', path: '/shoots/:shoot', body: { dueAt: '2030-12-01T07:00:00Z', handSeconds: 120 } },
    { method: 'POST', path: '/shoots/:shoot/frames?name=A.JPG', body: 'a file that is no picture' },
    { method: 'POST', path: '/shoots/:shoot/frames/known', body: { hashes } },
    { method: 'PATCH', path: '/shots/:shot', body: { label: 'Kitchen' } },
    { method: 'POST', path: '/shoots/archive', body: 'a file that is no archive' },
    ...bare('POST', '/shoots/:shoot/duplicate', '/shoots/:shoot/grouping/undo', '/shoots/:shoot/grouping/redo', '/shots/:shot/mix/undo', '/shots/:shot/mix/redo', '/shots/:shot/mix/anew', '/deliveries/:delivery/retry', '/deliveries/:delivery/send', '/deliveries/:delivery/again', '/batches/:batch/stop', '/batches/:batch/retry', '/batches/:batch/again', '/method-runs/:nothing/back', '/set-runs/:nothing/back', '/frames/:frame/want'),
    ...[{ kind: 'move', frames: frames.slice(0, 1), to: shot }, { kind: 'gather', frames: frames.slice(0, 2) }, { kind: 'split', before: frames[1] }, { kind: 'join', shots: [shot] }, { kind: 'singles', shot }, { kind: 'every', frames, count: 3 }, { kind: 'drop', frames: frames.slice(0, 1) }].map((body): PlainRequest => ({ method: 'POST', path: '/shoots/:shoot/grouping/commands', body })),
    { method: 'POST', path: '/shoots/:shoot/marks', body: { frames, marked: true } },
    { method: 'POST', path: '/shots/:shot/mix/reference', body: { frame: frames[0] } },
    { method: 'POST', path: '/shots/:shot/mix/version', body: { version } },
    { method: 'POST', path: '/shots/:shot/versions', body: { name: 'Calm' } },
    { method: 'PATCH', path: '/shots/:shot/versions/:version', body: { name: 'Calmer' } },
    { method: 'PUT', path: '/shots/:shot/stays', body: { at: [0.5, 0.5], stays: true } },
    { method: 'PUT', path: '/shots/:shot/review', body: { state: 'approved', note: 'Fine', revision: 1 } },
    { method: 'PUT', path: '/shots/:shot/lens', body: {} },
    { method: 'PUT', path: '/shoots/:shoot/tour', body: { shots: [shot] } },
    { method: 'PUT', path: '/shoots/:shoot/start', body: { start: 'airy', others: true } },
    { method: 'POST', path: '/shoots/:shoot/together', body: { shots: 'all', light: true, colour: true, strength: 0.5 } },
    { method: 'POST', path: '/shoots/:shoot/method', body: { method: ids.plainMethod, strength: 1, off: [], shots: 'all', later: false } },
    { method: 'PUT', path: '/shoots/:shoot/standing', body: { orders: ['web'], quality: 90, folder: null, receiver: null } },
    { method: 'POST', path: '/deliveries', body: asked },
    { method: 'POST', path: '/batches/:batch/again', body: { orders: ['web'], folder: null, receiver: null } },
    { method: 'POST', path: '/deliveries/:delivery/again', body: { orders: [order], folder: 'Agent', receiver: null } },
    { method: 'PATCH', path: '/batches/:batch', body: { paused: true, move: 'first' } },
    { method: 'POST', path: '/orders', body: keptOrder }, { method: 'PUT', path: '/orders/:order', body: keptOrder },
    { method: 'POST', path: '/methods', body: keptMethod }, { method: 'PUT', path: '/methods/:method', body: keptMethod }, { method: 'PUT', path: '/methods/order', body: { ids: [ids.method] } },
    { method: 'POST', path: '/tables?name=Neutral', body: NEUTRAL_CUBE },
    { method: 'POST', path: '/keys', body: { name: 'Tablet', opens: 'pages' } },
    { method: 'PUT', path: '/lend/derived/:kind/:frame', body: 'a picture' },
    ...bare('POST', '/lend/deliveries/:delivery/folder'),
    // What takes away is asked of what is not there, or is kept twice.
    ...bare('DELETE', '/keys/:nothing', '/lend/derived/:kind/:frame', '/shoots/:nothing', '/shoots/:shoot/standing', '/frames/:nothing', '/shots/:nothing/lens', '/shots/:nothing/versions/:version', '/deliveries/:nothing', '/batches/:nothing', '/orders/:nothing', '/methods/:nothing', '/tables/:nothing'),
  ];
}

/** A path with ids put in. */
export const pathOf = (path: string, ids: Ids): string => path.replace(/:(\w+)/g, (_, name: string) => ({ frame: ids.frames[0], hash: ids.hashes[0], kind: 'proxy', nothing: randomUUID() })[name] ?? String((ids as unknown as Record<string, unknown>)[name]));
