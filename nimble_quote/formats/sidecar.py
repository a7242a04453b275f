"""Captions of a clip as sidecar files, for places that show their own."""

import html
from fractions import Fraction

from nimble_quote.core.captions.timing import Cue
from nimble_quote.core.timebase import ms_at
from nimble_quote.formats.stamps import no_tags, write_stamp


def write_srt(cues: tuple[Cue, ...], rate: Fraction) -> str:
    """SubRip text of the cues."""
    return "\n".join(f"{number}\n{_times(cue, rate, ',')}\n{_plain(cue)}\n" for number, cue in enumerate(cues, start=1))


def write_webvtt(cues: tuple[Cue, ...], rate: Fraction) -> str:
    """WebVTT text of the cues."""
    body = "\n".join(f"{_times(cue, rate, '.')}\n{html.escape(_lines(cue), quote=False)}\n" for cue in cues)
    return f"WEBVTT\n\n{body}"


WRITERS = {"srt": write_srt, "vtt": write_webvtt}


def _times(cue: Cue, rate: Fraction, mark: str) -> str:
    start, end = (write_stamp(round(ms_at(frame, rate)), mark) for frame in (cue.first_frame, cue.end_frame))
    return f"{start} --> {end}"


def _lines(cue: Cue) -> str:
    return "\n".join(cue.line_texts)


def _plain(cue: Cue) -> str:
    return no_tags(_lines(cue))
