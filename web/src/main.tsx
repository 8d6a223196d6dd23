import '@fontsource-variable/inter/index.css';
import '@fontsource-variable/source-serif-4/index.css';
import '@mantine/core/styles.css';
import '@mantine/notifications/styles.css';
import './frame/style.css';
import { MantineProvider } from '@mantine/core';
import { Notifications } from '@mantine/notifications';
import { StrictMode } from 'react';
import { createRoot } from 'react-dom/client';
import { Provider } from 'react-redux';
import { createBrowserRouter, RouterProvider } from 'react-router';
import { Desk } from './desk/Desk';
import { lookForLeft } from './edits/mixEdits';
import { warmEngine } from './engine/engineWorker';
import { Frame } from './frame/Frame';
import { theme } from './frame/theme';
import { Gather } from './gather/Gather';
import { Live } from './live/Live';
import { Outbox } from './outbox/Outbox';
import { Shoots } from './shoots/Shoots';
import { store } from './store/store';

const router = createBrowserRouter([
  {
    element: <Frame />,
    children: [
      { path: '/', element: <Shoots /> },
      { path: '/shoots/:shootId', element: <Gather /> },
      { path: '/shots/:shotId', element: <Desk /> },
      { path: '/outbox', element: <Outbox /> },
      { path: '/live', element: <Live /> },
      { path: '*', element: <main className="page"><h1>There is nothing here</h1><p>Go back to the <a href="/">shoots</a>.</p></main> },
    ],
  },
]);

lookForLeft();
// Who comes straight to a shot wants its picture: the worker starts while the page does.
if (location.pathname.startsWith('/shots/')) warmEngine();

createRoot(document.getElementById('root')!).render(
  <StrictMode>
    <MantineProvider theme={theme} forceColorScheme="light">
      <Provider store={store}>
        <Notifications position="top-right" />
        <RouterProvider router={router} />
      </Provider>
    </MantineProvider>
  </StrictMode>,
);
