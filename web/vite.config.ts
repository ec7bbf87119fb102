import react from '@vitejs/plugin-react';
import { VitePWA } from 'vite-plugin-pwa';
import { defineConfig } from 'vitest/config';

export default defineConfig({
  plugins: [
    react(),
    VitePWA({
      strategies: 'generateSW',
      registerType: 'autoUpdate',
      injectRegister: false, // registered from main.tsx: no inline script, so the content policy stays strict
      manifest: {
        name: 'Dynacor',
        short_name: 'Dynacor',
        start_url: '/',
        display: 'standalone',
        background_color: '#F4EDDD',
        theme_color: '#0E2E37',
        icons: [{ src: '/icon.svg', sizes: 'any', type: 'image/svg+xml', purpose: 'any' }],
      },
      workbox: {
        globPatterns: ['**/*.{js,css,html,svg,woff2,wasm}'],
        globIgnores: ['standin.html', 'assets/standin-*', 'contract.html', 'assets/contract-*'],
        maximumFileSizeToCacheInBytes: 8 * 1024 * 1024,
        navigateFallback: '/index.html',
        navigateFallbackDenylist: [/^\/(api|readyz|healthz|metrics)(\/|$)/, /^\/contract\.html$/],
        cleanupOutdatedCaches: true,
        clientsClaim: true,
        skipWaiting: true,
        runtimeCaching: [
          {
            // What was looked at last stays readable without network. Runs have their own store; sign-in is never cached.
            urlPattern: ({ url, request }) =>
              request.method === 'GET' && /^\/api\/(today|joints|tools|library|people|packages)/.test(url.pathname),
            handler: 'NetworkFirst',
            options: { cacheName: 'read', networkTimeoutSeconds: 5, expiration: { maxEntries: 200 } },
          },
        ],
      },
    }),
  ],
  build: {
    target: 'es2023',
    reportCompressedSize: false,
    emptyOutDir: true,
    rolldownOptions: {
      // the page of the simulated tools is served by themselves
      input: { main: 'index.html', standin: 'standin.html', contract: 'contract.html' },
      output: {
        codeSplitting: {
          groups: [
            { name: 'react', test: /node_modules\/(react|react-dom|scheduler)\// },
            { name: 'tanstack', test: /node_modules\/@tanstack\// },
          ],
        },
      },
    },
  },
  test: { environment: 'node', pool: 'threads', maxWorkers: 2, include: ['src/**/*.test.{ts,tsx}'] },
  server: { proxy: { '/api': 'http://127.0.0.1:8080' } },
});
