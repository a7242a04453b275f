import { describe, expect, it } from 'vitest';
import { ask, Problem, problemFrom } from './client';

const response = (status: number) => new Response(null, { status });

describe('asking the server', () => {
	it('gives what it answers, also where that is nothing', async () => {
		expect(await ask(Promise.resolve({ data: 7, response: response(200) }))).toBe(7);
		expect(await ask(Promise.resolve({ data: undefined, response: response(204) }))).toBeUndefined();
	});

	it('throws what it refused, in its own words and with its code', async () => {
		const error = { detail: 'Keep at least one.', code: 'edit-refused' };
		const refused = await ask(Promise.resolve({ error, response: response(422) })).catch((problem: Problem) => problem);
		expect(refused).toBeInstanceOf(Problem);
		expect(refused).toMatchObject({ status: 422, code: 'edit-refused', message: 'Keep at least one.' });
	});

	it('says that it is away where there is no answer', async () => {
		await expect(ask(Promise.reject(new TypeError('Failed to fetch')))).rejects.toMatchObject({ status: 0 });
		await expect(ask(Promise.reject(new TypeError('Failed to fetch')))).rejects.toThrow('Nothing you saved is lost');
	});

	it('takes an answer without a body for a refusal where a body was due', async () => {
		await expect(ask(Promise.resolve({ response: response(502) }))).rejects.toMatchObject({ status: 502, code: 'unknown' });
	});

	it('reads a problem whatever it is made of', () => {
		for (const odd of [undefined, null, 'text', 7, { detail: 5 }]) {
			expect(problemFrom(500, odd).message).toBe('The server could not do this.');
		}
	});
});
