/** The keys of reading a talk. */
import type { Key } from '$ui/keys.svelte';
import type { Finding } from './find.svelte';

type Actions = {
	keep: () => void;
	goToMark: (step: number) => void;
	goToWord: (word: number, play: boolean) => void;
	reveal: (word: number) => void;
	open: () => void;
	edit: () => void;
	turnEnd: () => void;
	goToDoubt: (step: number) => void;
	goToBite: (step: number) => void;
	grow: (end: 'first' | 'last', step: number) => void;
	hear: () => void;
	pass: (verdict: 'parked' | 'unlike') => void;
};

export function findKeys(finding: Finding, actions: Actions): Key[] {
	const { player, selection } = finding;
	const frame = () => 1000 / (finding.recording?.rate ?? 25);
	const here = () => Math.max(0, finding.spoken);
	const bySentence = (step: number) => {
		const talk = finding.talk;
		if (!talk) return;
		const at = (talk.sentenceOf[here()] ?? 0) + step;
		const goal = talk.sentences[Math.min(Math.max(at, 0), talk.sentences.length - 1)]!;
		actions.goToWord(goal.first, false);
	};
	const choose = (by: 'words' | 'sentences', step: number) => {
		if (!finding.talk) return;
		if (by === 'words') selection.byWords(finding.talk, step, here());
		else selection.bySentences(finding.talk, step, here());
		if (selection.focus !== null) actions.reveal(selection.focus);
	};
	return [
		{ keys: ['Space'], does: 'Play, pause', run: () => player.toggle() },
		{ keys: ['j'], does: 'Play backwards, faster each time', run: () => player.shuttle(-1) },
		{ keys: ['k'], does: 'Pause', run: () => player.pause() },
		{ keys: ['l'], does: 'Play forwards, faster each time', run: () => player.shuttle(1) },
		{ keys: ['ArrowLeft'], does: 'A frame back', run: () => player.step(-frame()) },
		{ keys: ['ArrowRight'], does: 'A frame on', run: () => player.step(frame()) },
		{ keys: ['ArrowUp'], does: 'Sentence before', run: () => bySentence(-1) },
		{ keys: ['ArrowDown'], does: 'Next sentence', run: () => bySentence(1) },
		{ keys: [','], does: 'Word before', run: () => actions.goToWord(Math.max(0, here() - 1), false) },
		{ keys: ['.'], does: 'Next word', run: () => actions.goToWord(here() + 1, false) },
		{ keys: ['shift+ArrowLeft'], does: 'Select a word less', run: () => choose('words', -1) },
		{ keys: ['shift+ArrowRight'], does: 'Select a word more', run: () => choose('words', 1) },
		{ keys: ['shift+ArrowUp'], does: 'Select a sentence less', run: () => choose('sentences', -1) },
		{ keys: ['shift+ArrowDown'], does: 'Select a sentence more', run: () => choose('sentences', 1) },
		{ keys: ['i'], does: 'Select from here', run: () => selection.set(here(), Math.max(here(), selection.range?.last ?? 0)) },
		{ keys: ['o'], does: 'Select to here', run: () => selection.set(Math.min(selection.range?.first ?? here(), here()), here()) },
		{ keys: ['Escape'], does: 'Select nothing', run: () => selection.clear() },
		{ keys: ['q'], does: 'Keep as quote', run: actions.keep },
		{ keys: ['f'], does: 'Next soundbite', run: () => actions.goToBite(1) },
		{ keys: ['shift+f'], does: 'Soundbite before', run: () => actions.goToBite(-1) },
		{ keys: ['a'], does: 'Begin the soundbite a sentence earlier', run: () => actions.grow('first', -1) },
		{ keys: ['shift+a'], does: 'Begin it a sentence later', run: () => actions.grow('first', 1) },
		{ keys: ['e'], does: 'End it a sentence later', run: () => actions.grow('last', 1) },
		{ keys: ['shift+e'], does: 'End it a sentence earlier', run: () => actions.grow('last', -1) },
		{ keys: ['h'], does: 'Play the soundbite', run: actions.hear },
		{ keys: ['p'], does: 'Park the soundbite', run: () => actions.pass('parked') },
		{ keys: ['u'], does: 'Not this kind of soundbite', run: () => actions.pass('unlike') },
		{ keys: ['n'], does: 'Next match', run: () => actions.goToMark(1) },
		{ keys: ['shift+n'], does: 'Previous match', run: () => actions.goToMark(-1) },
		{ keys: ['c'], does: 'Correct the words', run: actions.edit },
		{ keys: ['b'], does: 'End the sentence here, or join it with the next', run: actions.turnEnd },
		{ keys: ['d'], does: 'Next doubtful word', run: () => actions.goToDoubt(1) },
		{ keys: ['shift+d'], does: 'Doubtful word before', run: () => actions.goToDoubt(-1) },
		{ keys: ['s'], does: 'Set or remove a shot change here', run: () => void finding.turnCut() },
		{ keys: ['ctrl+z'], does: 'Undo what was done last here', run: () => void finding.undo() },
		{ keys: ['ctrl+shift+z'], does: 'Redo', run: () => void finding.redo() },
		{ keys: ['Enter'], does: 'Trim the quote kept last', run: actions.open }
	];
}
