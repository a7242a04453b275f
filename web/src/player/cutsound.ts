/**
 * The sound of a cut, made by the server as the clip's will be, and played as one piece: no join of it can stutter,
 * and looping runs from the end straight to the start. While it plays, its clock is the time.
 */

/** So long nothing else must be wanted before a sound is loaded that nobody plays yet. */
const QUIET_MS = 700;

export class CutSound {
	#context: AudioContext | null = null;
	#buffer: AudioBuffer | null = null;
	#node: AudioBufferSourceNode | null = null;
	#of: string | null = null;
	#wanted: string | null = null;
	/** Where playing began, in the cut and on the context's clock, in seconds. */
	#from = 0;
	#began = 0;
	#looping = false;
	#fetching: AbortController | null = null;
	#soon: ReturnType<typeof setTimeout> | undefined;
	#muted = false;
	#gain: GainNode | null = null;
	readonly #onready: () => void;

	/** `onready` is called when the sound that was asked for last can be played. */
	constructor(onready: () => void) {
		this.#onready = onready;
	}

	get wanted(): string | null {
		return this.#wanted;
	}

	get ready(): boolean {
		return this.#buffer !== null && this.#of === this.#wanted;
	}

	get playing(): boolean {
		return this.#node !== null;
	}

	/** Where it is in the cut. */
	get outMs(): number {
		if (!this.#context || !this.#buffer) return 0;
		const at = this.#from + Math.max(0, this.#context.currentTime - this.#began);
		return (this.#looping ? at % this.#buffer.duration : at) * 1000;
	}

	/** Has it play without being heard. */
	set muted(muted: boolean) {
		this.#muted = muted;
		if (this.#gain) this.#gain.gain.value = muted ? 0 : 1;
	}

	get lengthMs(): number {
		return (this.#buffer?.duration ?? 0) * 1000;
	}

	/** Names the sound to be played, instead of any before. It is loaded when it is played, or after a while. */
	want(address: string): void {
		if (address === this.#wanted) return;
		this.forget();
		this.#wanted = address;
		this.#soon = setTimeout(() => void this.load(), QUIET_MS);
	}

	/** Loads the sound that is wanted, where that has not begun. */
	async load(): Promise<void> {
		const address = this.#wanted;
		if (!address || this.#fetching || this.ready) return;
		clearTimeout(this.#soon);
		const fetching = new AbortController();
		this.#fetching = fetching;
		try {
			const answer = await fetch(address, { signal: fetching.signal });
			if (!answer.ok) return;
			this.#context ??= new AudioContext({ sampleRate: 48_000, latencyHint: 'interactive' });
			const buffer = await this.#context.decodeAudioData(await answer.arrayBuffer());
			if (address !== this.#wanted) return;
			this.#buffer = buffer;
			this.#of = address;
			this.#onready();
		} catch {
			// Without it the picture's own sound plays, joint by joint.
		} finally {
			// One that failed may be loaded when it is played the next time.
			if (this.#fetching === fetching) this.#fetching = null;
		}
	}

	/** Plays from a moment of the cut, over and over where it is to loop. */
	play(outMs: number, looping: boolean): void {
		this.stop();
		if (!this.#context || !this.#buffer) return;
		void this.#context.resume();
		const node = this.#context.createBufferSource();
		node.buffer = this.#buffer;
		node.loop = looping;
		if (!this.#gain) {
			this.#gain = this.#context.createGain();
			this.#gain.connect(this.#context.destination);
		}
		this.#gain.gain.value = this.#muted ? 0 : 1;
		node.connect(this.#gain);
		this.#from = Math.min(outMs / 1000, this.#buffer.duration);
		this.#began = this.#context.currentTime;
		this.#looping = looping;
		node.start(0, this.#from);
		this.#node = node;
	}

	stop(): void {
		this.#node?.stop();
		this.#node?.disconnect();
		this.#node = null;
	}

	/** Gives up the sound there is, and the one that is on its way. */
	forget(): void {
		this.stop();
		clearTimeout(this.#soon);
		this.#fetching?.abort();
		this.#fetching = null;
		this.#buffer = null;
		this.#wanted = null;
	}

	close(): void {
		this.forget();
		void this.#context?.close();
		this.#context = null;
		this.#gain = null;
	}
}
