import { Modal, Table } from '@mantine/core';
import { useDisclosure } from '@mantine/hooks';
import { useHotkeys } from 'react-hotkeys-hook';
import { Link, NavLink, Outlet } from 'react-router';
import { NetworkSign } from '../network/NetworkSign';
import { useDeliveriesQuery } from '../store/api';
import { useServerEvents } from '../store/useServerEvents';
import { SHORTCUTS } from './shortcuts';

/** What surrounds every page: the bar on top, and the list of keys behind `?`. */
export function Frame() {
  useServerEvents();
  const [shown, { toggle, close }] = useDisclosure(false);
  useHotkeys('shift+slash', toggle, { useKey: false });
  const { data: deliveries = [] } = useDeliveriesQuery();
  const open = deliveries.filter((d) => d.state === 'waiting' || d.state === 'running').length;
  return (
    <div className="app">
      <header className="bar">
        <Link className="mark" to="/">Zaddle</Link>
        <nav aria-label="Main">
          <NavLink to="/" end>Shoots</NavLink>
          <NavLink to="/live">Live</NavLink>
          <NavLink to="/methods">Methods</NavLink>
          <NavLink to="/orders">Orders</NavLink>
          <NavLink to="/outbox">Outbox{open > 0 ? ` (${open})` : ''}</NavLink>
        </nav>
        <div className="right" id="bar-right" />
        <NetworkSign />
        <button className="flat" onClick={toggle} aria-label="Keys">?</button>
      </header>
      <Outlet />
      <Modal opened={shown} onClose={close} title="Keys">
        {Object.entries(SHORTCUTS).map(([page, list]) => (
          <section key={page}>
            <h3 style={{ margin: '8px 0' }}>{page}</h3>
            <Table>
              <Table.Tbody>
                {list.map(({ keys, what }) => (
                  <Table.Tr key={keys}><Table.Td><kbd>{keys}</kbd></Table.Td><Table.Td>{what}</Table.Td></Table.Tr>
                ))}
              </Table.Tbody>
            </Table>
          </section>
        ))}
      </Modal>
    </div>
  );
}
