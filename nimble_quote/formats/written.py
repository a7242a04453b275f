"""Writing the transcript of a talk in open formats.

The JSON is the common shape of recognisers with a little more, and reads back whole. Its schema, times in seconds:

    {"format": "transcript/1", "title": str, "speakers": [str, …],
     "segments": [{"start": float, "end": float, "speaker": str | null, "text": str,
                   "words": [{"word": str, "start": float, "end": float, "timing": "given" | "aligned" | "estimated",
                              "probability": float | null, "heard": str | null}, …]}, …]}

`heard` is what stood there before a person corrected it. Each sentence is a segment.
"""

import html
import json
from collections.abc import Callable, Sequence
from dataclasses import dataclass

from nimble_quote.core.transcript.cues import TimedWord
from nimble_quote.formats.stamps import no_tags, write_stamp

LONGEST_CUE = 84
"""Characters of a cue: two lines of what subtitles commonly hold."""
PAUSE_MS = 100
"""A gap after a word from which WebVTT gets a time for its end too."""

Sentences = Sequence[Sequence[TimedWord]]


@dataclass(frozen=True, kw_only=True)
class Written:
    """A transcript to write: its title, and its words by sentence, none of which is empty."""

    title: str
    sentences: Sentences


def write_srt(talk: Written) -> str:
    """SubRip: a cue for each sentence, or part of one, that two lines hold. The name stands where it changes."""
    cues, before = [], None
    for number, cue in enumerate(_cues(talk.sentences), start=1):
        speaker = cue[0].speaker
        name = f"{no_tags(speaker)}: " if speaker and speaker != before else ""
        before = speaker
        cues.append(f"{number}\n{_times(cue, ',')}\n{name}{no_tags(_text(cue))}\n")
    return "\n".join(cues)


def write_webvtt(talk: Written) -> str:
    """WebVTT with a time for each word and the speaker of each cue."""
    cues = []
    for cue in _cues(talk.sentences):
        words = []
        for word, following in zip(cue, [*cue[1:], None], strict=True):
            end = word.word.end_ms
            pause = following is not None and following.word.start_ms - end >= PAUSE_MS
            words.append(f"<{write_stamp(word.word.start_ms)}>{html.escape(word.word.text, quote=False)}")
            words[-1] += f"<{write_stamp(end)}>" if pause else ""
        text = " ".join(words)
        speaker = cue[0].speaker
        said = f"<v {html.escape(speaker, quote=False)}>{text}</v>" if speaker else text
        cues.append(f"{_times(cue, '.')}\n{said}\n")
    return "WEBVTT\n\n" + "\n".join(cues)


def write_ttml(talk: Written) -> str:
    """TTML 2 text: a `p` for each cue, a timed `span` for each word, agents for the speakers."""
    names = _speakers(talk.sentences)
    agents = "".join(
        f'<ttm:agent xml:id="s{i}" type="person"><ttm:name type="full">{html.escape(name)}</ttm:name></ttm:agent>'
        for i, name in enumerate(names)
    )
    lines = []
    for cue in _cues(talk.sentences):
        speaker = cue[0].speaker
        agent = f' ttm:agent="s{names.index(speaker)}"' if speaker else ""
        origin = cue[0].word.start_ms
        spans = " ".join(
            f'<span begin="{word.word.start_ms - origin}ms" end="{word.word.end_ms - origin}ms">'
            f"{html.escape(word.word.text)}</span>"
            for word in cue
        )
        start, end = write_stamp(origin), write_stamp(cue[-1].word.end_ms)
        lines.append(f'<p begin="{start}" end="{end}"{agent}>{spans}</p>')
    body = "\n".join(lines)
    return (
        '<?xml version="1.0" encoding="UTF-8"?>\n<tt xmlns="http://www.w3.org/ns/ttml" '
        'xmlns:ttm="http://www.w3.org/ns/ttml#metadata" xml:lang="">\n'
        f"<head><metadata><ttm:title>{html.escape(talk.title)}</ttm:title>{agents}</metadata></head>\n"
        f"<body><div>\n{body}\n</div></body>\n</tt>\n"
    )


def write_json(talk: Written) -> str:
    """The schema at the head of this module."""
    segments = [
        {
            "start": _seconds(sentence[0].word.start_ms),
            "end": _seconds(sentence[-1].word.end_ms),
            "speaker": sentence[0].speaker,
            "text": _text(sentence),
            "words": [
                {
                    "word": word.word.text,
                    "start": _seconds(word.word.start_ms),
                    "end": _seconds(word.word.end_ms),
                    "timing": word.timing,
                    "probability": word.sure,
                    "heard": word.heard,
                }
                for word in sentence
            ],
        }
        for sentence in talk.sentences
    ]
    whole = {"format": "transcript/1", "title": talk.title, "speakers": _speakers(talk.sentences), "segments": segments}
    return json.dumps(whole, ensure_ascii=False, indent=1) + "\n"


def write_plain(talk: Written) -> str:
    """Plain text: a paragraph for each turn of a speaker, with its time and name."""
    paragraphs: list[str] = []
    before: str | None = None
    for sentence in talk.sentences:
        speaker = sentence[0].speaker
        if paragraphs and speaker == before:
            paragraphs[-1] += f" {_text(sentence)}"
            continue
        seconds = sentence[0].word.start_ms // 1000
        stamp = f"[{seconds // 3600}:{seconds // 60 % 60:02}:{seconds % 60:02}]"
        paragraphs.append(f"{stamp} {f'{speaker}: ' if speaker else ''}{_text(sentence)}")
        before = speaker
    return "\n\n".join(paragraphs) + "\n"


TRANSCRIPT_WRITERS: dict[str, Callable[[Written], str]] = {
    "srt": write_srt,
    "vtt": write_webvtt,
    "ttml": write_ttml,
    "json": write_json,
    "txt": write_plain,
}


def _cues(sentences: Sentences) -> list[Sequence[TimedWord]]:
    """Sentences cut where they would be too long to stand as one cue."""
    cues: list[Sequence[TimedWord]] = []
    for sentence in sentences:
        first, length = 0, 0
        for index, word in enumerate(sentence):
            size = len(word.word.text) + 1
            if index > first and length + size > LONGEST_CUE:
                cues.append(sentence[first:index])
                first, length = index, 0
            length += size
        cues.append(sentence[first:])
    return cues


def _speakers(sentences: Sentences) -> list[str]:
    return list(dict.fromkeys(s[0].speaker for s in sentences if s[0].speaker))


def _times(cue: Sequence[TimedWord], mark: str) -> str:
    return f"{write_stamp(cue[0].word.start_ms, mark)} --> {write_stamp(cue[-1].word.end_ms, mark)}"


def _text(words: Sequence[TimedWord]) -> str:
    return " ".join(word.word.text for word in words)


def _seconds(ms: int) -> float:
    return ms / 1000
