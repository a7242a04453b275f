"""Drawings (SVG) from outside: only those that draw themselves, with nothing to run and nothing to fetch."""

import re
from xml.etree.ElementTree import Element, ParseError

from defusedxml.common import DefusedXmlException
from defusedxml.ElementTree import fromstring

from nimble_quote.core.refusal import Refused

_NAMESPACE = "{http://www.w3.org/2000/svg}"
_NEVER = {"script", "foreignObject", "image", "iframe", "audio", "video", "animate", "set", "animateTransform", "animateMotion", "handler",
          "listener"}  # fmt: skip
_FETCHES = re.compile(r"url\(\s*['\"]?\s*(?!#)|@import|expression\(|javascript:", re.IGNORECASE)
MOST_BYTES, MOST_ELEMENTS = 2_000_000, 20_000


class DrawingRefused(Refused):
    """An SVG can't be used; the message says what about it."""

    code = "drawing-refused"


def looks_like_svg(sent: bytes) -> bool:
    """Whether a file begins as an SVG does."""
    head = sent[:4096].lstrip(b"\xef\xbb\xbf \t\r\n")
    return head.startswith(b"<") and b"<svg" in sent[:65536]


def check_svg(sent: bytes) -> None:
    """Raises `DrawingRefused` where a drawing has scripts, refers to anything outside itself, or is too much."""
    if len(sent) > MOST_BYTES:
        raise DrawingRefused(f"This drawing is over {MOST_BYTES // 1_000_000} MB. Simplify it, or save it as PNG.")
    try:
        root = fromstring(sent, forbid_dtd=True)
    except (ParseError, DefusedXmlException, ValueError) as broken:
        raise DrawingRefused("This drawing can't be read. Save it again as plain SVG, or as PNG.") from broken
    if root.tag not in (f"{_NAMESPACE}svg", "svg"):
        raise DrawingRefused("This file is no drawing that can be read. Save it as SVG or PNG.")
    for number, element in enumerate(root.iter()):
        if number > MOST_ELEMENTS:
            raise DrawingRefused(f"This drawing has over {MOST_ELEMENTS:,} parts. Simplify it, or save it as PNG.")
        _check(element)


def _check(element: Element) -> None:
    name = str(element.tag).removeprefix(_NAMESPACE)
    if name in _NEVER:
        raise DrawingRefused(f"This drawing has a “{name}” in it, which is not used. Save it as plain SVG, or as PNG.")
    for key, value in element.attrib.items():
        attribute = key.rpartition("}")[2].lower()
        if attribute.startswith("on"):
            raise DrawingRefused("This drawing has a script in it. Save it as plain SVG, or as PNG.")
        outside = attribute in ("href", "src") and not value.strip().startswith("#")
        if outside or _FETCHES.search(value):
            raise DrawingRefused(
                "This drawing refers to something outside of it. Save it with all of that inside, or as PNG."
            )
    if name == "style" and _FETCHES.search(element.text or ""):
        raise DrawingRefused(
            "This drawing refers to something outside of it. Save it with all of that inside, or as PNG."
        )
