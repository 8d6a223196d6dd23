import { Modal } from '@mantine/core';
import { useDisclosure } from '@mantine/hooks';
import { useNetworkQuery } from '../store/api';
import { NetworkKeys } from './NetworkKeys';

/** Says in the bar on top of every page that this Zaddle can be reached from the network, and by whom; nothing where it cannot. */
export function NetworkSign() {
  const [shown, { open, close }] = useDisclosure(false);
  const { data } = useNetworkQuery();
  if (!data || data.addresses.length === 0) return null;
  return (
    <>
      <button className="network-sign" onClick={open}>{data.away ? 'Over the network' : 'Network: open'}</button>
      <Modal opened={shown} onClose={close} title="Network" size="lg">
        <NetworkKeys network={data} />
      </Modal>
    </>
  );
}
