import tailwindcss from '@tailwindcss/vite';
import react from '@vitejs/plugin-react';
import { defineConfig, type Plugin } from 'vite';
import { VitePWA } from 'vite-plugin-pwa';

/** Told apart by the page, which offers a newer build when the server has one. */
const build = Date.now().toString(36);

/** Writes which build this is beside it. */
const version: Plugin = {
  name: 'version',
  apply: 'build',
  generateBundle() {
    const source = JSON.stringify({ app: 'long-tally', build });
    this.emitFile({ type: 'asset', fileName: 'version.json', source });
  },
};

/** Keeps the whole application in the browser, so that it opens with its server stopped; a newer build waits until it is taken. */
const offline = VitePWA({
  registerType: 'prompt',
  injectRegister: false,
  manifest: {
    name: 'Long Tally',
    short_name: 'Long Tally',
    description: 'The audit book of an installed home battery. Your data stay on this machine.',
    start_url: '/',
    display: 'standalone',
    background_color: '#fbf8f1',
    theme_color: '#fbf8f1',
    icons: [
      { src: '/icon-192.png', sizes: '192x192', type: 'image/png' },
      { src: '/icon-512.png', sizes: '512x512', type: 'image/png' },
      { src: '/mark.svg', sizes: 'any', type: 'image/svg+xml' },
    ],
  },
  workbox: {
    globPatterns: ['**/*.{js,css,html,woff2,svg,png}'],
    maximumFileSizeToCacheInBytes: 8_000_000,
    navigateFallback: '/index.html',
    // What the server alone knows is asked of it.
    navigateFallbackDenylist: [/^\/demo-homes\//, /^\/version\.json$/],
  },
});

export default defineConfig({
  plugins: [react(), tailwindcss(), version, offline],
  define: { __BUILD__: JSON.stringify(build) },
  worker: { format: 'es' },
  // Nothing is inlined as data: the page's security policy allows files of its own origin only.
  build: { assetsInlineLimit: 0, target: 'es2022', sourcemap: false, chunkSizeWarningLimit: 900 },
});
