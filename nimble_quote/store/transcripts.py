"""The words of recordings, a row for each sentence, and what people corrected in them."""

import json
from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass
from typing import Any

from psycopg.rows import class_row, dict_row, scalar_row
from psycopg.types.json import Jsonb

from nimble_quote.core.refusal import Conflict
from nimble_quote.core.timebase import Span
from nimble_quote.core.transcript.document import (
    Piece,
    SpokenSentence,
    SpokenWord,
    Transcript,
    ends_set,
    numbered,
    numbered_by_time,
    pieces_between,
    undoing,
)
from nimble_quote.core.transcript.words import ALONE, Lineage, Sentence, Word, WordRef
from nimble_quote.store.database import Connection, NotFound
from nimble_quote.store.search import make_stretches


@dataclass(frozen=True, kw_only=True)
class SentenceRow:
    """A sentence: its words, their times and where those come from, side by side."""

    number: int
    first_word: int
    speaker: str | None
    words: list[str]
    starts_ms: list[int]
    ends_ms: list[int]
    timing: str
    sure: list[int | None] | None
    heard: list[str | None] | None
    ids: list[int]
    lineage: list[Any] | None


@dataclass(frozen=True, kw_only=True)
class TranscriptHead:
    """How far the corrections of a transcript are: the revision, and what undo and redo would do."""

    revision: int
    undo_said: str | None
    redo_said: str | None


class StaleTranscript(Conflict):
    """A correction was made on a transcript that has changed since."""

    code = "stale-transcript"

    def __init__(self) -> None:
        super().__init__("The words were changed elsewhere in the meantime. Your correction was not made; look again.")


ENDS_FOUND = "Found where sentences end"
"""What a revision is called that no person made, but better times and marks."""
_BLOCK = 500
_NULL = r"\N"
_ESCAPED = str.maketrans({"\\": r"\\", "\n": r"\n", "\r": r"\r", "\t": r"\t"})
_COLUMNS = "number, first_word, speaker, words, starts_ms, ends_ms, timing, sure, heard, ids, lineage"


@dataclass(frozen=True, kw_only=True)
class WordRows:
    """A transcript as the database takes it in: blocks of rows, a line a sentence, and the colours of its speakers.

    Made in another process, it comes back without an object for each of its words.
    """

    blocks: tuple[bytes, ...]
    colours: dict[str, int]
    words: int
    """How many there are, numbered from 0."""


def rows_of(transcript: Transcript) -> WordRows:
    """A transcript, ready to be kept."""
    blocks = tuple(_blocks(transcript.sentences))
    return WordRows(blocks=blocks, colours=transcript.colours, words=transcript.word_count)


async def keep(conn: Connection, recording_id: int, rows: WordRows) -> None:
    """Keeps the transcript of a recording, instead of any kept before and of what was corrected in it."""
    await conn.execute("delete from sentence where recording_id = %s", [recording_id])
    await conn.execute("delete from transcript_revision where recording_id = %s", [recording_id])
    await conn.execute("update recording set transcript_head = 0 where id = %s", [recording_id])
    await _keep_colours(conn, recording_id, rows.colours)
    await _copy(conn, recording_id, rows.blocks)
    await _number_on(conn, recording_id, rows.words)
    await make_stretches(conn, recording_id)


async def _number_on(conn: Connection, recording_id: int, words: int) -> None:
    """Gives the words of a new transcript numbers that no word of the recording had before."""
    cursor = await conn.execute("select next_word_id from recording where id = %s for update", [recording_id])
    row = await cursor.fetchone()
    assert row is not None
    if used := int(str(row[0])):
        await conn.execute(
            """update sentence set ids = array(select id + %s from unnest(ids) with ordinality as w (id, place) order by place)
               where recording_id = %s""",
            [used, recording_id],
        )
    await conn.execute("update recording set next_word_id = %s where id = %s", [used + words, recording_id])


async def retime(conn: Connection, recording_id: int, transcript: Transcript) -> None:
    """Gives the words of a transcript other times; all else of it is as it is kept."""
    async with conn.cursor() as cursor:
        await cursor.executemany(
            "update sentence set starts_ms = %s, ends_ms = %s, timing = %s where recording_id = %s and number = %s",
            [
                [[w.start_ms for w in one.words], [w.end_ms for w in one.words],
                 "".join(w.timing for w in one.words), recording_id, number]
                for number, one in enumerate(transcript.sentences)
            ],
        )  # fmt: skip
    await make_stretches(conn, recording_id)


async def resentence(conn: Connection, recording_id: int, transcript: Transcript) -> None:
    """Keeps the words of a transcript in other sentences and with other times; their numbers stay. Only for one that was
    never corrected: corrections are kept by the sentence."""
    await conn.execute("delete from sentence where recording_id = %s", [recording_id])
    await _copy(conn, recording_id, _blocks(transcript.sentences))
    await make_stretches(conn, recording_id)


async def ends_set_by_hand(conn: Connection, recording_id: int) -> dict[WordRef, bool]:
    """The words of a recording after which somebody ended a sentence, or had it go on, in the corrections that count."""
    cursor = await conn.execute(
        """with recursive counting as (
               select v.* from transcript_revision v join recording r
                   on r.id = v.recording_id and r.transcript_head = v.number where r.id = %s
               union all
               select v.* from transcript_revision v join counting c
                   on v.recording_id = c.recording_id and v.number = c.parent)
           select change->'pieces' from counting where said <> %s order by number""",
        [recording_id, ENDS_FOUND],
    )
    changes: list[Any] = await cursor.fetchall()
    return ends_set([_piece(stored) for stored in row[0]] for row in changes)


async def was_corrected(conn: Connection, recording_id: int) -> bool:
    """Whether there is a correction of the words, also one that was taken back."""
    found = await conn.execute("select from transcript_revision where recording_id = %s limit 1", [recording_id])
    return found.rowcount > 0


async def whole(conn: Connection, recording_id: int) -> list[SentenceRow]:
    """All sentences of a recording, in order."""
    async with conn.cursor(row_factory=class_row(SentenceRow)) as cursor:
        await cursor.execute(
            f"select {_COLUMNS} from sentence where recording_id = %s order by number",  # noqa: S608 - a constant
            [recording_id],
        )
        return await cursor.fetchall()


async def whole_as_json(conn: Connection, recording_id: int) -> str:
    """All sentences of a recording as a JSON list of their columns, written by the database: a talk of forty hours would
    keep everybody waiting while it went through objects of ours."""
    async with conn.cursor(row_factory=scalar_row) as cursor:
        await cursor.execute(
            r"""select coalesce(json_agg(json_build_object(
                   'speaker', speaker, 'words', words, 'starts_ms', starts_ms, 'ends_ms', ends_ms, 'timing', timing,
                   'sure', sure, 'heard', heard,
                   -- As ends_by_mark in core/transcript/sentences.py; a test holds the two together.
                   'doubtful_end', words[cardinality(words)] !~ '[.?!…؟۔।॥。！？｡]["''”’»›」』】》)\]]*$') order by number), '[]')::text
               from sentence where recording_id = %s""",
            [recording_id],
        )
        return str(await cursor.fetchone())


async def load(conn: Connection, recording_id: int) -> Transcript:
    """The transcript of a recording, to be corrected."""
    rows = await whole(conn, recording_id)
    cursor = await conn.execute("select next_word_id from recording where id = %s", [recording_id])
    counter = await cursor.fetchone()
    return Transcript(
        sentences=tuple(_sentence(row) for row in rows),
        colours=await colours(conn, recording_id),
        next_id=int(str(counter[0])) if counter else 0,
    )


async def has_estimates(conn: Connection, recording_id: int) -> bool:
    """Whether some words of a recording have times that are only estimated."""
    cursor = await conn.execute(
        "select exists (select from sentence where recording_id = %s and timing ~ 'e')", [recording_id]
    )
    row = await cursor.fetchone()
    return bool(row and row[0])


async def colours(conn: Connection, recording_id: int) -> dict[str, int]:
    """The speakers of a recording and their colours."""
    cursor = await conn.execute(
        "select name, colour from speaker where recording_id = %s order by name", [recording_id]
    )
    return {str(name): int(str(colour)) for name, colour in await cursor.fetchall()}


async def sentences_in(conn: Connection, recording_id: int, span: Span) -> list[SentenceRow]:
    """Every sentence that touches a span, in order."""
    async with conn.cursor(row_factory=class_row(SentenceRow)) as cursor:
        await cursor.execute(
            f"""select {_COLUMNS} from sentence
                where recording_id = %s and end_ms >= %s and start_ms <= %s order by number""",  # noqa: S608 - a constant
            [recording_id, span.start_ms, span.end_ms],
        )
        return await cursor.fetchall()


async def sentences_of_spans(conn: Connection, wanted: Sequence[tuple[int, Span]]) -> list[list[SentenceRow]]:
    """For each of some spans of recordings every sentence that touches it, in order, all with one query."""
    async with conn.cursor(row_factory=dict_row) as cursor:
        await cursor.execute(
            f"""select w.place as wanted, {_COLUMNS}
                from unnest(%s::bigint[], %s::integer[], %s::integer[]) with ordinality as w (of, since, until, place)
                join sentence s on s.recording_id = w.of and s.end_ms >= w.since and s.start_ms <= w.until
                order by w.place, number""",  # noqa: S608 - a constant
            [[of for of, _ in wanted], [span.start_ms for _, span in wanted], [span.end_ms for _, span in wanted]],
        )
        found: list[list[SentenceRow]] = [[] for _ in wanted]
        for row in await cursor.fetchall():
            found[row.pop("wanted") - 1].append(SentenceRow(**row))
        return found


async def sentences_between(
    conn: Connection, recording_id: int, first: int, last: int, beside: int = 0
) -> list[SentenceRow]:
    """The sentences that hold one of the words `first` to `last`, and so many beside them on either side."""
    async with conn.cursor(row_factory=class_row(SentenceRow)) as cursor:
        await cursor.execute(
            f"""with held as (
                   select min(number) as low, max(number) as high from sentence
                   where recording_id = %(id)s and first_word <= %(last)s
                     and first_word + cardinality(words) > %(first)s)
               select {_COLUMNS} from sentence, held
               where recording_id = %(id)s and number between held.low - %(beside)s and held.high + %(beside)s
               order by number""",  # noqa: S608 - a constant
            {"id": recording_id, "first": first, "last": last, "beside": beside},
        )
        return await cursor.fetchall()


def words_of(rows: Sequence[SentenceRow]) -> list[Word]:
    """The words of sentences that follow one another."""
    return numbered((_sentence(row) for row in rows), rows[0].first_word) if rows else []


def bounds_of(rows: Sequence[SentenceRow]) -> list[Sentence]:
    """Which words each of some sentences has, and who says it."""
    return [Sentence(first=row.first_word, end=row.first_word + len(row.words), speaker=row.speaker) for row in rows]


async def head(conn: Connection, recording_id: int, lock: bool = False) -> TranscriptHead:
    """How far corrections are, with the transcript locked where it is to be changed. Raises `NotFound`."""
    if lock:
        await conn.execute("select from recording where id = %s for update", [recording_id])
    async with conn.cursor(row_factory=class_row(TranscriptHead)) as cursor:
        await cursor.execute(
            """select r.transcript_head as revision,
                   (select v.said from transcript_revision v
                    where v.recording_id = r.id and v.number = r.transcript_head) as undo_said,
                   (select v.said from transcript_revision v
                    where v.recording_id = r.id and v.parent = r.transcript_head order by v.number desc limit 1) as redo_said
               from recording r where r.id = %s""",
            [recording_id],
        )
        row = await cursor.fetchone()
    if row is None:
        raise NotFound("There is no such recording.")
    return row


async def revise(
    conn: Connection, recording_id: int, on_revision: int, before: Transcript, after: Transcript, said: str
) -> None:
    """Makes a correction that was computed on a transcript read with its lock, and keeps how to undo it."""
    pieces = pieces_between(before, after)
    change = {"pieces": [_plain_piece(piece) for piece in pieces], "colours": [before.colours, after.colours]}
    await conn.execute(
        """with added as (
               insert into transcript_revision (recording_id, number, parent, said, change)
               select %(id)s, coalesce(max(number), 0) + 1, %(parent)s, %(said)s, %(change)s
               from transcript_revision where recording_id = %(id)s returning number)
           update recording set transcript_head = (select number from added), next_word_id = %(next)s where id = %(id)s""",
        {"id": recording_id, "parent": on_revision, "said": said, "change": Jsonb(change), "next": after.next_id},
    )
    await _keep_colours(conn, recording_id, after.colours)
    await _apply(conn, recording_id, pieces)


async def undo(conn: Connection, recording_id: int) -> None:
    """Takes the last correction back, where there is one. Call with the transcript locked."""
    cursor = await conn.execute(
        """select v.parent, v.change from transcript_revision v join recording r
           on r.id = v.recording_id and r.transcript_head = v.number where r.id = %s""",
        [recording_id],
    )
    if row := await cursor.fetchone():
        await _turn(conn, recording_id, int(str(row[0])), row[1], undone=True)


async def redo(conn: Connection, recording_id: int) -> None:
    """Makes the newest correction again that was taken back here. Call with the transcript locked."""
    cursor = await conn.execute(
        """select v.number, v.change from transcript_revision v join recording r
           on r.id = v.recording_id and r.transcript_head = v.parent where r.id = %s
           order by v.number desc limit 1""",
        [recording_id],
    )
    if row := await cursor.fetchone():
        await _turn(conn, recording_id, int(str(row[0])), row[1], undone=False)


async def _turn(conn: Connection, recording_id: int, to_head: int, change: Any, undone: bool) -> None:
    pieces = [_piece(stored) for stored in change["pieces"]]
    if any(word.id is None for piece in pieces for one in (*piece.removed, *piece.added) for word in one.words):
        pieces, next_id = numbered_by_time(pieces, await load(conn, recording_id))
        await conn.execute("update recording set next_word_id = %s where id = %s", [next_id, recording_id])
    before, after = change["colours"]
    await _keep_colours(conn, recording_id, before if undone else after)
    if undone:
        pieces = undoing(pieces)
    await _apply(conn, recording_id, pieces)
    await conn.execute("update recording set transcript_head = %s where id = %s", [to_head, recording_id])


async def _apply(conn: Connection, recording_id: int, pieces: Sequence[Piece]) -> None:
    for piece in reversed(pieces):
        end, shift = piece.at + len(piece.removed), len(piece.added) - len(piece.removed)
        await conn.execute(
            "delete from sentence where recording_id = %s and number >= %s and number < %s",
            [recording_id, piece.at, end],
        )
        if shift:
            await conn.execute(
                "update sentence set number = number + %s where recording_id = %s and number >= %s",
                [shift, recording_id, end],
            )
        await conn.execute("set constraints sentence_pkey, sentence_recording_id_first_word_key deferred")
        await _copy(conn, recording_id, _blocks(piece.added, piece.at))
    if pieces:
        await _renumber(conn, recording_id)
        await make_stretches(conn, recording_id)


async def _copy(conn: Connection, recording_id: int, blocks: Iterable[bytes]) -> None:
    before = b"%d\t" % recording_id
    columns = f"copy sentence (recording_id, {_COLUMNS}, body) from stdin"
    async with conn.cursor() as cursor, cursor.copy(columns) as rows:
        for block in blocks:
            # A line end in a block is the end of a row: one inside a word would be written as an escape.
            await rows.write(before + block[:-1].replace(b"\n", b"\n" + before) + b"\n")


def _blocks(sentences: Sequence[SpokenSentence], at: int = 0) -> Iterator[bytes]:
    """Sentences in PostgreSQL's text format of rows, some at a time, numbered from `at`, the words from 0."""
    first_word = 0
    for start in range(0, len(sentences), _BLOCK):
        lines = []
        for number, one in enumerate(sentences[start : start + _BLOCK], start=at + start):
            lines.append(_line(number, first_word, one))
            first_word += len(one.words)
        yield "".join(lines).encode()


def _line(number: int, first_word: int, one: SpokenSentence) -> str:
    words = one.words
    fields = (
        str(number), str(first_word), _field(one.speaker), _array([w.text for w in words]),
        _numbers([w.start_ms for w in words]), _numbers([w.end_ms for w in words]), "".join([w.timing for w in words]),
        _numbers([w.sure for w in words]) if any(w.sure is not None for w in words) else _NULL,
        _array([w.heard for w in words]) if any(w.heard is not None for w in words) else _NULL,
        # A word that was never kept is numbered by its place.
        _numbers([first_word + place if w.id is None else w.id for place, w in enumerate(words)]),
        _field(_lineages(words)),
        _field(one.text),
    )  # fmt: skip
    return "\t".join(fields) + "\n"


def _field(text: str | None) -> str:
    return _NULL if text is None else text.translate(_ESCAPED)


def _array(texts: Sequence[str | None]) -> str:
    quoted = ["NULL" if text is None else '"' + text.replace("\\", "\\\\").replace('"', '\\"') + '"' for text in texts]
    return _field("{" + ",".join(quoted) + "}")


def _numbers(values: Sequence[int | None]) -> str:
    return "{" + ",".join(["NULL" if value is None else str(value) for value in values]) + "}"


async def _renumber(conn: Connection, recording_id: int) -> None:
    """Gives each sentence the number of its first word anew."""
    await conn.execute(
        """update sentence s set first_word = c.first from (
               select number, sum(cardinality(words)) over (order by number) - cardinality(words) as first
               from sentence where recording_id = %(id)s) c
           where s.recording_id = %(id)s and s.number = c.number and s.first_word <> c.first""",
        {"id": recording_id},
    )
    await conn.execute("set constraints sentence_pkey, sentence_recording_id_first_word_key immediate")


async def _keep_colours(conn: Connection, recording_id: int, wanted: dict[str, int]) -> None:
    async with conn.cursor() as cursor:
        await cursor.executemany(
            """insert into speaker (recording_id, name, colour) values (%s, %s, %s)
               on conflict (recording_id, name) do update set colour = excluded.colour""",
            [[recording_id, name, colour] for name, colour in wanted.items()],
        )


async def names(conn: Connection) -> list[str]:
    """The names of the house, as it spells them."""
    async with conn.cursor(row_factory=scalar_row) as cursor:
        await cursor.execute("select name from house_name order by name")
        return [str(name) for name in await cursor.fetchall()]


async def add_name(conn: Connection, name: str) -> None:
    """Adds a name to those of the house; one that is there stays."""
    await conn.execute("insert into house_name (name) values (%s) on conflict do nothing", [name])


async def drop_name(conn: Connection, name: str) -> None:
    """Takes a name off those of the house."""
    await conn.execute("delete from house_name where name = %s", [name])


def _sentence(row: SentenceRow) -> SpokenSentence:
    count = len(row.words)
    sure, heard, lineage = (column or [None] * count for column in (row.sure, row.heard, row.lineage))
    words = (
        SpokenWord(
            text=text,
            start_ms=start,
            end_ms=end,
            timing=timing,
            sure=certain,
            heard=before,
            id=ref,
            lineage=_lineage(stored),
        )
        for text, start, end, timing, certain, before, ref, stored in zip(
            row.words, row.starts_ms, row.ends_ms, row.timing, sure, heard, row.ids, lineage, strict=True
        )
    )
    return SpokenSentence(words=tuple(words), speaker=row.speaker)


def _plain_piece(piece: Piece) -> dict[str, Any]:
    return {"at": piece.at, "removed": _plain(piece.removed), "added": _plain(piece.added)}


def _plain(sentences: Sequence[SpokenSentence]) -> list[Any]:
    return [
        [
            one.speaker,
            [
                [w.text, w.start_ms, w.end_ms, w.timing, w.sure, w.heard, w.id, _plain_lineage(w.lineage)]
                for w in one.words
            ],
        ]
        for one in sentences
    ]


def _with_id(stored: list[Any]) -> list[Any]:
    """A word as it is told in a change; those of before there were numbers tell none."""
    return stored if len(stored) == 8 else [*stored, None, None]


def _plain_lineage(lineage: Lineage) -> list[Any] | None:
    return None if lineage == ALONE else [list(lineage.joined), list(lineage.gone), lineage.part_of]


def _lineage(stored: list[Any] | None) -> Lineage:
    return ALONE if stored is None else Lineage(joined=tuple(stored[0]), gone=tuple(stored[1]), part_of=stored[2])


def _lineages(words: Sequence[SpokenWord]) -> str | None:
    """What corrections made of the words of a sentence, as JSON; None where nothing."""
    if all(word.lineage is ALONE or word.lineage == ALONE for word in words):
        return None
    return json.dumps([_plain_lineage(word.lineage) for word in words])


def _piece(stored: dict[str, Any]) -> Piece:
    return Piece(at=stored["at"], removed=_sentences(stored["removed"]), added=_sentences(stored["added"]))


def _sentences(stored: list[Any]) -> tuple[SpokenSentence, ...]:
    return tuple(
        SpokenSentence(
            words=tuple(
                SpokenWord(
                    text=text,
                    start_ms=start,
                    end_ms=end,
                    timing=timing,
                    sure=sure,
                    heard=heard,
                    id=ref,
                    lineage=_lineage(lineage),
                )
                for text, start, end, timing, sure, heard, ref, lineage in (_with_id(word) for word in words)
            ),
            speaker=speaker,
        )
        for speaker, words in stored
    )
