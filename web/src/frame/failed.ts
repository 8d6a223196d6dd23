import { notifications } from '@mantine/notifications';

/** Says why the server did not do something. */
export const failed = (error: unknown): void => {
  const detail = (error as { data?: { detail?: string } }).data?.detail ?? 'The server does not answer; nothing that was saved is lost.';
  notifications.show({ color: 'red', title: 'Not done', message: detail });
};
