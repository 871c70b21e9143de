import react from '@vitejs/plugin-react';
import { defineConfig } from 'vite';

export default defineConfig({
  plugins: [react()],
  resolve: { conditions: ['@loka/source', 'module', 'browser', 'development|production'] },
  server: { proxy: { '/api': { target: 'http://localhost:8420', changeOrigin: true } } },
  build: { chunkSizeWarningLimit: 700 },
});
