/** What is done with posts: each asks the server, tells what it said, and has the posts read again. */
import { api, ask, type Post } from '$api/client';
import { house } from '$api/house.svelte';

export type Wanted = { quote_id: number; destination: string; account_id?: number | null; wall?: string; visibility?: Post['visibility'] };

const path = (post: Post) => ({ path: { post_id: post.id } });

async function done<T>(what: () => Promise<T>): Promise<T | undefined> {
	const answer = await house.trying(what);
	await house.refreshPosts();
	return answer;
}

function telling(notes: string[]): void {
	for (const note of notes) house.tell('good', note);
}

export async function plan(wanted: Wanted): Promise<Post | undefined> {
	const planned = await done(() => ask(api.POST('/api/posts', { body: { visibility: 'public', ...wanted } })));
	telling(planned?.notes ?? []);
	return planned?.posts[0];
}

export async function move(post: Post, wall: string): Promise<boolean> {
	const planned = await done(() => ask(api.PUT('/api/posts/{post_id}/when', { params: path(post), body: { wall } })));
	telling(planned?.notes ?? []);
	return planned !== undefined;
}

export const describe = (post: Post, account_id: number | null, visibility: Post['visibility']): Promise<Post | undefined> =>
	done(() => ask(api.PUT('/api/posts/{post_id}', { params: path(post), body: { account_id, visibility } })));

/** Schedules a post, or sends it at once. Where the same was posted there before, it is asked whether it is meant. */
export async function schedule(post: Post, now: boolean, again = false): Promise<Post | undefined> {
	const { data, error } = await api.POST('/api/posts/{post_id}/schedule', { params: path(post), body: { now, again } });
	await house.refreshPosts();
	if (error?.code === 'posted-twice' && !again) {
		house.tell('bad', error.detail, { name: 'Post again', run: () => void schedule(post, now, true) });
	} else if (error) house.tell('bad', error.detail);
	else if (data) house.tell('good', now ? `Posting ${data.destination_name} of “${data.quote_title}”.` : `Scheduled for ${data.wall.slice(0, 16).replace('T', ', ')}.`);
	return data;
}

export const hold = (post: Post): Promise<Post | undefined> => done(() => ask(api.POST('/api/posts/{post_id}/hold', { params: path(post) })));
export const cancel = (post: Post): Promise<Post | undefined> => done(() => ask(api.POST('/api/posts/{post_id}/cancel', { params: path(post) })));
export const takeDown = (post: Post): Promise<Post | undefined> => done(() => ask(api.POST('/api/posts/{post_id}/take-down', { params: path(post) })));
