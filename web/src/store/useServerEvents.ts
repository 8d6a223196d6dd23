import { useEffect } from 'react';
import { api } from './api';
import { useAppDispatch } from './store';

/** Keeps what is shown true while the server works: each event invalidates what it is about. */
export function useServerEvents(): void {
  const dispatch = useAppDispatch();
  useEffect(() => {
    const source = new EventSource('/api/events');
    let pending = new Set<'Shoots' | 'Shoot' | 'Shot' | 'Deliveries' | 'Live'>();
    let timer: ReturnType<typeof setTimeout> | null = null;
    // A card of hundreds of files makes hundreds of events; the screen need not follow each.
    const flush = (): void => {
      timer = null;
      dispatch(api.util.invalidateTags([...pending]));
      pending = new Set();
    };
    source.onmessage = ({ data }) => {
      const { kind } = JSON.parse(data as string) as { kind: 'shoot' | 'shot' | 'delivery' };
      for (const tag of kind === 'delivery' ? (['Deliveries', 'Shoots'] as const) : kind === 'shot' ? (['Shoot', 'Shot', 'Shoots'] as const) : (['Shoot', 'Shoots', 'Live'] as const)) pending.add(tag);
      timer ??= setTimeout(flush, 250);
    };
    // After the server was away anything may have changed.
    source.onopen = () => dispatch(api.util.invalidateTags(['Shoots', 'Shoot', 'Deliveries', 'Live']));
    return () => {
      source.close();
      if (timer) clearTimeout(timer);
    };
  }, [dispatch]);
}
