"""Something a person had followed: shown for as long as it is seen; and what stands over the picture kept off faces."""

import numpy as np
import pytest

from nimble_quote.core.context import Context, Shot, Sight
from nimble_quote.core.cutting.kept import kept_spans
from nimble_quote.core.document import Captions, Choice, Framing, QuoteDocument, Treatment, Version
from nimble_quote.core.edits import EditRefused, ShowFollowed, apply_edit, describe_edit
from nimble_quote.core.framing.camera import Gate
from nimble_quote.core.framing.clearing import free_height
from nimble_quote.core.framing.composing import clear_eye_line
from nimble_quote.core.framing.following import Track
from nimble_quote.core.framing.framed import FramedShot
from nimble_quote.core.framing.layouts import cameras_of
from nimble_quote.core.framing.versions import followed_span, framed_shots
from nimble_quote.core.framing.views import rests_of
from nimble_quote.core.timebase import Span
from tests.shipped import CATALOGUE, DESTINATIONS, LETTERING, STYLES
from tests.talks import talk_of

SHOT = Span(start_ms=0, end_ms=60_000)


def track(subject: int, start_ms: int, end_ms: int, x: tuple[float, float], *, thing: bool = False) -> Track:
    at = np.arange(start_ms, end_ms + 1, 200, dtype=np.float64)
    same = np.ones(len(at))
    return Track(
        subject=subject, at_ms=at, x=np.linspace(*x, len(at)), y=0.3 * same, width=0.08 * same, height=0.14 * same,
        turn=0 * same, score=same, thing=thing,
    )  # fmt: skip


SPEAKER = track(0, 0, 59_800, (0.5, 0.5))
BOAT = track(5000, 20_000, 40_000, (0.8, 0.1), thing=True)
CONTEXT = Context(
    talk=talk_of("one two three four"),
    catalogue=CATALOGUE,
    lettering=LETTERING,
    sight=Sight(
        size=(1920, 1080), shots=[Shot(span=SHOT)], tracks=[SPEAKER, BOAT], names={0: "Edda Marsh", 5000: "the boat"}
    ),
)
DOCUMENT = QuoteDocument(
    title="The wall", span=Span(start_ms=0, end_ms=60_000), versions=(Version(destination="tall-60"),)
)


def framed(document: QuoteDocument, destination: str = "tall-60") -> list[FramedShot]:
    where = DESTINATIONS[destination]
    return list(framed_shots(document, CONTEXT, CONTEXT.sight.size, where, kept_spans(document, destination)))


def test_a_thing_is_no_person_and_is_shown_only_when_it_is_chosen():
    (shot,) = framed(DOCUMENT)
    assert shot.subjects == (0,)
    assert not shot.doubts


def test_what_was_followed_is_shown_while_it_is_seen_and_the_rest_is_framed_as_it_was():
    edit = ShowFollowed(at_ms=30_000, subject=5000)
    made = apply_edit(DOCUMENT, edit, CONTEXT)
    assert describe_edit(DOCUMENT, edit, CONTEXT) == "Followed the boat"
    shots = framed(made)
    assert [(one.span.start_ms, one.subjects) for one in shots] == [(0, (0,)), (20_000, (5000,)), (40_000, (0,))]
    boat = shots[1]
    assert boat.says.startswith("follows the boat")
    assert boat.heads_inside == pytest.approx(1.0)
    xs = [rest.at.x for rest in rests_of(cameras_of(boat.layout)[0])]
    assert xs[0] > 0.7
    assert xs[-1] < 0.3


def test_what_is_not_seen_then_or_was_never_followed_is_refused():
    with pytest.raises(EditRefused, match="not seen at that moment"):
        apply_edit(DOCUMENT, ShowFollowed(at_ms=5000, subject=5000), CONTEXT)
    with pytest.raises(EditRefused, match="Nobody is followed"):
        apply_edit(DOCUMENT, ShowFollowed(at_ms=30_000, subject=5001), CONTEXT)


def test_a_box_is_followed_through_its_shot_as_far_as_the_quote_needs():
    short = DOCUMENT.model_copy(update={"span": Span(start_ms=25_000, end_ms=35_000)})
    assert followed_span(short, CONTEXT, 30_000) == Span(start_ms=15_000, end_ms=45_000)
    assert followed_span(DOCUMENT, CONTEXT, 30_000) == SHOT


def test_captions_and_what_the_app_covers_are_kept_off_a_face_where_there_is_room():
    tall = DESTINATIONS["tall-60"]
    top, bottom = free_height(DOCUMENT, tall, CATALOGUE)
    captions = STYLES["quay"].look.height_in("tall")
    assert 0.55 < bottom < captions
    without = DOCUMENT.model_copy(update={"captions": Captions(shown=False)})
    assert free_height(without, tall, CATALOGUE)[1] > bottom
    high = DOCUMENT.model_copy(update={"treatments": {"tall": Treatment(caption_height=0.2)}})
    assert free_height(high, tall, CATALOGUE)[0] > max(top, 0.2)


def test_a_face_stands_higher_above_captions_and_lower_under_a_bar():
    eyes, face = 0.37, 0.28
    assert clear_eye_line(eyes, face, (0.0, 1.0)) == eyes
    raised = clear_eye_line(eyes, face, (0.0, 0.5))
    assert raised + (1.1 - 0.35) * face < 0.5
    assert clear_eye_line(eyes, face, (0.2, 1.0)) - (0.45 + 0.35) * face > 0.2


def test_a_close_face_is_framed_over_the_captions():
    close = DOCUMENT.model_copy(update={"framing": Framing(usual=Choice(closeness=1.3))})
    low = close.model_copy(update={"treatments": {"tall": Treatment(caption_height=0.52)}})
    eyes = []
    for document in (close, low):
        (shot,) = framed(document)
        (camera,) = cameras_of(shot.layout)
        view = rests_of(camera)[0].at
        high = Gate(source=(1920, 1080), box=(1080, 1920)).widest[1] / view.zoom
        eyes.append((0.3 + 0.35 * 0.14 - (view.y - high / 2)) / high)
    assert eyes[1] < eyes[0] - 0.02
