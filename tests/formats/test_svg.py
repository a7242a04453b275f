"""Drawings from outside draw themselves, and do nothing else."""

import pytest

from nimble_quote.formats.svg import DrawingRefused, check_svg, looks_like_svg

HEAD = '<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" viewBox="0 0 10 10">'


def drawing(inside: str) -> bytes:
    return f"{HEAD}{inside}</svg>".encode()


@pytest.mark.parametrize(
    "inside",
    [
        '<circle cx="5" cy="5" r="4" fill="#0B6E6E"/>',
        '<defs><linearGradient id="g"/></defs><rect width="9" height="9" fill="url(#g)"/>',
        '<g id="a"/><use xlink:href="#a"/><style>circle { fill: red }</style>',
        "<text>Lamp &amp; oil</text>",
    ],
)
def test_a_plain_drawing_is_taken(inside: str):
    check_svg(drawing(inside))
    assert looks_like_svg(drawing(inside))


@pytest.mark.parametrize(
    ("inside", "why"),
    [
        ("<script>alert(1)</script>", "script"),
        ('<circle onload="alert(1)"/>', "script"),
        ('<image href="http://example.org/a.png"/>', "image"),
        ('<use xlink:href="other.svg#a"/>', "outside"),
        ('<rect fill="url(http://example.org/a)"/>', "outside"),
        ("<style>@import 'http://example.org/a.css'</style>", "outside"),
        ('<rect style="fill: url( &quot;file:///etc/passwd&quot; )"/>', "outside"),
        ("<foreignObject><p/></foreignObject>", "foreignObject"),
        ('<a href="javascript:alert(1)"/>', "outside"),
        ("<g>" * 3, "can't be read"),
    ],
)
def test_what_runs_or_fetches_is_refused(inside: str, why: str):
    with pytest.raises(DrawingRefused, match=why):
        check_svg(drawing(inside))


def test_entities_too_many_parts_and_other_files_are_refused():
    bomb = b'<!DOCTYPE svg [<!ENTITY a "aaaa">]>' + drawing("<text>&a;</text>")
    for sent, why in (
        (bomb, "can't be read"),
        (drawing("<g/>" * 20_001), "parts"),
        (drawing(" " * 2_000_000), "over 2 MB"),
        (b"<html><svg/></html>", "no drawing"),
    ):
        with pytest.raises(DrawingRefused, match=why):
            check_svg(sent)
    assert not looks_like_svg(b"\x89PNG\r\n")
