import { notifications } from '@mantine/notifications';
import { useEffect, useState } from 'react';
import { comparedWith } from '../store/deskSlice';
import { useAppDispatch } from '../store/store';
import type { ClientPicture } from './ComparedPicture';

interface ClientPictureHeld {
  readonly client: ClientPicture | null;
  readonly takeClient: (file: File) => void;
  /** It is no picture that can be shown: said, and put away. */
  readonly brokenClient: () => void;
}

/** A client's picture that was dropped in, to be compared with. */
export function useClientPicture(): ClientPictureHeld {
  const [client, setClient] = useState<ClientPicture | null>(null);
  const dispatch = useAppDispatch();
  useEffect(() => () => { if (client) URL.revokeObjectURL(client.url); }, [client]);
  const takeClient = (file: File): void => {
    setClient({ name: file.name, url: URL.createObjectURL(file) });
    dispatch(comparedWith('client'));
  };
  const brokenClient = (): void => {
    notifications.show({ color: 'red', title: 'Not opened', message: `${client?.name ?? 'This'} is no picture that this browser can show. Save it as JPEG or PNG and try again.` });
    setClient(null);
    dispatch(comparedWith('before'));
  };
  return { client, takeClient, brokenClient };
}
