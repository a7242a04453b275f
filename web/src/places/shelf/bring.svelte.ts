/** Bringing a recording in: its two files chosen, sent with progress, and put on the shelf. */
import { api, ask, Problem, problemFrom, type Recording } from '$api/client';

const TRANSCRIPTS = ['.vtt', '.srt'];

type Sent = { upload: string; name: string };

export class Bringing {
	media = $state.raw<File | null>(null);
	transcript = $state.raw<File | null>(null);
	title = $state('');
	/** What is being done, and how far the sending is (0..1); null when nothing is. */
	stage = $state<string | null>(null);
	sent = $state(0);
	problem = $state('');

	#request: XMLHttpRequest | null = null;
	#sentMedia: { file: File; sent: Sent } | null = null;

	get complete(): boolean {
		return this.media !== null && this.transcript !== null;
	}

	/** Takes files as they come, in any number and order, and says which can't be of use. */
	choose(files: Iterable<File>): void {
		this.problem = '';
		for (const file of files) {
			if (TRANSCRIPTS.some((ending) => file.name.toLowerCase().endsWith(ending))) this.transcript = file;
			else if (/\.(txt|json|docx?|pdf|png|jpe?g|zip)$/i.test(file.name)) {
				this.problem = `${file.name}: this is neither a recording nor a WebVTT or SRT transcript.`;
			} else this.media = file;
		}
	}

	/** Sends both files and puts the recording on the shelf; null where that was refused or stopped. */
	async bring(): Promise<Recording | null> {
		const { media, transcript } = this;
		if (!media || !transcript) return null;
		this.problem = '';
		try {
			this.stage = 'Sending the transcript';
			const words = await this.#send(transcript);
			this.stage = 'Sending the recording';
			if (this.#sentMedia?.file !== media) this.#sentMedia = { file: media, sent: await this.#send(media) };
			this.stage = 'Reading both';
			return await ask(
				api.POST('/api/recordings', {
					body: { title: this.title.trim(), recording: this.#sentMedia.sent, transcript: words }
				})
			);
		} catch (refused) {
			if (!(refused instanceof Problem)) throw refused;
			this.problem = refused.message;
			return null;
		} finally {
			this.stage = null;
			this.sent = 0;
		}
	}

	stop(): void {
		this.#request?.abort();
	}

	#send(file: File): Promise<Sent> {
		return new Promise((resolve, reject) => {
			const request = new XMLHttpRequest();
			this.#request = request;
			request.open('POST', '/api/uploads');
			request.upload.onprogress = (event) => (this.sent = event.loaded / Math.max(1, event.total));
			request.onload = () => {
				const body = readJson(request.responseText);
				if (request.status === 200) resolve({ upload: (body as { upload: string }).upload, name: file.name });
				else reject(problemFrom(request.status, body));
			};
			request.onerror = () => reject(new Problem(0, 'Away', `${file.name}: sending broke off. Try again.`));
			request.onabort = () => reject(new Problem(0, 'Stopped', `${file.name}: sending was stopped.`));
			request.send(file);
		});
	}
}

function readJson(text: string): unknown {
	try {
		return JSON.parse(text);
	} catch {
		return {};
	}
}
