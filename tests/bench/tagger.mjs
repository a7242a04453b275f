/** Tags words by an independent part-of-speech tagger: reads lines of text, writes for each its words with their tags. */
import { readFileSync } from 'node:fs';
import nlp from '../../web/node_modules/compromise/src/three.js';

const lines = JSON.parse(readFileSync(0, 'utf-8'));
const told = lines.map((line) => nlp(line).json().flatMap((one) => one.terms.map((term) => [term.text, term.tags])));
process.stdout.write(JSON.stringify(told));
