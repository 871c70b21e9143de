import react from '@vitejs/plugin-react';
import { defineConfig } from 'vite';

export default defineConfig({
  plugins: [react()],
  resolve: { conditions: ['@loka/source', 'module', 'browser', 'development|production'] },
  server: { proxy: { '/api': { target: 'http://localhost:8420', changeOrigin: true } } },
  build: {
    chunkSizeWarningLimit: 700,
    // What many screens share comes as one file: in files of its own each screen asked for sixty and more, most of them tiny.
    rolldownOptions: { output: { codeSplitting: { groups: [{ name: 'common', minShareCount: 12 }] } } },
  },
});
