import { Button, FileButton } from '@mantine/core';
import { notifications } from '@mantine/notifications';
import { useNavigate } from 'react-router';
import { failed } from '../frame/failed';
import { useRestoreShootMutation } from '../store/api';

/** Takes an archive of a shoot in. */
export function RestoreShoot() {
  const [restore, { isLoading }] = useRestoreShootMutation();
  const navigate = useNavigate();
  const take = async (file: File | null): Promise<void> => {
    if (!file) return;
    try {
      const { id, withoutFiles } = await restore(file).unwrap();
      if (withoutFiles > 0) notifications.show({ title: 'Restored without the camera’s files', message: `${withoutFiles} files are missing. Drop the card on the shoot to deliver from it.`, autoClose: false });
      void navigate(`/shoots/${id}`);
    } catch (error) {
      failed(error);
    }
  };
  return <FileButton accept=".zip,application/zip" onChange={(file) => void take(file)}>{(props) => <Button {...props} variant="default" loading={isLoading}>From an archive…</Button>}</FileButton>;
}
