import './app/styles';
import { registerSW } from 'virtual:pwa-register';
import { createTheme, MantineProvider } from '@mantine/core';
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { RouterProvider } from '@tanstack/react-router';
import { StrictMode } from 'react';
import { createRoot } from 'react-dom/client';
import { NoSignal, Refused } from './api/client';
import { startSending } from './api/device';
import { SessionProvider } from './api/session';
import { useLook } from './app/looks';
import { router } from './app/router';

const theme = createTheme({
  fontFamily: 'var(--text)',
  fontFamilyMonospace: 'var(--mono)',
  primaryColor: 'dark',
  defaultRadius: 2,
  components: {
    Modal: {
      defaultProps: {
        centered: true,
        overlayProps: { backgroundOpacity: 0.35 },
        transitionProps: { duration: 0 },
        closeButtonProps: { 'aria-label': 'Close' },
      },
    },
    Drawer: { defaultProps: { closeButtonProps: { 'aria-label': 'Close' } } },
    Select: { defaultProps: { allowDeselect: false, comboboxProps: { transitionProps: { duration: 0 } } } },
  },
});

const queries = new QueryClient({
  defaultOptions: {
    queries: {
      networkMode: 'always',
      retry: (n, e) => n < 1 && !(e instanceof Refused) && !(e instanceof NoSignal),
      refetchOnWindowFocus: true,
    },
    mutations: { networkMode: 'always' }, // else a mutation waits in silence while there is no network
  },
});

function App() {
  const look = useLook();
  return (
    <MantineProvider theme={theme} forceColorScheme={look === 'night' ? 'dark' : 'light'}>
      <SessionProvider>
        <RouterProvider router={router} />
      </SessionProvider>
    </MantineProvider>
  );
}

if (import.meta.env.PROD) registerSW({ immediate: true });
startSending();

const element = document.getElementById('root');
if (element)
  createRoot(element).render(
    <StrictMode>
      <QueryClientProvider client={queries}>
        <App />
      </QueryClientProvider>
    </StrictMode>,
  );
