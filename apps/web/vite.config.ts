import tailwindcss from '@tailwindcss/vite';
import react from '@vitejs/plugin-react';
import { defineConfig } from 'vite';
import { engraverFile } from './engraverFile.js';

export default defineConfig({
  plugins: [react(), tailwindcss()],
  worker: { format: 'es', plugins: () => [engraverFile()] },
  build: { target: 'es2022', chunkSizeWarningLimit: 9000 },
  server: { proxy: { '/api': { target: 'http://127.0.0.1:4173', changeOrigin: true } } },
});
