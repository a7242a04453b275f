/** The keys of the workbench. */
import type { Key } from '$ui/keys.svelte';
import type { Bench } from './bench.svelte';
import type { Check } from './check/check.svelte';
import type { Captions } from './captions/captions.svelte';
import type { Finish } from './finish/finish.svelte';
import type { Frame } from './frame/frame.svelte';
import type { Trim } from './trim/trim.svelte';

export const STEPS = ['trim', 'frame', 'captions', 'finish', 'check'] as const;
export type Step = (typeof STEPS)[number];
export const STEP_NAMES: Record<Step, string> = { trim: 'Trim', frame: 'Frame', captions: 'Captions', finish: 'Finish', check: 'Check' };

type Actions = { go: (step: Step) => void; goToWord: (word: number) => void; reveal: (word: number) => void; exportAll: () => void; exportOptions: () => void };

export function benchKeys(bench: Bench, trim: Trim, framing: Frame, captions: Captions, finish: Finish, check: Check, actions: Actions, step: Step): Key[] {
	const player = () => bench.player;
	const frame = () => 1000 / (bench.recording?.rate ?? 25);
	const keys: Key[] = [
		{ keys: ['Space'], does: 'Play the cut, pause', run: () => player()?.toggle() },
		{ keys: ['j'], does: 'Play backwards, faster each time', run: () => player()?.shuttle(-1) },
		{ keys: ['k'], does: 'Pause', run: () => player()?.pause() },
		{ keys: ['l'], does: 'Play forwards, faster each time', run: () => player()?.shuttle(1) },
		{ keys: ['ArrowLeft'], does: 'A frame back', run: () => player()?.step(-frame()) },
		{ keys: ['ArrowRight'], does: 'A frame on', run: () => player()?.step(frame()) },
		{ keys: ['ctrl+z'], does: 'Undo', run: () => void bench.undo() },
		{ keys: ['ctrl+shift+z'], does: 'Redo', run: () => void bench.redo() },
		{ keys: ['Home'], does: 'To the start of the cut', run: () => player()?.seekOut(0) },
		{ keys: ['1', '2', '3', '4', '5'], does: 'Trim, Frame, Captions, Finish, Check', run: (event) => actions.go(STEPS[Number(event.key) - 1]!) },
		{ keys: ['e'], does: 'Export all versions', run: actions.exportAll },
		{ keys: ['shift+e'], does: 'Export options: quality, size, sound alone', run: actions.exportOptions }
	];
	if (step === 'frame') return [...frameKeys(framing), ...keys];
	if (step === 'captions') return [...captionKeys(captions), ...keys];
	if (step === 'finish') return [...finishKeys(finish), ...keys];
	if (step === 'check') return [...checkKeys(check), ...keys];
	return step === 'trim' ? [...trimKeys(bench, trim, actions), ...keys] : keys;
}

function frameKeys(framing: Frame): Key[] {
	const { bench } = framing;
	const rest = () => void bench.edit({ kind: 'add-rest', at_ms: framing.moment, destination: bench.shown, panel: 0 });
	return [
		{ keys: ['n'], does: 'Next doubtful shot', run: () => framing.step(1) },
		{ keys: ['shift+n'], does: 'Previous doubtful shot', run: () => framing.step(-1) },
		{ keys: ['m'], does: 'Mark the shot as fine', run: () => framing.fine() },
		{ keys: ['ArrowUp'], does: 'Previous shot', run: () => framing.go(framing.here - 1) },
		{ keys: ['ArrowDown'], does: 'Next shot', run: () => framing.go(framing.here + 1) },
		{ keys: ['s'], does: 'Split the framing: around the selected words, or at the playhead', run: () => splitHere(framing) },
		{ keys: ['a'], does: 'New rest at the playhead, in the shape on the stage', run: rest },
		{ keys: ['g'], does: 'Give this framing to other shots', run: () => (framing.giving = framing.shots.length > 1 || !framing.every) },
		{ keys: ['f'], does: 'Follow something: draw a box around it', run: () => framing.draw() },
		{ keys: ['c'], does: 'The recording beside this shape, or not', run: () => (framing.comparing = !framing.comparing) },
		{ keys: ['v'], does: 'Next shape', run: () => nextShape(framing) }
	];
}

function captionKeys(captions: Captions): Key[] {
	return [
		{ keys: ['n'], does: 'Next problem', run: () => captions.step(1) },
		{ keys: ['shift+n'], does: 'Previous problem', run: () => captions.step(-1) },
		{ keys: ['ArrowUp'], does: 'Caption before', run: () => captions.next(-1) },
		{ keys: ['ArrowDown'], does: 'Next caption', run: () => captions.next(1) },
		{ keys: ['Enter'], does: 'Type in the caption on the stage', run: () => captions.type() }
	];
}

function checkKeys(check: Check): Key[] {
	const { bench } = check;
	const fine = () => {
		const finding = check.inHand?.finding;
		if (finding && finding.severity !== 'stop') void check.accept(finding, 'Marked as fine');
	};
	const nextVersion = () => {
		const at = check.versions.findIndex((one) => one.destination === bench.shown);
		const next = check.versions[(at + 1) % check.versions.length];
		if (next) bench.show(next.destination);
	};
	return [
		{ keys: ['n'], does: 'Next finding', run: () => check.step(1) },
		{ keys: ['shift+n'], does: 'Previous finding', run: () => check.step(-1) },
		{ keys: ['m'], does: 'Mark the finding as fine', run: fine },
		{ keys: ['Enter'], does: 'Fix the finding, where a button does', run: () => { if (check.inHand) void check.mend(check.inHand.finding); } },
		{ keys: ['v'], does: 'Next version', run: nextVersion },
		{ keys: ['s'], does: 'Sound on, or off', run: () => (check.muted = !check.muted) },
		{ keys: ['a'], does: 'What the posting app covers', run: () => (bench.covered = !bench.covered) },
		{ keys: ['p'], does: 'As large as on a phone', run: () => (check.real = !check.real) },
		{ keys: ['c'], does: 'The recording beside it', run: () => (check.comparing = !check.comparing) }
	];
}

const NUDGE = 0.01;

function finishKeys(finish: Finish): Key[] {
	const { bench } = finish;
	const select = (step: number) => bench.talk && bench.selection.byWords(bench.talk, step, bench.here);
	return [
		{ keys: ['ArrowUp'], does: 'Previous item over the picture', run: () => finish.step(-1) },
		{ keys: ['ArrowDown'], does: 'Next item over the picture', run: () => finish.step(1) },
		{ keys: ['shift+ArrowLeft'], does: 'Select a word less', run: () => select(-1) },
		{ keys: ['shift+ArrowRight'], does: 'Select a word more', run: () => select(1) },
		{ keys: ['w'], does: 'Show it with the selected words', run: () => finish.withSelected() },
		{ keys: ['ctrl+ArrowLeft'], does: 'Move it to the left', run: () => finish.nudge(-NUDGE, 0) },
		{ keys: ['ctrl+ArrowRight'], does: 'Move it to the right', run: () => finish.nudge(NUDGE, 0) },
		{ keys: ['ctrl+ArrowUp'], does: 'Move it up', run: () => finish.nudge(0, -NUDGE) },
		{ keys: ['ctrl+ArrowDown'], does: 'Move it down', run: () => finish.nudge(0, NUDGE) },
		{ keys: ['b'], does: 'Play the voice as recorded, or as it will be', run: () => bench.hearPlain(!bench.plainVoice) },
		{ keys: ['c'], does: 'Use this frame for the cover', run: () => finish.coverHere() },
		{ keys: ['Delete', 'Backspace'], does: 'Remove it', run: () => finish.remove() },
		{ keys: ['Escape'], does: 'Select nothing', run: () => { bench.selection.clear(); finish.hand = null; finish.drawing = false; } }
	];
}

function splitHere(framing: Frame): void {
	const { selection, talk } = framing.bench;
	const range = selection.range;
	if (!range || !talk) return framing.split();
	selection.clear();
	framing.splitOff(talk.startsMs[range.first]!, talk.endsMs[range.last]!);
}

function nextShape(framing: Frame): void {
	const at = framing.shapes.findIndex((one) => one.destination === framing.bench.shown);
	const next = framing.shapes[(at + 1) % framing.shapes.length];
	if (next) framing.bench.show(next.destination);
}

function trimKeys(bench: Bench, trim: Trim, actions: Actions): Key[] {
	const { selection } = bench;
	const choose = (by: 'words' | 'sentences', step: number) => {
		if (!bench.talk) return;
		if (by === 'words') selection.byWords(bench.talk, step, bench.here);
		else selection.bySentences(bench.talk, step, bench.here);
		if (selection.focus !== null) actions.reveal(selection.focus);
	};
	const word = (step: number) => actions.goToWord(Math.max(0, (bench.cursor ?? bench.spoken) + step));
	const sentence = (step: number) => {
		const talk = bench.talk;
		if (!talk) return;
		const at = (talk.sentenceOf[Math.max(0, bench.cursor ?? bench.spoken)] ?? 0) + step;
		actions.goToWord(talk.sentences[Math.min(Math.max(at, 0), talk.sentences.length - 1)]!.first);
	};
	const last = () => bench.selection.range?.last ?? bench.here;
	return [
		{ keys: ['x'], does: 'Strike the words, or put them back', run: () => void bench.strike() },
		{ keys: ['i'], does: 'In point at this word', run: () => void bench.moveEdge('in', bench.here) },
		{ keys: ['o'], does: 'Out point after this word', run: () => void bench.moveEdge('out', last()) },
		{ keys: ['['], does: 'In point 10 ms earlier', run: () => void bench.edit({ kind: 'nudge-edge', edge: 'in', by_ms: -10, destination: bench.scope }) },
		{ keys: [']'], does: 'In point 10 ms later', run: () => void bench.edit({ kind: 'nudge-edge', edge: 'in', by_ms: 10, destination: bench.scope }) },
		{ keys: ['{'], does: 'Out point 10 ms earlier', run: () => void bench.edit({ kind: 'nudge-edge', edge: 'out', by_ms: -10, destination: bench.scope }) },
		{ keys: ['}'], does: 'Out point 10 ms later', run: () => void bench.edit({ kind: 'nudge-edge', edge: 'out', by_ms: 10, destination: bench.scope }) },
		{ keys: ['n'], does: 'Next join', run: () => trim.stepJoin(1) },
		{ keys: ['shift+n'], does: 'Previous join', run: () => trim.stepJoin(-1) },
		{ keys: ['h'], does: 'Play the selected join, or the start', run: () => trim.hearJoin() },
		{ keys: ['t'], does: 'Play the opening three seconds', run: () => trim.hearOpening() },
		{ keys: ['r'], does: 'Loop end to start, or not', run: () => { if (bench.player) bench.player.looping = !bench.player.looping; } },
		{ keys: ['p'], does: 'Next pause', run: () => trim.stepPause(1) },
		{ keys: ['-'], does: 'The pause in hand 50 ms shorter', run: () => trim.nudgePause(-50) },
		{ keys: ['='], does: 'The pause in hand 50 ms longer', run: () => trim.nudgePause(50) },
		{ keys: ['f'], does: 'How to make it fit', run: () => (trim.tab = trim.tab === 'fit' ? 'cut' : 'fit') },
		{ keys: ['ArrowUp'], does: 'Sentence before', run: () => sentence(-1) },
		{ keys: ['ArrowDown'], does: 'Next sentence', run: () => sentence(1) },
		{ keys: [','], does: 'Word before', run: () => word(-1) },
		{ keys: ['.'], does: 'Next word', run: () => word(1) },
		{ keys: ['shift+ArrowLeft'], does: 'Select a word less', run: () => choose('words', -1) },
		{ keys: ['shift+ArrowRight'], does: 'Select a word more', run: () => choose('words', 1) },
		{ keys: ['shift+ArrowUp'], does: 'Select a sentence less', run: () => choose('sentences', -1) },
		{ keys: ['shift+ArrowDown'], does: 'Select a sentence more', run: () => choose('sentences', 1) },
		{ keys: ['Escape'], does: 'Select nothing', run: () => { selection.clear(); bench.cursor = null; } }
	];
}
