/** The captions over a preview, drawn by the same renderer and from the same script as those burned in. */
import JASSUB from 'jassub';
import type { Face } from '$api/client';
import { faceUrl } from './faces';

export class CaptionPainter {
	#painter: JASSUB;
	#script: string;
	#size: { width: number; height: number };
	#closed = false;

	/** `faces` are the files of the faces that the script names, the first for whatever none of them has. */
	constructor(canvas: HTMLCanvasElement, script: string, size: { width: number; height: number }, faces: Face[]) {
		this.#script = script;
		this.#size = size;
		this.#painter = new JASSUB({
			canvas, subContent: script, fonts: faces.map(faceUrl), queryFonts: false,
			defaultFont: faces[0]?.name.toLowerCase() ?? '', prescaleFactor: 1
		});
	}

	/** Resolves when captions can be drawn. */
	get ready(): Promise<void> {
		return this.#painter.ready;
	}

	async change(script: string): Promise<void> {
		if (script === this.#script) return;
		this.#script = script;
		await this.#painter.ready;
		if (!this.#closed) await this.#painter.renderer.setTrack(script);
	}

	async show(seconds: number): Promise<void> {
		await this.#painter.ready;
		if (this.#closed) return;
		await this.#painter.manualRender(
			{ expectedDisplayTime: performance.now(), width: this.#size.width, height: this.#size.height, mediaTime: seconds },
			true
		);
	}

	close(): void {
		this.#closed = true;
		void this.#painter.destroy();
	}
}
