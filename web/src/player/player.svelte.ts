/**
 * Plays stretches of a recording one after another, as one: a whole talk is a single stretch, a cut is several.
 *
 * Two video elements take turns: while one plays a stretch, the other waits at the start of the next, so that a join
 * does not stop for a seek. Pictures are drawn from whichever is in turn, by whoever asked to draw. Where the sound of
 * the whole is there by itself, it plays that and mutes the elements: then the sound's clock is the time, and pictures
 * follow it.
 */
import { CutSound } from './cutsound';

/** `lengthMs` and `outMs` are of what is played; `rate` is how fast the source runs in it, 1 where it is not told. Of one at rate 0
 * the source stands: what is shown then is not of it. */
export type Stretch = { sourceMs: number; lengthMs: number; outMs: number; rate?: number };

const rateOf = (one: Stretch) => one.rate ?? 1;
/** The recording goes on where the next stretch begins this near, and only its speed changes. */
const GOES_ON_MS = 60;
/** A picture this far from its sound is set right. */
const APART_MS = 90;
const FRAME_MS = 40;

const SHUTTLE = [1, 1.5, 2];
/** A playing element reports its time in steps: this much before the end of a stretch counts as there. */
const EARLY_MS = 12;

export class Player {
	playing = $state(false);
	#looping = $state(false);
	#muted = $state(false);
	/** Where it is in what is played, and in the recording. */
	outMs = $state(0);
	sourceMs = $state(0);
	failed = $state(false);
	loaded = $state(false);
	speed = $state(1);

	#stretches = $state.raw<Stretch[]>([]);
	#turn = 0;
	#stretch = 0;
	#videos: HTMLVideoElement[];
	#drawers = new Set<() => void>();
	#ticking = 0;
	#backwards = 0;
	#endAt: number | null = null;
	readonly #onend: () => void;
	readonly #frameUrl: ((ms: number) => string) | undefined;
	readonly #filmUrl: ((recording: number) => string) | undefined;
	readonly #films = new Map<string, HTMLVideoElement>();
	readonly #stills = new Map<string, HTMLImageElement>();
	readonly #sound = new CutSound(() => this.#takeOver());

	/** `onend` is called when what is played has come to its end by itself; `frameUrl` tells where a single picture is to be had,
	 * `filmUrl` where another recording is. */
	constructor(src: string, onend: () => void = () => undefined, frameUrl?: (ms: number) => string, filmUrl?: (recording: number) => string) {
		this.#filmUrl = filmUrl;
		this.#onend = onend;
		this.#frameUrl = frameUrl;
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

	/** The picture of the recording at a moment, apart from what plays; it may still be on its way. */
	still(ms: number): HTMLImageElement | null {
		const address = this.#frameUrl?.(ms);
		if (!address) return null;
		let still = this.#stills.get(address);
		if (!still) {
			still = new Image();
			still.src = address;
			this.#stills.set(address, still);
		}
		return still;
	}

	/** Another recording at a moment, kept with what plays; `key` names who shows it. It may not be there yet. */
	film(key: string, recording: number, ms: number): HTMLVideoElement | null {
		const address = this.#filmUrl?.(recording);
		if (!address) return null;
		const name = `${key} ${address}`;
		let film = this.#films.get(name);
		if (!film) {
			film = document.createElement('video');
			film.src = address;
			film.muted = true;
			film.playsInline = true;
			film.preload = 'auto';
			const redrawn = () => this.#draw();
			film.addEventListener('seeked', redrawn);
			film.addEventListener('loadeddata', redrawn);
			this.#films.set(name, film);
		}
		const apart = Math.abs(film.currentTime * 1000 - ms);
		const plays = this.playing && !this.#backwards;
		if (!film.seeking && apart > (plays ? APART_MS : FRAME_MS / 2)) film.currentTime = ms / 1000;
		if (plays && film.paused) void film.play().catch(() => undefined);
		else if (!plays && !film.paused) film.pause();
		return film;
	}

	get muted(): boolean {
		return this.#muted;
	}

	/** Without sound, whichever is heard. */
	set muted(muted: boolean) {
		this.#muted = muted;
		this.#sound.muted = muted;
		for (const video of this.#videos) video.muted = muted || this.#sound.playing;
	}

	get looping(): boolean {
		return this.#looping;
	}

	set looping(looping: boolean) {
		this.#looping = looping;
		if (this.#sound.playing) this.#sound.play(this.outMs, looping);
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
		this.outMs = outAt(stretches[held]!, this.sourceMs);
		if (this.playing) this.#cueNext();
		this.#draw();
	}

	/** The sound of all that is played, as one: from where it is to be had; none where the elements' own is heard. That
	 * of an older cut does not go on. */
	hear(address: string | null): void {
		if (address === this.#sound.wanted) return;
		if (this.#sound.playing) this.#giveBack();
		if (!address) {
			this.#sound.forget();
			return;
		}
		this.#sound.want(address);
		if (this.playing) void this.#sound.load();
	}

	seekOut(ms: number): void {
		const wanted = Math.min(Math.max(0, ms), Math.max(0, this.lengthMs - 1));
		const index = this.#stretches.findLastIndex((one) => one.outMs <= wanted);
		const one = this.#stretches[index];
		if (one) this.#goTo(index, one.sourceMs + (wanted - one.outMs) * rateOf(one), wanted);
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
		if (one) this.#goTo(index, next < 0 ? Math.max(one.sourceMs, endOf(one) - 1) : one.sourceMs);
	}

	/** Plays; with an end, only up to there. */
	play(untilOutMs: number | null = null): void {
		this.#backwards = 0;
		this.#endAt = untilOutMs;
		if (this.outMs >= this.lengthMs - 40) this.seekOut(0);
		this.playing = true;
		this.video.playbackRate = this.#rate();
		const one = this.#stretches[this.#stretch];
		if (!one || rateOf(one)) void this.video.play().catch(() => this.pause());
		this.#cueNext();
		void this.#sound.load();
		this.#takeOver();
		this.#tick();
	}

	pause(): void {
		this.playing = false;
		this.#backwards = 0;
		this.speed = 1;
		if (this.#sound.playing) this.#giveBack();
		for (const video of [...this.#videos, ...this.#films.values()]) video.pause();
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
			if (this.#sound.playing) this.#giveBack();
			this.play();
			return;
		}
		const faster = this.#backwards ? Math.min(this.#backwards * 2, 4) : 1;
		if (this.#sound.playing) this.#giveBack();
		for (const video of this.#videos) video.pause();
		this.#backwards = faster;
		this.playing = true;
		this.#tick();
	}

	close(): void {
		this.pause();
		this.#sound.close();
		this.#drawers.clear();
		for (const video of [...this.#videos, ...this.#films.values()]) {
			video.removeAttribute('src');
			video.load();
		}
		this.#films.clear();
	}

	#holding(ms: number): number {
		return this.#stretches.findIndex((one) => ms >= one.sourceMs && ms < endOf(one));
	}

	#goTo(index: number, sourceMs: number, outMs = outAt(this.#stretches[index]!, sourceMs)): void {
		this.#stretch = index;
		this.sourceMs = sourceMs;
		this.outMs = outMs;
		this.video.currentTime = sourceMs / 1000;
		if (this.playing) this.#cueNext();
		if (this.#sound.playing) this.#sound.play(this.outMs, this.looping);
	}

	#cueNext(): void {
		const next = this.#stretches[this.#stretch + 1] ?? (this.looping ? this.#stretches[0] : undefined);
		const waiting = this.#videos[1 - this.#turn]!;
		if (next && rateOf(next) && Math.abs(waiting.currentTime - next.sourceMs / 1000) > 0.004) waiting.currentTime = next.sourceMs / 1000;
	}

	#tick = (): void => {
		cancelAnimationFrame(this.#ticking);
		if (!this.playing) return;
		let last = performance.now();
		const frame = (now: number) => {
			if (!this.playing) return;
			if (this.#backwards) this.#goBack((now - last) * this.#backwards);
			else this.#goOn(now - last);
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

	#goOn(passedMs: number): void {
		const heard = this.#sound.playing;
		const one = this.#stretches[this.#stretch];
		if (!one) return;
		if (heard) this.#follow();
		else if (rateOf(one)) this.#look();
		else this.outMs += passedMs * this.speed;
		if (this.#endAt !== null && this.outMs >= this.#endAt) {
			this.pause();
			return;
		}
		if (heard ? this.outMs < this.lengthMs - 1 || this.looping : this.#goesOn(one)) return;
		const index = !heard && this.#stretch + 1 < this.#stretches.length ? this.#stretch + 1 : 0;
		if (index === 0 && !this.looping) {
			this.pause();
			this.#onend();
			return;
		}
		this.#turnTo(index);
		this.#look();
		this.#cueNext();
	}

	#goesOn(one: Stretch): boolean {
		if (!rateOf(one)) return this.outMs < one.outMs + one.lengthMs;
		return this.sourceMs < endOf(one) - EARLY_MS * rateOf(one) && !this.video.ended;
	}

	/** Lets the waiting element play a stretch; one that stands still is played by none. */
	#turnTo(index: number): void {
		const [left, next] = [this.#stretches[this.#stretch], this.#stretches[index]!];
		this.#stretch = index;
		const faster = left && rateOf(left) && rateOf(next) && rateOf(left) !== rateOf(next);
		if (faster && left.outMs < next.outMs && Math.abs(endOf(left) - next.sourceMs) < GOES_ON_MS) {
			this.video.playbackRate = this.#rate();
			return;
		}
		this.video.pause();
		if (!rateOf(next)) {
			this.outMs = Math.max(this.outMs, next.outMs);
			return;
		}
		this.#turn = 1 - this.#turn;
		if (Math.abs(this.video.currentTime * 1000 - next.sourceMs) > 4) this.video.currentTime = next.sourceMs / 1000;
		this.video.muted = this.#muted || this.#sound.playing;
		this.video.playbackRate = this.#rate();
		void this.video.play();
	}

	/** Keeps the picture with the sound. */
	#follow(): void {
		this.outMs = Math.min(this.#sound.outMs, this.lengthMs);
		const index = Math.max(0, this.#stretches.findLastIndex((one) => one.outMs <= this.outMs));
		if (index !== this.#stretch) {
			this.#turnTo(index);
			this.#cueNext();
		}
		const one = this.#stretches[index];
		if (!one) return;
		if (!rateOf(one)) return;
		this.sourceMs = Math.min(one.sourceMs + (this.outMs - one.outMs) * rateOf(one), endOf(one));
		if (!this.video.seeking && Math.abs(this.video.currentTime * 1000 - this.sourceMs) > APART_MS) this.video.currentTime = this.sourceMs / 1000;
	}

	/** Has the cut's own sound heard from here on, where it is there and plays as it was made. */
	#takeOver(): void {
		if (!this.playing || this.#backwards || this.speed !== 1 || !this.#sound.ready) return;
		for (const video of this.#videos) video.muted = true;
		this.#sound.play(this.outMs, this.looping);
	}

	#giveBack(): void {
		this.#sound.stop();
		for (const video of this.#videos) video.muted = this.#muted;
	}

	#rate(): number {
		const one = this.#stretches[this.#stretch];
		return this.speed * ((one && rateOf(one)) || 1);
	}

	/** Reads where the element in turn is. */
	#look(): void {
		const one = this.#stretches[this.#stretch];
		if (!one || !rateOf(one) || this.video.seeking) return;
		this.sourceMs = Math.min(Math.max(this.video.currentTime * 1000, one.sourceMs), endOf(one));
		this.outMs = outAt(one, this.sourceMs);
	}

	#drawn(video: HTMLVideoElement): void {
		if (video === this.video) this.#draw();
	}

	#draw(): void {
		for (const draw of this.#drawers) draw();
	}
}

/** Where a stretch ends in the source. */
function endOf(one: Stretch): number {
	return one.sourceMs + one.lengthMs * rateOf(one);
}

/** Where in what is played a moment of a stretch's source is. */
function outAt(one: Stretch, sourceMs: number): number {
	if (!rateOf(one)) return one.outMs;
	return one.outMs + (sourceMs - one.sourceMs) / rateOf(one);
}
