from nimble_quote.core.cutting.reading import as_said
from nimble_quote.formats.as_said import Answering, Section, write_as_said, write_gone
from tests.cuts import cut_of


def page(line: str, **more: object) -> str:
    section = Section(title="Tall 60", length_ms=4200, lines=as_said(*cut_of(line)), notes=["A <note>"])
    return write_as_said("Wicks & lamps", "A talk", [section], **more)  # type: ignore[arg-type]


def test_struck_words_stand_struck_on_the_left_and_are_gone_on_the_right():
    written = page("Keep the [old] wick short. [Never mind.]")
    assert "<td>Keep the <s>old</s> wick short.</td><td>Keep the wick short.</td>" in written
    assert '<td><s>Never mind.</s></td><td><i class="gone">left out</i></td>' in written
    assert "<h2>Tall 60 <small>4.2 s</small></h2>" in written
    assert "<form" not in written


def test_nothing_that_was_said_or_answered_is_markup():
    hostile = page(
        "Keep&lt; the «wick» short.",
        answering=Answering(action='/a"b', until="1 May", answered="<script>alert(1)</script>"),
    )
    assert "<script>" not in hostile
    assert "A &lt;note&gt;" in hostile
    assert 'action="/a&quot;b"' in hostile
    assert "<script>" not in write_gone("<script>")
