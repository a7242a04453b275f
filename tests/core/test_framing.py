import pytest
from hypothesis import given
from hypothesis import strategies as st

from nimble_quote.core.document import View
from nimble_quote.core.framing.placement import speakers_face
from nimble_quote.core.framing.window import filling, fitting, source_pixels_per_output
from nimble_quote.core.timebase import Span
from tests.shipped import DESTINATIONS
from tests.talks import face_at

TALL, SQUARE, WIDE = (1080, 1920), (1080, 1080), (1920, 1080)
SOURCES = st.sampled_from([(1920, 1080), (1280, 720), (3840, 2160), (1080, 1920), (640, 480), (1918, 802)])
part = st.floats(0, 1)


def test_a_tall_window_of_an_hd_picture_is_six_hundred_and_seven_and_a_half_pixels_wide():
    window = filling(View(x=0.6), (1920, 1080), TALL)
    assert window.width * 1920 == 607.5
    assert source_pixels_per_output(window, 1080, 1920) == pytest.approx(0.5625)


def test_fitting_the_whole_picture_leaves_room_above_and_below():
    window, box = fitting(View(), (1920, 1080), TALL)
    assert (window.x, window.width, window.height) == (0, 1, 1)
    assert box == (0, 656, 1080, 608)


def test_a_window_stays_inside_the_picture():
    assert filling(View(x=0.0), (1920, 1080), TALL).x == 0
    right = filling(View(x=1.0), (1920, 1080), TALL)
    assert right.x + right.width == pytest.approx(1)


@given(
    st.sampled_from(["filling", "fitting"]),
    st.builds(View, x=part, y=part, zoom=st.floats(1, 8)),
    st.floats(0.3, 4),
    SOURCES,
    st.sampled_from(list(DESTINATIONS.values())),
)
def test_no_view_stretches_leaves_the_source_or_makes_odd_sizes(how, view, size, source, destination):
    output = (destination.width, destination.height)
    if how == "filling":
        window, box = filling(view, source, output), (0, 0, *output)
    else:
        window, box = fitting(view, source, output, size)
    assert window.x >= 0
    assert window.y >= 0
    assert window.x + window.width <= 1 + 1e-9
    assert window.y + window.height <= 1 + 1e-9
    assert all(value % 2 == 0 for value in box)
    assert box[0] + box[2] <= output[0]
    assert box[1] + box[3] <= output[1]
    across = box[2] / (window.width * source[0])
    down = box[3] / (window.height * source[1])
    # Boxes are whole even pixels, so the two scales may differ by what a pixel makes along either side.
    assert abs(across - down) <= 1.05 * (1 / (window.width * source[0]) + 1 / (window.height * source[1]))


def test_the_speaker_is_the_face_that_is_there_most_and_largest():
    whole = (Span(start_ms=0, end_ms=10_000),)
    faces = [face_at(t * 1000, 0.55 + 0.01 * (t % 3)) for t in range(9)]
    faces += [face_at(4000, 0.1, size=0.04), face_at(9500, 0.05, size=0.2)]
    found = speakers_face(faces, whole)
    assert found is not None
    assert found.x == pytest.approx(0.56)


def test_of_two_people_who_are_as_large_by_turns_one_is_shown_whole():
    left = [face_at(t * 200, 0.15, size=0.1 + 0.001 * (t % 2)) for t in range(20)]
    right = [face_at(t * 200, 0.7, size=0.1 + 0.001 * ((t + 1) % 2)) for t in range(20)]
    found = speakers_face([*left, *right, face_at(4100, 0.7)], (Span(start_ms=0, end_ms=5000),))
    assert found is not None
    assert found.x == pytest.approx(0.7, abs=0.01), "and not between them, where nobody is"


def test_faces_outside_the_cut_count_only_where_none_is_inside():
    faces = [face_at(0, 0.1), face_at(5000, 0.7)]
    inside = speakers_face(faces, (Span(start_ms=4000, end_ms=6000),))
    outside = speakers_face(faces[:1], (Span(start_ms=4000, end_ms=6000),))
    assert inside is not None
    assert outside is not None
    assert (inside.x, outside.x) == (0.7, 0.1)
