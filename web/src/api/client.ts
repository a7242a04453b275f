/** Talking to the server: typed calls that give the answer or throw a `Problem`. */
import createClient from 'openapi-fetch';
import type { components, paths } from './schema';

export type Schemas = components['schemas'];
export type Recording = Schemas['RecordingView'];
export type ShelfRecording = Schemas['ShelfRecording'];
export type Work = Schemas['WorkView'];
export type Upload = Schemas['UploadView'];
export type Transcript = Schemas['TranscriptView'];
export type Sentence = Schemas['SentenceView'];
export type Speaker = Schemas['SpeakerView'];
export type Corrected = Schemas['CorrectedView'];
export type Correction = Schemas['CorrectionOn']['correction'];
export type Occurrence = Schemas['Occurrence'];
export type NameSuggestion = Schemas['NameView'];
export type Picture = Schemas['PictureView'];
export type QuoteBrief = Schemas['QuoteBrief'];
export type Quote = Schemas['QuoteView'];
export type Version = Schemas['VersionView'];
export type Resolved = Schemas['ResolvedView'];
export type Cut = Schemas['CutView'];
export type Pause = Schemas['Pause'];
export type Fast = Schemas['Fast'];
export type Join = Schemas['Join'];
export type Unfair = Schemas['UnfairView'];
export type Rule = Schemas['Rule'];
export type Strike = Schemas['Strike'];
export type Plan = Schemas['PlanView'];
export type PlanPiece = Schemas['Piece'];
export type Revision = Schemas['RevisionView'];
export type Approval = Schemas['ApprovalView'];
export type Loupe = Schemas['LoupeView'];
export type Assembly = Schemas['Assembly'];
export type Cue = Schemas['Cue'];
export type CaptionLook = Schemas['CaptionLook'];
export type Limits = Schemas['Limits'];
export type CueContrast = Schemas['CueContrast'];
export type WantedStyle = Schemas['StyleWanted'];
/** How well the captions of a quote can be told from the picture. */
export type Contrast = Schemas['ContrastView'];
/** What captions spell oddly. */
export type Spelling = Schemas['SpellingView'];
/** A place where captions say a text. */
export type CaptionPlace = Schemas['OccurrenceView'];
export type Framing = Schemas['Framing'];
/** What of a framing is to change. */
export type FramingChange = Schemas['FramingChange'];
/** How a stretch of the cut is framed in one shape. */
export type FramedShot = Schemas['FramedShot'];
/** How a version is framed. */
export type FramedVersion = Schemas['FramedView'];
export type CutShot = Schemas['CutShotView'];
export type Sight = Schemas['SightView'];
export type Followed = Schemas['FollowedView'];
export type View = Schemas['View'];
export type Destination = Schemas['Destination'];
export type HousePicture = Schemas['Picture'];
export type HouseSound = Schemas['HouseSound'];
export type CoverFrame = Schemas['CoverFrame'];
export type Overlay = NonNullable<Schemas['QuoteDocument']['overlays']>[number];
export type FinishOfHouse = Schemas['Finish'];
export type What = Schemas['AddOverlay-Input']['what'];
export type Shows = Schemas['Shows'];
export type Catalogue = Schemas['CatalogueView'];
/** A destination as a house sets it. */
export type WantedDestination = Schemas['Wanted'];
export type Area = Schemas['Area'];
export type CaptionStyle = Schemas['CaptionStyle'];
export type Face = Schemas['Face'];
export type Ranges = Schemas['Ranges'];
export type Gauge = Schemas['Gauge'];
export type Finding = Schemas['Finding'];
export type Passage = Schemas['PassageView'];
export type Asked = Schemas['Asked'];
export type SearchAnswer = Schemas['SearchView'];
export type SearchChoices = Schemas['SearchChoices'];
export type MarkedWords = Schemas['MarkedWords'];
export type Span = Schemas['Span'];
export type Soundbite = Schemas['SoundbiteView'];
export type Offer = Schemas['OfferView'];
export type Slip = Schemas['SlipView'];
export type SlipMark = Slip['mark'];
export type Judged = Schemas['Soundbite'];
export type WeekPost = Schemas['WeekPost'];
export type ComparedQuote = Schemas['ComparedQuote'];
export type Topic = Schemas['TopicView'];
export type Reason = Schemas['Reason'];
export type Package = Schemas['PackageView'];
export type Export = Schemas['ExportView'];
export type ExportRequest = Schemas['ExportRequest'];
export type Outbox = Schemas['OutboxView'];
export type Making = Schemas['Making'];
export type Codec = NonNullable<Making['codec']>;
export type Quality = NonNullable<Making['quality']>;
/** What a quote is posted with, as written and as it is sent for each destination. */
export type Posting = Schemas['PostingView'];
export type PostText = Required<Schemas['PostText-Input']>;
export type VersionText = Schemas['VersionText'];
export type Post = Schemas['PostView'];
export type HousePosting = Schemas['HousePostingView'];
export type CalendarWeeks = Schemas['CalendarView'];
export type PhoneLink = Schemas['MadePhoneLink'];
export type ApiToken = Schemas['TokenView'];
export type ApiScope = ApiToken['scopes'][number];
export type Webhook = Schemas['WebhookView'];
export type Edit = Schemas['Change']['edit'];

/** What the server refused, in its own words. */
export class Problem extends Error {
	constructor(
		readonly status: number,
		readonly code: string,
		message: string
	) {
		super(message);
	}
}

export const api = createClient<paths>({ baseUrl: '/' });

type Answer<T> = { data?: T; error?: unknown; response: Response };

/** The answer of a call; throws a `Problem` where it was refused or the server is away. */
export async function ask<T>(call: Promise<Answer<T>>): Promise<T> {
	let answer: Answer<T>;
	try {
		answer = await call;
	} catch {
		throw new Problem(0, 'Away', 'The server does not answer. Is it still running? Nothing you saved is lost.');
	}
	const empty = answer.response.status === 204;
	if (answer.error !== undefined || (answer.data === undefined && !empty)) {
		throw problemFrom(answer.response.status, answer.error);
	}
	return answer.data as T;
}

/** The problem that an error body tells of. */
export function problemFrom(status: number, body: unknown): Problem {
	const told = (body ?? {}) as { detail?: unknown; code?: string };
	const detail = typeof told.detail === 'string' ? told.detail : 'The server could not do this.';
	return new Problem(status, told.code ?? 'unknown', detail);
}

export const mediaUrl = (recordingId: number) => `/api/recordings/${recordingId}/media`;
export const transcriptUrl = (recordingId: number, kind: string) => `/api/recordings/${recordingId}/transcript.${kind}`;
export const frameUrl = (recordingId: number, atMs: number) => `/api/recordings/${recordingId}/frame?at_ms=${Math.round(atMs)}`;
export const houseSoundUrl = (number: number, revision = 1) => `/api/house/sounds/${number}?revision=${revision}`;
export const coverUrl = (exportId: number, kind: 'png' | 'jpg') => `/api/exports/${exportId}/cover.${kind}`;
/** The revision is there to tell one sound from the next; `plain` is without anything that is done to the voice. */
export const cutSoundUrl = (quoteId: number, destination: string, revision: number, plain = false) =>
	`/api/quotes/${quoteId}/sound.wav?destination=${destination}&revision=${revision}${plain ? '&plain=true' : ''}`;
export const asSaidUrl = (quoteId: number, download = false) => `/api/quotes/${quoteId}/as-said.html${download ? '?download=true' : ''}`;
export const stillUrl = (quoteId: number) => `/api/quotes/${quoteId}/still`;
export const shotStillUrl = (recordingId: number, atMs: number, whole = false) =>
	`/api/recordings/${recordingId}/shots/${atMs}/still${whole ? '?whole=true' : ''}`;
export const recordingStillUrl = (recordingId: number) => `/api/recordings/${recordingId}/still`;
export const exportStillUrl = (exportId: number): string => `/api/exports/${exportId}/still.jpg`;
export const timelineUrl = (quoteId: number, destination: string, kind: 'otio' | 'edl'): string =>
	`/api/quotes/${quoteId}/timeline.${kind}?destination=${encodeURIComponent(destination)}`;
export const saidUrl = (quoteId: number, destination: string, kind: 'words.json' | 'chapters.vtt' | 'chapters.json'): string =>
	`/api/quotes/${quoteId}/said/${kind}?destination=${encodeURIComponent(destination)}`;
export const packageUrl = (quoteIds: number[]): string => `/api/packages.zip?${quoteIds.map((one) => `ids=${one}`).join('&')}`;
export const zipUrl = (ids: number[]): string => `/api/exports.zip?${ids.map((one) => `ids=${one}`).join('&')}`;
export const clipUrl = (exportId: number, download = false) =>
	`/api/exports/${exportId}/clip${download ? '?download=true' : ''}`;
export const captionsUrl = (exportId: number, kind: 'srt' | 'vtt') => `/api/exports/${exportId}/captions.${kind}`;

/** Whether work is still to end by itself. */
export const isLive = (work: Work) => work.state === 'queued' || work.state === 'running';

/** What sends a file as it is, as the body of a request. */
export const asBody = (file: Blob) => ({
	body: file as unknown as string, bodySerializer: () => file, headers: { 'content-type': 'application/octet-stream' }
});
