"""Checks before an export and after it, each finding with where it is and what to do.

To add one: a function from what is judged to findings, listed in `ASSEMBLY_CHECKS` or `FILE_CHECKS`.
"""

from bisect import bisect_left
from collections.abc import Callable, Iterable, Iterator, Sequence
from fractions import Fraction
from itertools import pairwise

from nimble_quote.core.assembly import Assembly, PictureRun
from nimble_quote.core.caption_checks import Checked, check_captions
from nimble_quote.core.captions.cues import Cue
from nimble_quote.core.cutting.kept import text_of
from nimble_quote.core.destinations import seconds
from nimble_quote.core.edits import PlayFast
from nimble_quote.core.finding import Finding, Severity
from nimble_quote.core.framing.framed import FramedShot
from nimble_quote.core.framing.placement import FaceSample
from nimble_quote.core.framing.sharpness import sharpness_of_picture
from nimble_quote.core.making import SIZE_SLACK, USUAL, Making
from nimble_quote.core.model import Frozen
from nimble_quote.core.overlay_checks import check_overlays
from nimble_quote.core.ranges import RANGES
from nimble_quote.core.talk import Talk
from nimble_quote.core.timebase import Span, ms_at

_FACE_NEAR_MS = 260
_STILL, _ELSEWHERE = 0.06, 1.2
"""Moved by less than the first, in heights of the face, nothing is seen to jump; by more than the second it is another
placement of the camera, which is what a cut looks like."""

_SAME_SIZE = 0.002
"""Windows of a size that differs by less, in fractions of the source, show the picture equally large."""

LOUDNESS_LUFS = -14.0
LOUDNESS_SLACK = 0.5
TRUE_PEAK_DBTP = -1.0
"""Targets for speech on the web: integrated loudness by ITU-R BS.1770, and the highest true peak."""


class FileFacts(Frozen):
    """What was measured from a finished file."""

    width: int
    """0 where it has no picture."""
    height: int
    frames: int
    video_ms: float
    audio_ms: float
    rate: Fraction
    video_codec: str
    profile: str
    pixel_format: str
    square_pixels: bool
    colour: str
    faststart: bool
    audio_codec: str
    sample_rate: int
    channels: int
    loudness_lufs: float | None
    true_peak_dbtp: float | None
    size_bytes: int


FileCheck = Callable[[FileFacts, Assembly, Making], Iterator[Finding]]


def preflight(assembly: Assembly, faces: Sequence[FaceSample], checked: Checked) -> tuple[Finding, ...]:
    """All that is wrong with a version before it is made, worst first, then in order of time; `checked` is what its captions
    are looked at with."""
    found = [finding for check in ASSEMBLY_CHECKS for finding in check(assembly, faces)]
    found += _said_fast(assembly, checked.context.talk)
    found += check_captions(assembly, checked)
    found += check_overlays(assembly, checked)
    return tuple(sorted(found, key=lambda f: (f.severity != "stop", f.at_ms or 0)))


def judge_file(
    facts: FileFacts, assembly: Assembly, making: Making = USUAL, missing: Sequence[Cue] = ()
) -> tuple[Finding, ...]:
    """All that is wrong with a finished file, against its Assembly, its destination and what it was made as; `missing` are cues that
    it does not show."""
    checks = _CHECKS_OF.get(making.kind, FILE_CHECKS)
    found = [finding for check in checks for finding in check(facts, assembly, making)]
    if missing:
        more = f", and {len(missing) - 1} more" if len(missing) > 1 else ""
        found.append(
            _file_finding(
                "burned-in", f"The caption “{missing[0].text[:40]}”{more} is not burned in as it was planned."
            )
        )
    return tuple(found)


def _over_the_limit(assembly: Assembly, faces: Sequence[FaceSample]) -> Iterator[Finding]:
    destination = assembly.destination
    over = ms_at(assembly.cut_frames, assembly.rate) - destination.limit_ms
    if over > 0:
        yield Finding(
            check="length",
            severity="stop",
            step="trim",
            at_ms=destination.limit_ms,
            says=f"{seconds(over + 99.9)} over {destination.name}, which ends at {seconds(destination.limit_ms)}.",
            do="Strike words, or move the in or out point, until the gauge says it fits.",
        )


def _said_fast(assembly: Assembly, talk: Talk) -> Iterator[Finding]:
    """Words in stretches that are played faster than any version may be."""
    for one in assembly.sound.played:
        said = [word for word in talk.between(one.source_ms, one.source_end_ms) if one.times > RANGES.speed.most]
        if said:
            heard = "nobody hears" if one.silent else "nobody can follow"
            yield Finding(
                check="said-fast",
                severity="warn",
                step="trim",
                at_ms=int(one.out_ms),
                says=f"“{text_of(said, most=40)}” is said where it plays {one.times:g} times as fast: {heard} it.",
                do="Play the words as they were said, or strike them.",
                mend=PlayFast(span=Span(start_ms=said[0].start_ms, end_ms=said[-1].end_ms), times=None),
                mend_says="Play them as they were said",
            )


def _soft_picture(assembly: Assembly, faces: Sequence[FaceSample]) -> Iterator[Finding]:
    if assembly.sharpness is None:
        return
    sharpness = sharpness_of_picture(assembly.sharpness)
    if sharpness.grade == "soft":
        yield Finding(
            check="soft",
            severity="warn",
            step="frame",
            says=f"Soft picture: enlarged {sharpness.enlarged:.1f} times, which shows from 2 times on.",
            do="Scale the picture down, or fit the whole picture with a backdrop.",
        )


def _face_cut_off(assembly: Assembly, faces: Sequence[FaceSample]) -> Iterator[Finding]:
    shown = [(face, frames) for face in _main_faces(faces) if (frames := assembly.frames_showing(face.at_ms))]
    cut = [(face, frames) for face, frames in shown if not all(_face_inside(face, at, assembly) for at in frames)]
    if cut:
        yield Finding(
            check="face",
            severity="warn",
            step="frame",
            at_ms=int(ms_at(cut[0][1][0], assembly.rate)),
            says=f"The speaker's face is cut off in {len(cut)} of {len(shown)} moments looked at.",
            do="Move the picture, or scale it down, so that the face stays inside.",
        )


def _main_faces(faces: Iterable[FaceSample]) -> list[FaceSample]:
    largest: dict[int, FaceSample] = {}
    for face in faces:
        if face.at_ms not in largest or face.height > largest[face.at_ms].height:
            largest[face.at_ms] = face
    return list(largest.values())


def _face_inside(face: FaceSample, frame: int, assembly: Assembly) -> bool:
    """Whether a face is inside one of the windows that a frame shows."""
    windows = [panel.window_at(frame) for panel in assembly.run_at(frame).panels]
    return any(window.holds(face.x, face.y, face.width, face.height) for window in windows)


def _picture_jumps(assembly: Assembly, faces: Sequence[FaceSample]) -> Iterator[Finding]:
    """Joins inside one placement of the camera: the same face, a little elsewhere, from one frame to the next."""
    main = sorted(_main_faces(faces), key=lambda face: face.at_ms)
    times = [face.at_ms for face in main]
    jumps = []
    joins = [(one, other) for one, other in pairwise(assembly.cut_picture) if not other.follows(one)]
    for before, after in joins:
        if _size_changes(before, after):
            continue
        left = _face_at(main, times, ms_at(before.source_frame + before.source_frames, assembly.rate))
        right = _face_at(main, times, ms_at(after.source_frame, assembly.rate))
        if left and right and _jumps(left, right):
            jumps.append(after)
    if jumps:
        yield Finding(
            check="jump",
            severity="warn",
            step="trim",
            at_ms=int(ms_at(jumps[0].first_frame, assembly.rate)),
            says=f"The picture jumps at {len(jumps)} of {len(joins)} joins.",
            do="Ease the jumps in Trim, or cut where the picture changes.",
        )


def _size_changes(before: PictureRun, after: PictureRun) -> bool:
    """Whether the picture is of another size after a join, or laid out otherwise: that reads as a cut, not as a jump."""
    if len(before.panels) != len(after.panels):
        return True
    pairs = zip(before.panels, after.panels, strict=True)
    return any(abs(a.keys[-1].window.width - b.keys[0].window.width) > _SAME_SIZE for a, b in pairs)


def _face_at(faces: Sequence[FaceSample], times: Sequence[int], at_ms: float) -> FaceSample | None:
    place = bisect_left(times, at_ms - _FACE_NEAR_MS)
    near = [face for face in faces[place : place + 4] if abs(face.at_ms - at_ms) <= _FACE_NEAR_MS]
    return min(near, key=lambda face: abs(face.at_ms - at_ms), default=None)


def _jumps(left: FaceSample, right: FaceSample) -> bool:
    """Whether one face was moved by less than a new placement of the camera would, and by more than it moves itself."""
    moved = abs(left.x + left.width / 2 - right.x - right.width / 2) + abs(left.y - right.y)
    same_size = 0.8 < left.height / right.height < 1.25
    return same_size and _STILL * left.height < moved < _ELSEWHERE * left.height


def _right_picture(facts: FileFacts, assembly: Assembly, making: Making) -> Iterator[Finding]:
    yield from _right_size(facts, assembly, making)
    if not facts.square_pixels:
        yield _file_finding("size", "The pixels of the picture are not square.")
    if facts.rate != assembly.rate:
        yield _file_finding("rate", f"The rate is {float(facts.rate):.3f}, not {float(assembly.rate):.3f} frames/s.")
    codec = (facts.video_codec, facts.profile, facts.pixel_format, facts.colour)
    if codec != (*_CODED[making.codec], "yuv420p", "bt709"):
        yield _file_finding("codec", f"The picture is coded as {' '.join(codec)}.")
    if not facts.faststart:
        yield _file_finding("faststart", "The file can't begin to play before it is all there.")


def _right_length(facts: FileFacts, assembly: Assembly, making: Making) -> Iterator[Finding]:
    if abs(facts.frames - assembly.frames) > 1:
        yield _file_finding("length", f"The file has {facts.frames} frames, not {assembly.frames}.")
    apart = abs(facts.video_ms - facts.audio_ms)
    if apart > 10:
        yield _file_finding("sync", f"Picture and sound end {apart:.0f} ms apart.")
    if assembly.length_ms > assembly.destination.limit_ms:
        over = seconds(assembly.length_ms - assembly.destination.limit_ms + 99.9)
        yield _file_finding(
            "over", f"It runs {over} over {assembly.destination.name}.", "Trim the quote, export again."
        )


def _right_sound(facts: FileFacts, assembly: Assembly, making: Making) -> Iterator[Finding]:
    codec = "mp3" if making.kind == "mp3" else "aac"
    if (facts.audio_codec, facts.sample_rate, facts.channels) != (codec, 48000, 2):
        yield _file_finding("sound", f"The sound is {facts.audio_codec}, {facts.sample_rate} Hz.")
    if facts.loudness_lufs is None:
        yield _file_finding(
            "silent",
            "No loudness could be measured: it is silent or under half a second long.",
            "Listen to the passage in the recording.",
            "warn",
        )
    elif abs(facts.loudness_lufs - LOUDNESS_LUFS) > LOUDNESS_SLACK:
        yield _file_finding(
            "loudness",
            f"It is at {facts.loudness_lufs:.1f} LUFS, not {LOUDNESS_LUFS:.0f}.",
            "Listen to it; very quiet or very uneven sound can't be brought there.",
            "warn",
        )
    if facts.true_peak_dbtp is not None and facts.true_peak_dbtp > TRUE_PEAK_DBTP:
        yield _file_finding("peak", f"Its true peak is {facts.true_peak_dbtp:.1f} dBTP.")


def _right_weight(facts: FileFacts, assembly: Assembly, making: Making) -> Iterator[Finding]:
    if facts.size_bytes > assembly.destination.largest_mb * 1_000_000:
        yield _file_finding(
            "weight", f"It is {facts.size_bytes / 1e6:.0f} MB, over {assembly.destination.largest_mb} MB.", "Trim it."
        )
    wanted = (making.size_mb or 0) * 1_000_000
    if wanted and abs(facts.size_bytes - wanted) > SIZE_SLACK * wanted:
        yield _file_finding(
            "wanted-size", f"It is {facts.size_bytes / 1e6:.2f} MB, not {making.size_mb:g} MB.",
            "There is no more in the picture, or it can't be said in less. Ask for another size.", "warn",
        )  # fmt: skip


def _file_finding(check: str, says: str, do: str = "Export it again.", severity: Severity = "stop") -> Finding:
    return Finding(check=check, severity=severity, says=says, do=do)


ASSEMBLY_CHECKS: tuple[Callable[[Assembly, Sequence[FaceSample]], Iterator[Finding]], ...] = (
    _over_the_limit,
    _soft_picture,
    _face_cut_off,
    _picture_jumps,
)
_CODED = {"h264": ("h264", "High"), "h265": ("hevc", "Main"), "av1": ("av1", "Main")}


def _right_size(facts: FileFacts, assembly: Assembly, making: Making) -> Iterator[Finding]:
    wanted = assembly.destination.size
    if (facts.width, facts.height) != wanted:
        yield _file_finding("size", f"The picture is {facts.width}x{facts.height}, not {wanted[0]}x{wanted[1]}.")


SOUND_CHECKS: tuple[FileCheck, ...] = (_right_sound,)
STILL_CHECKS: tuple[FileCheck, ...] = (_right_size,)
_CHECKS_OF = {"m4a": SOUND_CHECKS, "mp3": SOUND_CHECKS, "still": STILL_CHECKS}
FILE_CHECKS: tuple[FileCheck, ...] = (
    _right_picture,
    _right_length,
    _right_sound,
    _right_weight,
)


_DOUBTS = ("who-speaks", "nothing", "fast")
"""The others are found by the checks of the picture as well."""


def doubtful(framing: Sequence[FramedShot], assembly: Assembly) -> Iterator[Finding]:
    """What is doubtful about how a version is framed, and is not found by the checks of its picture."""
    for shot in framing:
        for doubt in shot.doubts:
            if doubt.code in _DOUBTS:
                frames = assembly.frames_showing(doubt.at_ms)
                yield Finding(
                    check=f"frame-{doubt.code}",
                    severity="warn",
                    step="frame",
                    at_ms=int(ms_at(frames[0], assembly.rate)) if frames else None,
                    says=f"{shot.says[:1].upper()}{shot.says[1:]}: {doubt.says}.",
                    do=doubt.do,
                )
