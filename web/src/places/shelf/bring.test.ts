import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { Bringing } from './bring.svelte';

const file = (name: string) => new File(['x'], name);

describe('choosing what to bring in', () => {
	it('tells a recording from a transcript, in any order and at several goes', () => {
		const bringing = new Bringing();
		bringing.choose([file('Talk.VTT')]);
		expect(bringing.complete).toBe(false);
		bringing.choose([file('talk.mkv')]);
		expect([bringing.transcript?.name, bringing.media?.name, bringing.complete]).toEqual(['Talk.VTT', 'talk.mkv', true]);
		bringing.choose([file('better.srt')]);
		expect(bringing.transcript?.name).toBe('better.srt');
	});

	it('says what is neither, and keeps what was chosen', () => {
		const bringing = new Bringing();
		bringing.choose([file('talk.mp4'), file('slides.pdf')]);
		expect(bringing.problem).toBe('slides.pdf: this is neither a recording nor a WebVTT or SRT transcript.');
		expect(bringing.media?.name).toBe('talk.mp4');
	});
});

/** A request that answers as the test says. */
class FakeRequest {
	static sent: string[] = [];
	static answers: { status: number; body: unknown }[] = [];
	upload: { onprogress?: (event: { loaded: number; total: number }) => void } = {};
	status = 0;
	responseText = '';
	onload = () => {};
	onerror = () => {};
	onabort = () => {};
	open(): void {}
	abort(): void {
		this.onabort();
	}
	send(sent: File): void {
		FakeRequest.sent.push(sent.name);
		const answer = FakeRequest.answers.shift();
		this.upload.onprogress?.({ loaded: 1, total: 2 });
		if (!answer) {
			this.onerror();
			return;
		}
		this.status = answer.status;
		this.responseText = JSON.stringify(answer.body);
		this.onload();
	}
}

describe('sending it', () => {
	beforeEach(() => {
		FakeRequest.sent = [];
		FakeRequest.answers = [];
		vi.stubGlobal('XMLHttpRequest', FakeRequest);
	});
	afterEach(() => vi.unstubAllGlobals());

	it('says what the server refused, and does not send the recording for a transcript that was', async () => {
		const bringing = new Bringing();
		bringing.choose([file('talk.mp4'), file('talk.vtt')]);
		FakeRequest.answers = [{ status: 422, body: { detail: 'The file is over 20 GB.', kind: 'UploadRefused' } }];
		expect(await bringing.bring()).toBeNull();
		expect(bringing.problem).toBe('The file is over 20 GB.');
		expect(FakeRequest.sent).toEqual(['talk.vtt']);
		expect(bringing.stage).toBeNull();
	});

	it('says when it broke off', async () => {
		const bringing = new Bringing();
		bringing.choose([file('talk.mp4'), file('talk.vtt')]);
		FakeRequest.answers = [{ status: 200, body: { upload: 'a' } }];
		expect(await bringing.bring()).toBeNull();
		expect(bringing.problem).toBe('talk.mp4: sending broke off. Try again.');
		expect(bringing.media?.name).toBe('talk.mp4');
	});
});
