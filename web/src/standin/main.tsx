import '../app/styles';
import { createTheme, MantineProvider } from '@mantine/core';
import { StrictMode } from 'react';
import { createRoot } from 'react-dom/client';
import { Page } from './Page';

const theme = createTheme({
  fontFamily: 'var(--text)',
  fontFamilyMonospace: 'var(--mono)',
  primaryColor: 'dark',
  defaultRadius: 2,
});
const element = document.getElementById('root');
if (element)
  createRoot(element).render(
    <StrictMode>
      <MantineProvider theme={theme} forceColorScheme="light">
        <Page />
      </MantineProvider>
    </StrictMode>,
  );
