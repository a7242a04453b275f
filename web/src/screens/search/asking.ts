/** A search as text: its words, then each filter by name. The server reads it; this only writes it. */
import type { Asked } from '$api/client';

const named = (name: string, value: string | null) => (value ? [`${name}:${/\s/.test(value) ? `"${value}"` : value}`] : []);

/** The text of a search, some of it changed. */
export function typedWith(asked: Asked, change: Partial<Asked>): string {
	const now = { ...asked, ...change };
	return [
		...(now.bare ? [now.bare] : []),
		...named('by', now.by),
		...named('in', now.series),
		...named('after', now.after),
		...named('before', now.before),
		...(now.used === null ? [] : [`used:${now.used ? 'yes' : 'no'}`]),
		...(now.wide ? ['wide:yes'] : []),
		...(now.by_meaning ? [] : ['meaning:no'])
	].join(' ');
}
