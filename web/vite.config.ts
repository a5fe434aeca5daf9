import vue from '@vitejs/plugin-vue';
import { defineConfig } from 'vite';
import vuetify from 'vite-plugin-vuetify';

export default defineConfig({
  plugins: [vue(), vuetify({ autoImport: true })],
  build: { target: 'es2022', chunkSizeWarningLimit: 700 },
  // Where `npm run dev` has its server; else the demo's.
  server: { proxy: { '/api': process.env.BOLD_COMPASS_API ?? 'http://127.0.0.1:4600' } },
});
