"""NIST CTM: one word a line, `file channel start duration word [confidence [type [speaker]]]`, in seconds."""

from nimble_quote.core.transcript.cues import Reading, TimedCue, Token
from nimble_quote.formats.reading.cuetext import clean, speaker_name

LONGEST_MS = 24 * 3600 * 1000
_UNTOLD = {"unknown", "na", "none", "-"}
_NO_WORDS = {"non-lex", "noise", "non-speech"}


def read_ctm(text: str) -> Reading:
    """The words of a CTM file. Comments, alternatives after the first and what is no word are passed over."""
    cues: list[TimedCue] = []
    left_out: list[str] = []
    alternative = 0
    for number, line in enumerate(text.split("\n"), start=1):
        fields = line.split()
        if not fields or line.lstrip().startswith((";;", "#")):
            continue
        word = fields[4] if len(fields) > 4 else ""
        if word in ("<ALT_BEGIN>", "<ALT>", "<ALT_END>"):
            alternative = {"<ALT_BEGIN>": 1, "<ALT_END>": 0}.get(word, alternative + 1)
            continue
        if alternative > 1 or (len(fields) > 6 and fields[6].lower() in _NO_WORDS):
            continue
        cue = _word(fields)
        if cue is None:
            left_out.append(f"Line {number}: “{line.strip()[:60]}” is no word with a time.")
        else:
            cues.append(cue)
    return Reading(cues=tuple(cues), left_out=tuple(left_out))


def _word(fields: list[str]) -> TimedCue | None:
    if len(fields) < 5:
        return None
    start, length, sure = (_number(value) for value in (fields[2], fields[3], fields[5] if len(fields) > 5 else ""))
    text = "".join(clean(fields[4]).split())
    if start is None or length is None or not text or not 0 <= start * 1000 < LONGEST_MS or not 0 <= length < 600:
        return None
    start_ms, end_ms = round(start * 1000), max(round(start * 1000) + 1, round((start + length) * 1000))
    named = len(fields) > 7 and fields[7].lower() not in _UNTOLD
    return TimedCue(
        start_ms=start_ms,
        end_ms=end_ms,
        tokens=(Token(text=text, start_ms=start_ms, end_ms=end_ms, sure=_share(sure)),),
        speaker=speaker_name(fields[7]) if named else None,
    )


def _share(value: float | None) -> float | None:
    return value if value is not None and 0 <= value <= 1 else None


def _number(text: str) -> float | None:
    try:
        return float(text)
    except ValueError:
        return None
