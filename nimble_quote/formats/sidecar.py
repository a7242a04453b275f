"""Captions of a clip as sidecar files, for places that show their own."""

import html
from collections.abc import Sequence
from fractions import Fraction

from nimble_quote.core.captions.cues import WrittenCue
from nimble_quote.core.timebase import ms_at
from nimble_quote.formats.stamps import no_tags, write_stamp


def write_srt(cues: Sequence[WrittenCue], rate: Fraction) -> str:
    """SubRip text of the cues."""
    return "\n".join(f"{number}\n{_times(cue, rate, ',')}\n{_plain(cue)}\n" for number, cue in enumerate(cues, start=1))


def write_webvtt(cues: Sequence[WrittenCue], rate: Fraction) -> str:
    """WebVTT text of the cues."""
    body = "\n".join(f"{_times(cue, rate, '.')}\n{html.escape(_lines(cue), quote=False)}\n" for cue in cues)
    return f"WEBVTT\n\n{body}"


WRITERS = {"srt": write_srt, "vtt": write_webvtt}


def _times(cue: WrittenCue, rate: Fraction, mark: str) -> str:
    start, end = (write_stamp(round(ms_at(frame, rate)), mark) for frame in (cue.first_frame, cue.end_frame))
    return f"{start} --> {end}"


def _lines(cue: WrittenCue) -> str:
    return "\n".join(cue.lines)


def _plain(cue: WrittenCue) -> str:
    return no_tags(_lines(cue))
