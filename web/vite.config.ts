import { sveltekit } from '@sveltejs/kit/vite';
import { defineConfig } from 'vitest/config';

export default defineConfig({
	plugins: [sveltekit()],
	build: { chunkSizeWarningLimit: 1200 },
	test: { include: ['src/**/*.test.ts'] }
});
