/**
 * Plays stretches of a recording one after another, as one: a whole talk is a single stretch, a cut is several.
 *
 * Two video elements take turns: while one plays a stretch, the other waits at the start of the next, so that a join
 * does not stop for a seek. Pictures are drawn from whichever is in turn, by whoever asked to draw.
 */

export type Stretch = { sourceMs: number; lengthMs: number; outMs: number };

const SHUTTLE = [1, 1.5, 2];
/** A playing element reports its time in steps: this much before the end of a stretch counts as there. */
const EARLY_MS = 12;

export class Player {
	playing = $state(false);
	looping = $state(false);
	/** Where it is in what is played, and in the recording. */
	outMs = $state(0);
	sourceMs = $state(0);
	failed = $state(false);
	loaded = $state(false);
	speed = $state(1);

	#stretches: Stretch[] = [];
	#turn = 0;
	#stretch = 0;
	#videos: HTMLVideoElement[];
	#drawers = new Set<() => void>();
	#ticking = 0;
	#backwards = 0;
	#endAt: number | null = null;
	readonly #onend: () => void;

	/** `onend` is called when what is played has come to its end by itself. */
	constructor(src: string, onend: () => void = () => undefined) {
		this.#onend = onend;
		this.#videos = [0, 1].map(() => {
			const video = document.createElement('video');
			video.src = src;
			video.preload = 'auto';
			video.playsInline = true;
			video.addEventListener('seeked', () => this.#drawn(video));
			video.addEventListener('loadeddata', () => {
				this.loaded = true;
				this.failed = false;
				this.#drawn(video);
			});
			video.addEventListener('error', () => (this.failed = true));
			return video;
		});
	}

	get video(): HTMLVideoElement {
		return this.#videos[this.#turn]!;
	}

	get lengthMs(): number {
		const last = this.#stretches.at(-1);
		return last ? last.outMs + last.lengthMs : 0;
	}

	/** Has something drawn whenever there is a new picture; gives what ends that. */
	draws(draw: () => void): () => void {
		this.#drawers.add(draw);
		draw();
		return () => this.#drawers.delete(draw);
	}

	/** What to play from now on. It stays where it is in the recording where that is still played. */
	set(stretches: Stretch[]): void {
		this.#stretches = stretches;
		const held = this.#holding(this.sourceMs);
		if (held < 0) {
			this.seekSource(this.sourceMs);
			return;
		}
		// No seek where the picture stays the same: it would be decoded again after every edit.
		this.#stretch = held;
		this.outMs = stretches[held]!.outMs + this.sourceMs - stretches[held]!.sourceMs;
		if (this.playing) this.#cueNext();
		this.#draw();
	}

	seekOut(ms: number): void {
		const wanted = Math.min(Math.max(0, ms), Math.max(0, this.lengthMs - 1));
		const index = this.#stretches.findLastIndex((one) => one.outMs <= wanted);
		const one = this.#stretches[index];
		if (one) this.#goTo(index, one.sourceMs + wanted - one.outMs);
	}

	/** Goes to a moment of the recording, or to the next that is played. */
	seekSource(ms: number): void {
		const held = this.#holding(ms);
		if (held >= 0) {
			this.#goTo(held, ms);
			return;
		}
		const next = this.#stretches.findIndex((one) => one.sourceMs > ms);
		const index = next < 0 ? this.#stretches.length - 1 : next;
		const one = this.#stretches[index];
		if (one) this.#goTo(index, next < 0 ? one.sourceMs + one.lengthMs - 1 : one.sourceMs);
	}

	/** Plays; with an end, only up to there. */
	play(untilOutMs: number | null = null): void {
		this.#backwards = 0;
		this.#endAt = untilOutMs;
		if (this.outMs >= this.lengthMs - 40) this.seekOut(0);
		this.playing = true;
		this.video.playbackRate = this.speed;
		void this.video.play().catch(() => this.pause());
		this.#cueNext();
		this.#tick();
	}

	pause(): void {
		this.playing = false;
		this.#backwards = 0;
		this.speed = 1;
		for (const video of this.#videos) video.pause();
		cancelAnimationFrame(this.#ticking);
		this.#look();
	}

	toggle(): void {
		if (this.playing) this.pause();
		else this.play();
	}

	step(ms: number): void {
		this.pause();
		this.seekOut(this.outMs + ms);
	}

	/** Faster with each press, in one direction or the other. */
	shuttle(direction: 1 | -1): void {
		if (direction > 0) {
			const faster = this.playing && !this.#backwards ? SHUTTLE[Math.min(SHUTTLE.indexOf(this.speed) + 1, 2)]! : 1;
			this.speed = faster;
			this.play();
			return;
		}
		const faster = this.#backwards ? Math.min(this.#backwards * 2, 4) : 1;
		for (const video of this.#videos) video.pause();
		this.#backwards = faster;
		this.playing = true;
		this.#tick();
	}

	close(): void {
		this.pause();
		this.#drawers.clear();
		for (const video of this.#videos) {
			video.removeAttribute('src');
			video.load();
		}
	}

	#holding(ms: number): number {
		return this.#stretches.findIndex((one) => ms >= one.sourceMs && ms < one.sourceMs + one.lengthMs);
	}

	#goTo(index: number, sourceMs: number): void {
		this.#stretch = index;
		this.sourceMs = sourceMs;
		this.outMs = this.#stretches[index]!.outMs + sourceMs - this.#stretches[index]!.sourceMs;
		this.video.currentTime = sourceMs / 1000;
		if (this.playing) this.#cueNext();
	}

	#cueNext(): void {
		const next = this.#stretches[this.#stretch + 1] ?? (this.looping ? this.#stretches[0] : undefined);
		const waiting = this.#videos[1 - this.#turn]!;
		if (next && Math.abs(waiting.currentTime - next.sourceMs / 1000) > 0.004) waiting.currentTime = next.sourceMs / 1000;
	}

	#tick = (): void => {
		cancelAnimationFrame(this.#ticking);
		if (!this.playing) return;
		let last = performance.now();
		const frame = (now: number) => {
			if (!this.playing) return;
			if (this.#backwards) this.#goBack((now - last) * this.#backwards);
			else this.#goOn();
			last = now;
			this.#draw();
			if (this.playing) this.#ticking = requestAnimationFrame(frame);
		};
		this.#ticking = requestAnimationFrame(frame);
	};

	#goBack(ms: number): void {
		if (this.video.seeking) return;
		this.seekOut(this.outMs - Math.max(ms, 60));
		if (this.outMs <= 0) this.pause();
	}

	#goOn(): void {
		this.#look();
		const one = this.#stretches[this.#stretch];
		if (!one) return;
		if (this.#endAt !== null && this.outMs >= this.#endAt) {
			this.pause();
			return;
		}
		if (this.sourceMs < one.sourceMs + one.lengthMs - EARLY_MS && !this.video.ended) return;
		const index = this.#stretch + 1 < this.#stretches.length ? this.#stretch + 1 : 0;
		if (index === 0 && !this.looping) {
			this.pause();
			this.#onend();
			return;
		}
		this.video.pause();
		this.#turn = 1 - this.#turn;
		this.#stretch = index;
		const next = this.#stretches[index]!;
		if (Math.abs(this.video.currentTime * 1000 - next.sourceMs) > 4) this.video.currentTime = next.sourceMs / 1000;
		this.video.playbackRate = this.speed;
		void this.video.play();
		this.#look();
		this.#cueNext();
	}

	/** Reads where the element in turn is. */
	#look(): void {
		const one = this.#stretches[this.#stretch];
		if (!one || this.video.seeking) return;
		this.sourceMs = Math.min(Math.max(this.video.currentTime * 1000, one.sourceMs), one.sourceMs + one.lengthMs);
		this.outMs = one.outMs + this.sourceMs - one.sourceMs;
	}

	#drawn(video: HTMLVideoElement): void {
		if (video === this.video) this.#draw();
	}

	#draw(): void {
		for (const draw of this.#drawers) draw();
	}
}
