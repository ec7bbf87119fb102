import '@mantine/core/styles.css';
import '@fontsource/barlow-condensed/latin-600.css';
import '@fontsource/barlow-condensed/latin-700.css';
import '@fontsource/barlow-semi-condensed/latin-500.css';
import '@fontsource/barlow-semi-condensed/latin-600.css';
import '@fontsource/ibm-plex-mono/latin-600.css';
import '@fontsource/ibm-plex-mono/latin-700.css';
import '../app/theme.css';
import { createTheme, MantineProvider } from '@mantine/core';
import { StrictMode } from 'react';
import { createRoot } from 'react-dom/client';
import { Page } from './Page';

const theme = createTheme({ fontFamily: 'var(--text)', fontFamilyMonospace: 'var(--mono)', primaryColor: 'dark', defaultRadius: 2 });
const element = document.getElementById('root');
if (element)
  createRoot(element).render(
    <StrictMode>
      <MantineProvider theme={theme} forceColorScheme="light">
        <Page />
      </MantineProvider>
    </StrictMode>,
  );
