import { useEffect } from 'react';
import { knownRevision } from '../edits/mixEdits';
import { api } from './api';
import { useAppDispatch } from './store';

type Tag = 'Tables' | 'Wall' | 'Shoots' | 'Shoot' | 'Shot' | 'Deliveries' | 'Live' | 'Versions' | 'Methods' | 'Orders' | 'Forecast' | 'Network';
type ServerEvent = { readonly kind: 'shoot' | 'shot' | 'delivery' | 'methods' | 'orders' | 'tables' | 'wall' | 'keys' } | { readonly kind: 'mix'; readonly shot: string; readonly revision: number };

/** What a page may show that an event is about. A change that was made in this window is known here already. */
function tagsOf(event: ServerEvent): readonly Tag[] {
  if (event.kind === 'mix') return (knownRevision(event.shot) ?? Infinity) < event.revision ? ['Shot', 'Wall'] : ['Wall'];
  if (event.kind === 'wall') return ['Wall', 'Forecast'];
  if (event.kind === 'delivery') return ['Deliveries', 'Shoots', 'Forecast'];
  if (event.kind === 'methods') return ['Methods'];
  if (event.kind === 'tables') return ['Tables'];
  if (event.kind === 'keys') return ['Network'];
  if (event.kind === 'orders') return ['Orders'];
  return event.kind === 'shot' ? ['Shoot', 'Shot', 'Shoots', 'Versions', 'Wall', 'Forecast'] : ['Shoot', 'Shoots', 'Live', 'Wall', 'Forecast'];
}
/** Milliseconds until a page that was just opened stands. */
const STANDING = 2000;
/** After the server was away, or nobody listened, anything may have changed. */
const ALL: readonly Tag[] = ['Tables', 'Wall', 'Shoots', 'Shoot', 'Shot', 'Deliveries', 'Live', 'Versions', 'Methods', 'Orders', 'Forecast', 'Network'];

/** Events as windows of this browser pass them on: a browser has six connections to a server, so one window listens for all. */
const CHANNEL = 'zaddle.events';
const LISTENER = 'zaddle.listener';

/** Listens to the server, for all windows, as long as this window is the one whose turn it is. */
function listenForAll(signal: AbortSignal, tell: (tags: readonly Tag[] | ServerEvent) => void): void {
  const listen = (): Promise<void> =>
    new Promise((resolve) => {
      const source = new EventSource('/api/events');
      source.onmessage = ({ data }) => tell(JSON.parse(data as string) as ServerEvent);
      // What this page has read itself is no older than a moment: that is looked at again once the page stands.
      let first = true;
      source.onopen = () => {
        setTimeout(() => tell(ALL), first ? STANDING : 0);
        first = false;
      };
      signal.addEventListener('abort', () => {
        source.close();
        resolve();
      });
    });
  // A page that came over a line which is not encrypted has no locks: there each window listens for itself.
  if (!navigator.locks) return void listen();
  void navigator.locks.request(LISTENER, { signal }, listen).catch(() => undefined);
}

/** Keeps what is shown true while the server works: each event invalidates what it is about. */
export function useServerEvents(): void {
  const dispatch = useAppDispatch();
  useEffect(() => {
    const ending = new AbortController();
    const channel = new BroadcastChannel(CHANNEL);
    let pending = new Set<Tag>();
    let timer: ReturnType<typeof setTimeout> | null = null;
    // A card of hundreds of files makes hundreds of events; the screen need not follow each.
    const flush = (): void => {
      timer = null;
      dispatch(api.util.invalidateTags([...pending]));
      pending = new Set();
    };
    const hear = (told: readonly Tag[] | ServerEvent): void => {
      const tags = 'kind' in told ? tagsOf(told) : told;
      if (tags.length === 0) return;
      tags.forEach((tag) => pending.add(tag));
      timer ??= setTimeout(flush, 250);
    };
    channel.onmessage = ({ data }) => hear(data as readonly Tag[] | ServerEvent);
    listenForAll(ending.signal, (told) => {
      channel.postMessage(told);
      hear(told);
    });
    return () => {
      ending.abort();
      channel.close();
      if (timer) clearTimeout(timer);
    };
  }, [dispatch]);
}
