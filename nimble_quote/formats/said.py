"""What a clip says, for other programs: its words one by one, and its chapters.

Words are JSON, times in milliseconds of the clip, and of the recording as `source`:

    {"format": "nimble-quote-words", "version": 1, "title": str, "recording": str, "destination": str, "length_ms": int,
     "words": [{"text": str, "start_ms": int, "end_ms": int, "speaker": str, "emphasised": bool,
                "source": {"start_ms": int, "end_ms": int}}, …]}

Chapters are WebVTT (a cue each), or JSON as podcasts have them (Podcasting 2.0, JSON chapters 1.2.0; seconds).
"""

import html
import json
from collections.abc import Sequence
from dataclasses import dataclass

from nimble_quote.core.captions.words import CaptionWord
from nimble_quote.core.chapters import Chapter
from nimble_quote.core.talk import Talk
from nimble_quote.formats.stamps import write_stamp


@dataclass(frozen=True, kw_only=True)
class SaidInClip:
    """What a version of a quote says."""

    title: str
    recording: str
    destination: str
    length_ms: float
    words: Sequence[CaptionWord]
    speakers: Sequence[str]


def write_words(said: SaidInClip, talk: Talk) -> str:
    """The words as JSON."""
    words = [
        {
            "text": one.text, "start_ms": round(one.start_ms), "end_ms": round(one.end_ms),
            "speaker": said.speakers[one.speaker] if one.speaker < len(said.speakers) else "", "emphasised": one.emphasised,
            "source": {"start_ms": talk.word(one.index).start_ms, "end_ms": talk.word(one.index).end_ms},
        }
        for one in said.words
    ]  # fmt: skip
    told = {
        "format": "nimble-quote-words", "version": 1, "title": said.title, "recording": said.recording,
        "destination": said.destination, "length_ms": round(said.length_ms), "words": words,
    }  # fmt: skip
    return json.dumps(told, indent=1, ensure_ascii=False) + "\n"


def write_chapters_webvtt(chapters: Sequence[Chapter]) -> str:
    """The chapters as WebVTT."""
    cues = [
        f"{number}\n{write_stamp(one.start_ms)} --> {write_stamp(one.end_ms)}\n{html.escape(one.title, quote=False)}\n"
        for number, one in enumerate(chapters, start=1)
    ]
    return "\n".join(["WEBVTT\n", *cues])


def write_chapters_json(chapters: Sequence[Chapter], title: str) -> str:
    """The chapters as podcasts have them."""
    told = [{"startTime": one.start_ms / 1000, "endTime": one.end_ms / 1000, "title": one.title} for one in chapters]
    return json.dumps({"version": "1.2.0", "title": title, "chapters": told}, indent=1, ensure_ascii=False) + "\n"
