import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import type { Assembly } from '$api/client';
import { Player } from './player.svelte';
import { fractionOf, outAtSource, stretchesOf } from './stretches';

/** A video element that plays in the time of the test. */
class FakeVideo extends EventTarget {
	src = '';
	preload = '';
	playsInline = false;
	playbackRate = 1;
	paused = true;
	ended = false;
	seeking = false;
	#time = 0;
	get currentTime(): number {
		return this.#time;
	}
	set currentTime(seconds: number) {
		this.#time = seconds;
		this.dispatchEvent(new Event('seeked'));
	}
	play(): Promise<void> {
		this.paused = false;
		return Promise.resolve();
	}
	pause(): void {
		this.paused = true;
	}
	pass(ms: number): void {
		if (!this.paused) this.#time += (ms / 1000) * this.playbackRate;
	}
	removeAttribute(): void {}
	load(): void {}
}

let videos: FakeVideo[];
let frames: ((now: number) => void)[];
let now: number;

function pass(ms: number, step = 10): void {
	for (let t = 0; t < ms; t += step) {
		now += step;
		for (const video of videos) video.pass(step);
		for (const frame of frames.splice(0)) frame(now);
	}
}

beforeEach(() => {
	videos = [];
	frames = [];
	now = 0;
	vi.stubGlobal('document', { createElement: () => videos[videos.push(new FakeVideo()) - 1] });
	vi.stubGlobal('requestAnimationFrame', (frame: (now: number) => void) => frames.push(frame));
	vi.stubGlobal('cancelAnimationFrame', () => frames.splice(0));
	vi.stubGlobal('performance', { now: () => now });
});
afterEach(() => vi.unstubAllGlobals());

const CUT = [
	{ sourceMs: 1000, lengthMs: 500, outMs: 0 },
	{ sourceMs: 3000, lengthMs: 400, outMs: 500 },
	{ sourceMs: 9000, lengthMs: 300, outMs: 900 }
];

function playing(): Player {
	const player = new Player('/talk');
	player.set(CUT);
	player.seekOut(0);
	return player;
}

describe('playing a cut', () => {
	it('goes over every join to the next stretch, and stops at the end', () => {
		const player = playing();
		const heard: number[] = [];
		player.play();
		for (let i = 0; i < 140; i++) {
			pass(10);
			if (player.playing) heard.push(player.sourceMs);
		}
		expect(player.playing).toBe(false);
		const inside = (ms: number) => CUT.some((one) => ms >= one.sourceMs && ms <= one.sourceMs + one.lengthMs);
		expect(heard.every(inside)).toBe(true);
		expect(CUT.map((one) => heard.some((ms) => Math.abs(ms - one.sourceMs) < 30))).toEqual([true, true, true]);
	});

	it('goes on in the recording where only the speed changes, with the element that plays', () => {
		const player = new Player('/talk');
		player.set([{ sourceMs: 1000, lengthMs: 500, outMs: 0 }, { sourceMs: 1500, lengthMs: 250, outMs: 500, rate: 4 }, { sourceMs: 2510, lengthMs: 500, outMs: 750 }]);
		player.seekOut(0);
		const first = player.video;
		player.play();
		pass(600);
		expect([player.video === first, first.playbackRate, first.paused]).toEqual([true, 4, false]);
		pass(350);
		expect([player.video === first, first.playbackRate]).toEqual([true, 1]);
		expect(player.outMs).toBeGreaterThan(850);
	});

	it('has the next stretch ready before its turn', () => {
		const player = playing();
		player.play();
		pass(100);
		expect(videos.map((video) => Math.round(video.currentTime * 1000))).toContain(3000);
	});

	it('begins again when looping', () => {
		const player = playing();
		player.looping = true;
		player.play();
		pass(1350);
		expect(player.playing).toBe(true);
		expect(player.outMs).toBeLessThan(300);
	});

	it('stops where it is told to', () => {
		const player = playing();
		player.play(700);
		pass(1000);
		expect(player.playing).toBe(false);
		expect(player.outMs).toBeGreaterThan(650);
		expect(player.outMs).toBeLessThan(760);
	});

	it('goes to what is heard next when sent to what is not', () => {
		const player = playing();
		player.seekSource(2000);
		expect([player.sourceMs, player.outMs]).toEqual([3000, 500]);
		player.seekSource(99_000);
		expect(player.sourceMs).toBe(9299);
		player.seekOut(950);
		expect(player.sourceMs).toBe(9050);
	});

	it('stays where it is in the recording when the cut changes around it', () => {
		const player = playing();
		player.seekSource(3200);
		player.set([{ sourceMs: 3100, lengthMs: 1000, outMs: 0 }]);
		expect([player.sourceMs, player.outMs]).toEqual([3200, 100]);
	});

	it('shuttles faster with each press, and backwards', () => {
		const player = playing();
		player.shuttle(1);
		player.shuttle(1);
		expect(player.speed).toBe(1.5);
		player.pause();
		expect(player.speed).toBe(1);
		player.seekOut(800);
		player.shuttle(-1);
		pass(300);
		expect(player.outMs).toBeLessThan(800);
		pass(3000);
		expect(player.outMs).toBe(0);
		expect(player.playing).toBe(false);
	});
});

describe('playing a cut with an end card', () => {
	const CARDED = [...CUT, { sourceMs: 9300, lengthMs: 1000, outMs: 1200, rate: 0 }];

	it('goes on for as long as the card shows, while the recording stands, and ends after it', () => {
		const player = playing();
		player.set(CARDED);
		player.play();
		pass(1500);
		expect(player.playing).toBe(true);
		expect(player.outMs).toBeGreaterThan(1300);
		expect(videos.every((video) => video.paused)).toBe(true);
		pass(1000);
		expect(player.playing).toBe(false);
		expect(player.lengthMs).toBe(2200);
	});

	it('goes to a moment of the card, plays from there, and begins again when looping', () => {
		const player = playing();
		player.set(CARDED);
		player.seekOut(1800);
		expect([player.outMs, player.sourceMs]).toEqual([1800, 9300]);
		player.looping = true;
		player.play();
		pass(600);
		expect(player.playing).toBe(true);
		expect(player.outMs).toBeLessThan(400);
	});
});

describe('what an Assembly plays', () => {
	it('goes under its cover, and stands under its end card', () => {
		const run = (first_frame: number, frames: number, source_frame: number, source: string | null = 'recording') => ({ source, first_frame, frames, source_frame, step: '1' });
		const assembly = { rate: '25', frames: 85, cover_frames: 1, card_frame: 60, picture: [run(0, 1, 500), run(1, 59, 26), run(60, 25, 0, null)] };
		expect(stretchesOf(assembly as unknown as Assembly)).toEqual([
			{ sourceMs: 1000, lengthMs: 2400, outMs: 0, rate: 1 },
			{ sourceMs: 3400, lengthMs: 1000, outMs: 2400, rate: 0 }
		]);
	});

	it('is its runs in milliseconds, those that go on in the recording as one', () => {
		expect(fractionOf('30000/1001')).toBeCloseTo(29.97, 3);
		const run = (first_frame: number, frames: number, source_frame: number, step = '1') => ({ source: 'recording', first_frame, frames, source_frame, step });
		const assembly = { rate: '25', picture: [run(0, 5, 25), run(5, 4, 50), run(9, 6, 54)] };
		expect(stretchesOf(assembly as unknown as Assembly)).toEqual([
			{ sourceMs: 1000, lengthMs: 200, outMs: 0, rate: 1 },
			{ sourceMs: 2000, lengthMs: 400, outMs: 200, rate: 1 }
		]);
		const fast = { rate: '25', picture: [run(0, 10, 25, '11/10')] };
		expect(stretchesOf(fast as unknown as Assembly)).toEqual([{ sourceMs: 1000, lengthMs: 400, outMs: 0, rate: 1.1 }]);
	});

	it('is its sound where there is no picture', () => {
		const assembly = {
			rate: '25', picture: [{ source: null, first_frame: 0, frames: 50 }],
			sound: { played: [
				{ source_ms: 500, length_ms: 1000, out_ms: 0, out_end_ms: 800, times: 1.25 },
				{ source_ms: 3000, length_ms: 1500, out_ms: 800, out_end_ms: 1300, times: 3 }
			] }
		};
		expect(stretchesOf(assembly as unknown as Assembly)).toEqual([
			{ sourceMs: 500, lengthMs: 800, outMs: 0, rate: 1.25 },
			{ sourceMs: 3000, lengthMs: 500, outMs: 800, rate: 3 }
		]);
		const at = [0, 500, 1500, 2000, 3000, 3750, 4500, 9000].map((ms) => outAtSource(assembly as unknown as Assembly, ms));
		expect(at).toEqual([0, 0, 800, 800, 800, 1050, 1300, 1300]);
	});
});
