"""Whether a cue can end where its file says."""

LONGEST_CUE_MS = 10 * 60_000


def wrong_end(start_ms: int, end_ms: int) -> str | None:
    """What is wrong with the end of a cue, in words that go on from it; None where it can be."""
    if end_ms == start_ms:
        return "has no length"
    if end_ms < start_ms:
        return "ends before it starts"
    return "is over ten minutes long" if end_ms - start_ms > LONGEST_CUE_MS else None
