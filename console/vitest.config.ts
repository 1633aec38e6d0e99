import { svelte } from '@sveltejs/vite-plugin-svelte';
import { defineConfig } from 'vitest/config';

/** The state classes by themselves, without a page; how pages look and behave is tested in a browser. */
export default defineConfig({
  plugins: [svelte()],
  resolve: { conditions: ['browser'] },
  test: { include: ['test/**/*.test.ts'], environment: 'node', fakeTimers: { toFake: ['setTimeout', 'clearTimeout', 'Date'] } },
});
