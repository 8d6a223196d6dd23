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
import { lookForLeft } from './edits/mixEdits';
import { warmEngine } from './engine/engineWorker';
import { Frame } from './frame/Frame';
import { PageFault } from './frame/PageFault';
import { theme } from './frame/theme';
import { store } from './store/store';

// Each page is loaded when it is first opened: who opens a shot need not wait for the others.
const router = createBrowserRouter([
  {
    element: <Frame />,
    hydrateFallbackElement: <main className="page" />,
    children: [
      {
        errorElement: <PageFault />,
        children: [
          { path: '/', lazy: async () => ({ Component: (await import('./shoots/Shoots')).Shoots }) },
          { path: '/shoots/:shootId', lazy: async () => ({ Component: (await import('./gather/Gather')).Gather }) },
          { path: '/shoots/:shootId/wall', lazy: async () => ({ Component: (await import('./wall/Wall')).Wall }) },
          { path: '/shots/:shotId', lazy: async () => ({ Component: (await import('./desk/Desk')).Desk }) },
          { path: '/methods', lazy: async () => ({ Component: (await import('./methods/Methods')).Methods }) },
          { path: '/orders', lazy: async () => ({ Component: (await import('./orders/Orders')).Orders }) },
          { path: '/outbox', lazy: async () => ({ Component: (await import('./outbox/Outbox')).Outbox }) },
          { path: '/live', lazy: async () => ({ Component: (await import('./live/Live')).Live }) },
          { path: '*', element: <main className="page"><h1>There is nothing here</h1><p>Go back to the <a href="/">shoots</a>.</p></main> },
        ],
      },
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
