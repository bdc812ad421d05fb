import tailwindcss from '@tailwindcss/vite';
import react from '@vitejs/plugin-react';
import { defineConfig, type Plugin } from 'vite';

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

export default defineConfig({
  plugins: [react(), tailwindcss(), version],
  define: { __BUILD__: JSON.stringify(build) },
  worker: { format: 'es' },
  // Nothing is inlined as data: the page's security policy allows files of its own origin only.
  build: { assetsInlineLimit: 0, target: 'es2022', sourcemap: false, chunkSizeWarningLimit: 900 },
});
