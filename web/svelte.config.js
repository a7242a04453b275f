import adapter from '@sveltejs/adapter-static';
import { vitePreprocess } from '@sveltejs/vite-plugin-svelte';

/** A single page served by the Python server: nothing is rendered on Node. */
export default {
	preprocess: vitePreprocess(),
	kit: {
		adapter: adapter({ fallback: 'index.html' }),
		alias: { $api: 'src/api', $ui: 'src/ui', $page: 'src/page', $player: 'src/player', $screens: 'src/screens' },
		typescript: {
			config: (config) => {
				// Types only: the package's own name a file that it does not ship.
				config.compilerOptions.paths.jassub = ['../src/player/jassub.types.d.ts'];
				return config;
			}
		},
		csp: {
			mode: 'hash',
			directives: {
				'default-src': ['self'],
				'script-src': ['self', 'wasm-unsafe-eval'],
				'style-src': ['self', 'unsafe-inline'],
				'worker-src': ['self', 'blob:'],
				'img-src': ['self', 'data:', 'blob:'],
				'media-src': ['self', 'blob:'],
				'object-src': ['none'],
				'base-uri': ['none']
			}
		}
	}
};
