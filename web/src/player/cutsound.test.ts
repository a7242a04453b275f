import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { CutSound } from './cutsound';

class FakeContext {
	destination = {};
	currentTime = 0;
	decodeAudioData = () => Promise.resolve({ duration: 12 });
	close = () => Promise.resolve();
}

let answers: Response[];
let asked: string[];

beforeEach(() => {
	vi.useFakeTimers();
	answers = [];
	asked = [];
	vi.stubGlobal('AudioContext', FakeContext);
	vi.stubGlobal('fetch', (address: string) => {
		asked.push(address);
		const answer = answers.shift();
		return answer ? Promise.resolve(answer) : Promise.reject(new TypeError('Failed to fetch'));
	});
});
afterEach(() => vi.useRealTimers());

const sound = () => new Response(new ArrayBuffer(8));

describe('the sound of a cut', () => {
	it('is loaded when nothing else is wanted for a while, and once', async () => {
		const ready = vi.fn();
		const cut = new CutSound(ready);
		answers = [sound()];
		cut.want('/a.wav');
		cut.want('/b.wav');
		await vi.advanceTimersByTimeAsync(1000);
		await cut.load();
		expect([asked, cut.ready, cut.lengthMs]).toEqual([['/b.wav'], true, 12_000]);
		expect(ready).toHaveBeenCalledTimes(1);
		cut.close();
	});

	it('comes back after a load that failed', async () => {
		const cut = new CutSound(vi.fn());
		answers = [new Response('', { status: 503 })];
		cut.want('/a.wav');
		await cut.load();
		expect(cut.ready).toBe(false);
		await cut.load();
		expect(cut.ready).toBe(false);
		answers = [sound()];
		await cut.load();
		expect([asked.length, cut.ready]).toEqual([3, true]);
		cut.close();
	});

	it('of before is not taken for the one that is wanted', async () => {
		const cut = new CutSound(vi.fn());
		answers = [sound(), sound()];
		cut.want('/a.wav');
		const first = cut.load();
		cut.want('/b.wav');
		await first;
		expect(cut.ready).toBe(false);
		await cut.load();
		expect([asked, cut.ready]).toEqual([['/a.wav', '/b.wav'], true]);
		cut.close();
	});
});
