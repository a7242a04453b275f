"""OpenTimelineIO: a timeline a version, with a reference to the recording, the captions as markers, and the framing as named metadata."""

import json
from fractions import Fraction
from math import isfinite
from typing import Any
from urllib.parse import quote, unquote, urlsplit

import opentimelineio as otio

from nimble_quote.core.exchange import Event, Stretch
from nimble_quote.core.timebase import STANDARD_RATES
from nimble_quote.formats.timelines import MOST_STRETCHES, Cut, ReadCut, TimelineUnreadable

_MOST = 1e9
OURS = "nimble_quote"
"""What our metadata is called."""


def write_otio(cut: Cut) -> str:
    """A cut as a timeline: a track of picture and one of sound, as far as there are."""
    timeline = otio.schema.Timeline(name=cut.title)
    timeline.metadata[OURS] = {"width": cut.size[0], "height": cut.size[1]}
    for there, kind in ((cut.picture, otio.schema.TrackKind.Video), (cut.sound, otio.schema.TrackKind.Audio)):
        if not there:
            continue
        track = otio.schema.Track(name=kind, kind=kind)
        for one in cut.events:
            track.append(_clip(one, cut, framed=kind == otio.schema.TrackKind.Video))
        timeline.tracks.append(track)
    timeline.tracks.markers.extend(
        otio.schema.Marker(
            name=cue.text, marked_range=_range(cue.first_frame, cue.end_frame - cue.first_frame, cut.rate)
        )
        for cue in cut.cues
    )
    return str(otio.adapters.write_to_string(timeline, "otio_json"))


def _clip(event: Event, cut: Cut, *, framed: bool) -> Any:
    media = otio.schema.ExternalReference(
        target_url=quote(cut.media), available_range=_range(0, cut.media_frames, cut.rate)
    )
    media.name = cut.media
    clip = otio.schema.Clip(
        name=cut.media,
        media_reference=media,
        source_range=_range(
            event.source_first, event.frames if event.step == 1 else event.source_end - event.source_first, cut.rate
        ),
    )
    if event.step != 1:
        clip.effects.append(otio.schema.LinearTimeWarp(name="speed", time_scalar=float(event.step)))
    if framed:
        clip.metadata[OURS] = {"framing": _framing(event, cut)}
    return clip


def _framing(event: Event, cut: Cut) -> list[dict[str, Any]]:
    """How the picture is framed during an event: from which of its frames on, in which boxes of the output, which windows of the
    recording (0 to 1), from key to key."""
    end = event.first + event.frames
    return [
        {
            "from_frame": max(0, run.first_frame - event.first),
            "panels": [
                {
                    "box": list(panel.box),
                    "keys": [
                        {
                            "frame": key.frame - event.first,
                            **{side: round(getattr(key.window, side), 6) for side in ("x", "y", "width", "height")},
                        }
                        for key in panel.keys
                    ],
                }
                for panel in run.panels
            ],
        }
        for run in cut.runs
        if run.first_frame < end and run.end_frame > event.first
    ]


def read_otio(text: str) -> ReadCut:
    """The stretches of a timeline. Raises `TimelineUnreadable`."""
    try:
        json.loads(text)
        timeline = otio.adapters.read_from_string(text, "otio_json")
    except (ValueError, RecursionError, otio.exceptions.OTIOError) as wrong:
        raise TimelineUnreadable("This is no file of OpenTimelineIO, or a damaged one. Export it again.") from wrong
    if not isinstance(timeline, otio.schema.Timeline):
        raise TimelineUnreadable("This file of OpenTimelineIO holds no timeline. Export a whole timeline.")
    tracks = list(timeline.video_tracks()) or list(timeline.audio_tracks())
    if not tracks:
        raise TimelineUnreadable("This timeline has no track of picture or sound.")
    left_out: list[str] = []
    track = otio.algorithms.flatten_stack(tracks) if len(tracks) > 1 else tracks[0]
    stretches = [one for item in track for one in _stretches(item, left_out)]
    if len(stretches) > MOST_STRETCHES:
        raise TimelineUnreadable(f"This timeline has more than {MOST_STRETCHES} clips. Export a shorter part of it.")
    return ReadCut(title=timeline.name or "Imported cut", stretches=stretches, left_out=tuple(left_out))


def _stretches(item: Any, left_out: list[str]) -> list[Stretch]:
    if isinstance(item, otio.schema.Gap):
        return []
    if not isinstance(item, otio.schema.Clip):
        left_out.append(f"{type(item).__name__} “{item.name}”")
        return []
    where = item.source_range or item.media_reference.available_range
    if not isinstance(item.media_reference, otio.schema.ExternalReference) or where is None:
        left_out.append(f"clip “{item.name}”, which has no media")
        return []
    begins = item.media_reference.available_range
    start = where.start_time - (begins.start_time if begins else otio.opentime.RationalTime(0, where.start_time.rate))
    times = 1.0
    for effect in item.effects:
        if isinstance(effect, otio.schema.LinearTimeWarp):
            times = float(effect.time_scalar)
    if not 0 < times <= 100:
        raise TimelineUnreadable(f"The clip “{item.name}” plays backwards or stands still, which a quote can't.")
    first, end, rate = _frames(start, where.duration)
    name = unquote(urlsplit(item.media_reference.target_url).path).replace("\\", "/").rpartition("/")[2]
    return [Stretch(media=name or item.name, first=first, end=end, rate=rate, times=round(times, 4))]


def _frames(start: Any, duration: Any) -> tuple[int, int, Fraction]:
    """The frames that a clip takes of its media, and at which rate they are counted."""
    told = (start.value, start.rate, duration.value, duration.rate)
    if not all(isfinite(one) and abs(one) < _MOST for one in told) or min(start.rate, duration.rate) <= 0:
        raise TimelineUnreadable("A clip of this timeline has a time that is no number of frames.")
    rate = min(STANDARD_RATES, key=lambda one: abs(float(one) - start.rate))
    rate = rate if abs(float(rate) - start.rate) < 0.01 else Fraction(start.rate).limit_denominator(1001)
    first = round(start.value)
    end = first + round(duration.rescaled_to(start.rate).value)
    if first < 0 or end <= first:
        raise TimelineUnreadable("A clip of this timeline begins before its media, or lasts no frame.")
    return first, end, rate


def _range(first: int, frames: int, rate: Fraction) -> Any:
    fps = float(rate)
    return otio.opentime.TimeRange(otio.opentime.RationalTime(first, fps), otio.opentime.RationalTime(frames, fps))
