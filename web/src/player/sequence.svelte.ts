/** Plays stretches of several recordings one after another, hands free; the next is loaded while one plays. */
import { mediaUrl } from '$api/client';
import { Player, type Stretch } from './player.svelte';

export type Piece = { id: string; recordingId: number; stretches: Stretch[] };

/** One stretch of a recording by itself. */
export const stretch = (startMs: number, endMs: number): Stretch[] => [{ sourceMs: startMs, lengthMs: Math.max(1, endMs - startMs), outMs: 0 }];

export class Sequence {
	/** The piece in hand, and its player. */
	current = $state<string | null>(null);
	player = $state.raw<Player | null>(null);

	#left: Piece[] = [];
	#next: { piece: Piece; player: Player } | null = null;

	get playing(): boolean {
		return this.player?.playing ?? false;
	}

	/** Plays some pieces, each after the one before. */
	play(pieces: Piece[]): void {
		this.stop();
		this.#left = [...pieces];
		this.#go();
	}

	/** Plays a piece alone; where it is playing already, pauses, and goes on. */
	toggle(piece: Piece): void {
		if (this.current === piece.id && this.player) this.player.toggle();
		else this.play([piece]);
	}

	stop(): void {
		this.player?.close();
		this.#next?.player.close();
		this.player = this.#next = this.current = null;
		this.#left = [];
	}

	#make(piece: Piece): Player {
		const player = new Player(mediaUrl(piece.recordingId), () => this.#go());
		player.set(piece.stretches);
		player.seekOut(0);
		return player;
	}

	#go(): void {
		const ended = this.player;
		const piece = this.#next?.piece ?? this.#left.shift();
		if (!piece) return;
		this.player = this.#next?.player ?? this.#make(piece);
		this.current = piece.id;
		this.#next = null;
		this.player.play();
		ended?.close();
		const following = this.#left.shift();
		if (following) this.#next = { piece: following, player: this.#make(following) };
	}
}
