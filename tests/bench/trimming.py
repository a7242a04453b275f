"""Trim: what joins sound like, fit plans, the check of fairness, and the preview against the clip."""

import asyncio
import io
import random
import subprocess
import time
import tomllib
import wave
from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass
from fractions import Fraction
from itertools import pairwise
from pathlib import Path
from statistics import median
from typing import Any

import numpy as np
import psycopg

from nimble_quote.core.assembly import frames_of
from nimble_quote.core.cutting.fairness import check_fairness
from nimble_quote.core.cutting.joins import SoundPiece, sound_pieces
from nimble_quote.core.cutting.kept import kept_spans
from nimble_quote.core.cutting.mixing import SAMPLE_RATE, SAMPLES_MS, Samples, mix
from nimble_quote.core.cutting.plans import fit_plan
from nimble_quote.core.cutting.playing import played
from nimble_quote.core.cutting.ways import parts_of
from nimble_quote.core.document import QuoteDocument
from nimble_quote.core.edits import EditRefused, StrikeWords, apply_edit, new_quote
from nimble_quote.core.talk import Levels, Talk
from nimble_quote.core.timebase import Span, total_ms
from nimble_quote.core.transcript.words import Sentence, Word
from nimble_quote.formats.languages import language
from nimble_quote.media.sound import hear_stretch, slices
from tests.bench.table import Row, spread
from tests.conftest import RunningApp, put_demo, wait_for, wait_until_prepared
from tests.cuts import cut_of
from tests.helpers import edit, keep
from tests.talks import context_of
from tests.truth import truth_of

DEMO = "keep-the-wick-short"
CUTS = 500
CLIPPED_MS = 15
"""Less than this of a word can't be heard to be missing."""
CLICK = 2.0
"""A step from sample to sample that is so many times the steepest of the sound around it is a click."""
_BREATH_MS = (240, 60)
"""How long the breaths are that are mixed into the gaps, and how long before the next word they end."""
JUDGED = Path(__file__).with_name("cuts.toml")


@dataclass(frozen=True, kw_only=True)
class Heard:
    """A demo talk with its sound, what is true of its words, and the breaths that were mixed in."""

    talk: Talk
    samples: Samples
    words: Sequence[Span]
    breaths: Sequence[Span]


@dataclass(frozen=True, kw_only=True)
class Faults:
    """What is wrong with some joins."""

    joins: int
    clicks: int
    clipped: int
    doubled: int

    @property
    def said(self) -> str:
        return f"{self.clicks} clicks, {self.clipped} clipped words, {self.doubled} doubled breaths"


def measure(running: RunningApp) -> list[Row]:
    """All figures of Trim."""
    demo = put_demo(running, DEMO)
    with running.client as client:
        wait_until_prepared(client, demo, 240)
    heard = _heard(running, demo)
    return [_joins(heard), _plan(), _lengths(heard), _preview(running, demo), *_fairness()]


def talk_of_api(client: Any, recording: int) -> Talk:
    """A talk as the server knows it, with its waveform."""
    told = client.get(f"/api/recordings/{recording}/transcript").json()["sentences"]
    words: list[Word] = []
    sentences: list[Sentence] = []
    for one in told:
        first = len(words)
        for text, start, end in zip(one["words"], one["starts_ms"], one["ends_ms"], strict=True):
            words.append(Word(index=len(words), text=text, start_ms=start, end_ms=end))
        sentences.append(Sentence(first=first, end=len(words), speaker=one["speaker"]))
    return Talk(
        words=words, sentences=sentences, duration_ms=client.get(f"/api/recordings/{recording}").json()["duration_ms"],
        levels=Levels(values=client.get(f"/api/recordings/{recording}/peaks").content), language=language("en"),
    )  # fmt: skip


def _heard(running: RunningApp, demo: int) -> Heard:
    with running.client as client:
        talk = talk_of_api(client, demo)
    with psycopg.connect(running.settings.database_url) as conn:
        row = conn.execute("select media_path from recording where id = %s", [demo]).fetchone()
    assert row
    source = running.settings.media_root / str(row[0])
    samples = asyncio.run(hear_stretch(source, 0, Span(start_ms=0, end_ms=talk.duration_ms))).copy()
    words = [Span(start_ms=one["start_ms"], end_ms=one["end_ms"]) for one in truth_of(DEMO)["words"]]
    breaths = _breathe(samples, words)
    rows = np.abs(samples[: len(samples) // 480 * 480]).max(axis=1).reshape(-1, 480).max(axis=1)
    levels = (np.sqrt(rows) * 255).astype(np.uint8).tobytes()
    with_breaths = Talk(
        words=talk.words, sentences=talk.sentences, duration_ms=talk.duration_ms, levels=Levels(values=levels),
        language=talk.language,
    )  # fmt: skip
    return Heard(talk=with_breaths, samples=samples, words=words, breaths=breaths)


def _breathe(samples: Samples, words: Sequence[Span]) -> list[Span]:
    """Mixes a breath into every gap with room for one: the voices of the demo do not breathe."""
    dice = np.random.default_rng(5)
    length, before = _BREATH_MS
    breaths = []
    for left, right in pairwise(words):
        if right.start_ms - left.end_ms < length + before + 150:
            continue
        start = right.start_ms - before - length
        noise = dice.normal(0, 0.02, (length * SAMPLES_MS, 1)).astype(np.float32)
        noise *= np.sin(np.linspace(0, np.pi, len(noise), dtype=np.float32))[:, None]
        samples[start * SAMPLES_MS : (start + length) * SAMPLES_MS] += noise
        breaths.append(Span(start_ms=start, end_ms=start + length))
    return breaths


def _random_cuts(talk: Talk) -> list[QuoteDocument]:
    """Quotes of ten to forty seconds, each with a few words struck somewhere in it."""
    dice = random.Random(11)
    out = []
    while len(out) < CUTS:
        first = dice.randrange(len(talk.words) - 140)
        document = new_quote(context_of(talk), first, first + dice.randint(30, 120))
        inside = [word.index for word in talk.between(document.span.start_ms, document.span.end_ms)]
        at = dice.randrange(2, len(inside) - 9)
        try:
            out.append(
                apply_edit(
                    document, StrikeWords(first=inside[at], last=inside[at + dice.randint(0, 6)]), context_of(talk)
                )
            )
        except EditRefused:
            continue
    return out


def _joins(heard: Heard) -> Row:
    cuts = _random_cuts(heard.talk)
    placed = _faults(heard, [kept_spans(one) for one in cuts], bare=False)
    bare = _faults(heard, [_at_word_times(one, heard.talk) for one in cuts], bare=True)
    return Row(
        what=f"joins of {len(cuts)} random word cuts of the demo talk ({placed.joins} joins)", measured=placed.said,
        baseline=f"cut at the words' own times, unfaded: {bare.said}", aim="none", met=placed.clicks + placed.clipped + placed.doubled == 0,
    )  # fmt: skip


def _at_word_times(document: QuoteDocument, talk: Talk) -> tuple[Span, ...]:
    """The same words kept, cut where the transcript says that they begin and end."""
    kept = [talk.between(span.start_ms, span.end_ms) for span in kept_spans(document)]
    return tuple(Span(start_ms=words[0].start_ms, end_ms=words[-1].end_ms) for words in kept if words)


def _faults(heard: Heard, cuts: Sequence[tuple[Span, ...]], bare: bool) -> Faults:
    joins = clicks = clipped = doubled = 0
    for kept in cuts:
        pieces = sound_pieces(kept, [], heard.talk)
        bed = _unfaded(kept, heard.samples) if bare else mix(pieces, slices(pieces, heard.samples, 0))
        for before, after in pairwise(pieces):
            joins += 1
            clicks += _clicks(bed, after.out_ms, heard.samples, before.end_ms, after.source_ms)
            clipped += _clipped(before, after, heard.words)
            doubled += _doubled(before, after, heard.breaths)
    return Faults(joins=joins, clicks=clicks, clipped=clipped, doubled=doubled)


def _unfaded(kept: Sequence[Span], samples: Samples) -> Samples:
    return np.concatenate([samples[one.start_ms * SAMPLES_MS : one.end_ms * SAMPLES_MS] for one in kept])


def _clicks(bed: Samples, out_ms: int, source: Samples, before_ms: int, after_ms: int) -> bool:
    """Whether the steepest step at a join is steeper than what was said on either side of it has."""
    at = out_ms * SAMPLES_MS
    step = np.abs(np.diff(bed[at - 15 * SAMPLES_MS : at + 15 * SAMPLES_MS, 0])).max(initial=0)
    beside = [
        np.abs(np.diff(source[max(0, ms - 60) * SAMPLES_MS : (ms + 60) * SAMPLES_MS, 0])).max(initial=0)
        for ms in (before_ms, after_ms)
    ]
    return bool(step > CLICK * max(*beside, 1e-3))


def _clipped(before: SoundPiece, after: SoundPiece, words: Sequence[Span]) -> int:
    """Words of which a part is heard and a part that could be heard is not, at one join."""
    count = 0
    for word in words:
        for start, end, gone_after in ((before.source_ms, before.end_ms, True), (after.source_ms, after.end_ms, False)):
            mine = min(end, word.end_ms) - max(start, word.start_ms)
            if mine > word.length_ms / 2:
                lost = word.end_ms - end if gone_after else start - word.start_ms
                count += lost > CLIPPED_MS
    return count


def _doubled(before: SoundPiece, after: SoundPiece, breaths: Sequence[Span]) -> bool:
    """Whether most of a breath is heard on both sides of a join, near it."""

    def most(piece: SoundPiece, near_ms: int) -> bool:
        return any(
            min(piece.end_ms, one.end_ms) - max(piece.source_ms, one.start_ms) > one.length_ms / 2
            for one in breaths
            if abs(one.start_ms - near_ms) < 700
        )

    return most(before, before.end_ms) and most(after, after.source_ms)


def _plan() -> Row:
    """A passage of six minutes brought to sixty seconds."""
    document, talk = cut_of(_six_minutes())
    kept = total_ms(kept_spans(document, "tall-60"))
    took, read = [], []
    for _ in range(7):
        began = time.perf_counter()
        parts = parts_of(document, talk, "tall-60", {})
        read.append((time.perf_counter() - began) * 1000)
        plan = fit_plan(parts, kept, 60_000)
        took.append((time.perf_counter() - began) * 1000)
    return Row(
        what=f"a fit plan for {kept / 60_000:.1f} min to 60 s, {len(parts)} sentences, {len(plan.pieces)} pieces", measured=spread(took),
        baseline=f"reading what could go {spread(read)}", aim="200 ms, as good as trying everything (tested)", met=median(took) <= 200 and plan.reached,
    )  # fmt: skip


def _six_minutes() -> str:
    dice = random.Random(2)
    said = "lamp oil harbour wick short light glass keep mend boat fog gate scissors patience evening copper".split()
    line: list[str] = []
    while len(line) < 740:
        words = [dice.choice(said) for _ in range(dice.randint(5, 20))]
        if dice.random() < 0.5:
            words.insert(dice.randrange(1, len(words)), "um,")
        line += [*words[:-1], words[-1] + ".", *(["{1}"] if dice.random() < 0.4 else [])]
    return " ".join(line)


def _lengths(heard: Heard) -> Row:
    """What rounding to frames loses of a cut, at every rate."""
    lost = []
    for document in _random_cuts(heard.talk):
        kept = kept_spans(document)
        for rate in (Fraction(24000, 1001), Fraction(25), Fraction(30000, 1001), Fraction(50)):
            made = float(frames_of(played(kept), rate) * 1000 / rate)
            lost.append((total_ms(kept) - made) / float(1000 / rate))
    return Row(
        what=f"length of a cut made of whole frames, {len(lost)} cuts", measured=f"{min(lost):.3f} to {max(lost):.3f} frames lost",
        baseline="rounding each edge to its frame: up to a frame more for each join", aim="never over, under 1 frame lost",
        met=min(lost) > -0.002 and max(lost) < 1,
    )  # fmt: skip


def _preview(running: RunningApp, demo: int) -> Row:
    """The sound that the browser plays against that of the finished clip, around each join."""
    with running.client as client:
        quote = keep(client, demo, "When I was nineteen,", "three times before I got them.")
        words = quote["cut"]["kept_words"]
        for place in range(12, len(words) - 4, 14):
            quote = edit(client, quote, kind="strike-words", first=words[place], last=words[place + 2]).json()
        destination = quote["versions"][0]["destination"]
        wav = client.get(f"/api/quotes/{quote['id']}/sound.wav", params={"destination": destination}).content
        made = client.post(f"/api/quotes/{quote['id']}/exports", json={}).json()[0]["id"]

        def done() -> bool:
            return any(one["id"] == made and one["state"] == "done" for one in client.get("/api/exports").json())

        wait_for(done, "the clip", 240)
        clip = client.get(f"/api/exports/{made}/clip").content
    with wave.open(io.BytesIO(wav)) as sound:
        preview = np.frombuffer(sound.readframes(sound.getnframes()), "<i2").reshape(-1, 2)[:, 0] / 32768
    joins = [one["out_ms"] for one in quote["cut"]["joins"]]
    apart = [_shift_ms(preview, _decoded(clip), at) for at in joins]
    return Row(
        what=f"the sound of the preview against the clip's, at {len(joins)} joins", measured=f"at most {max(apart):.2f} ms apart",
        baseline="a seek at each join stops for 40 ms and more", aim="5 ms", met=max(apart) <= 5,
    )  # fmt: skip


def _decoded(clip: bytes) -> "np.ndarray[Any, np.dtype[np.float32]]":
    command = ["ffmpeg", "-v", "error", "-i", "pipe:0", "-ac", "1", "-ar", str(SAMPLE_RATE), "-f", "f32le", "-"]
    return np.frombuffer(subprocess.run(command, input=clip, capture_output=True, check=True).stdout, "<f4")


def _shift_ms(preview: Any, clip: Any, at_ms: int) -> float:
    """How far apart the two are around a moment, by their correlation."""
    half = 400 * SAMPLES_MS
    at = max(half, min(at_ms * SAMPLES_MS, min(len(preview), len(clip)) - half))
    a, b = preview[at - half : at + half], clip[at - half : at + half]
    spectrum = np.fft.rfft(a, 4 * half) * np.conj(np.fft.rfft(b, 4 * half))
    lag = int(np.argmax(np.fft.irfft(spectrum)))
    return abs(lag if lag < 2 * half else lag - 4 * half) / SAMPLES_MS


def _fairness() -> list[Row]:
    """Each rule on the cuts that people judged: those that were at hand when it was written, and those written after."""
    judged = tomllib.loads(JUDGED.read_text("utf-8"))
    rows = []
    for name, said in (("cuts", "cuts"), ("later", "cuts written after the rules")):
        hit, missed, extra = Counter[str](), Counter[str](), Counter[str]()
        for line, unfair in judged[name]:
            found, wanted = {one.rule for one in check_fairness(*cut_of(line))}, set(unfair.split())
            hit.update(found & wanted)
            missed.update(wanted - found)
            extra.update(found - wanted)
        for rule in sorted({*hit, *missed, *extra}):
            precision, recall = (
                hit[rule] / max(1, hit[rule] + extra[rule]),
                hit[rule] / max(1, hit[rule] + missed[rule]),
            )
            strict = rule in ("negation", "correction")
            rows.append(
                Row(
                    what=f"fairness, {rule}, {len(judged[name])} {said}",
                    measured=f"precision {precision:.2f}, recall {recall:.2f} ({hit[rule] + missed[rule]} there)",
                    baseline="noting nothing: recall 0", aim="recall 0.9" if strict else "told", met=recall >= 0.9 or not strict,
                )
            )  # fmt: skip
    return rows
