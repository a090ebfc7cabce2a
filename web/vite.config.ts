import { svelte } from '@sveltejs/vite-plugin-svelte';
import tailwindcss from '@tailwindcss/vite';
import { defineConfig } from 'vitest/config';

const server = process.env.KIVREN_SERVER ?? 'http://127.0.0.1:5080';

export default defineConfig({
  plugins: [tailwindcss(), svelte()],
  // Below whatever address it is served.
  base: './',
  // Nothing becomes an address with its bytes in it: the server allows none.
  build: { chunkSizeWarningLimit: 1000, assetsInlineLimit: 0 },
  server: { proxy: { '/api': server, '/faces': server, '/live': { target: server, ws: true } } },
  test: { environment: 'jsdom', include: ['src/**/*.test.ts'] },
});
