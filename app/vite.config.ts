import tailwindcss from '@tailwindcss/vite';
import react from '@vitejs/plugin-react';
import { defineConfig } from 'vite';

export default defineConfig({
  plugins: [react(), tailwindcss()],
  worker: { format: 'es' },
  // Nothing is inlined as data: the page's security policy allows files of its own origin only.
  build: { assetsInlineLimit: 0, target: 'es2022', sourcemap: false, chunkSizeWarningLimit: 900 },
});
