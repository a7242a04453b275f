"""Random data of the trade: spans, talks, and edits that a person could make."""

from functools import lru_cache

from hypothesis import strategies as st

from nimble_quote.core import edits
from nimble_quote.core.cutting.strikes import Rule
from nimble_quote.core.document import At, Logo, NameStrap, Progress, SoundWave, TimeLeft, TitleLines
from nimble_quote.core.talk import Talk
from nimble_quote.core.timebase import Span
from nimble_quote.core.transcript.words import Word
from tests.shipped import DESTINATIONS

WORDS = (
    "the",
    "wick",
    "short.",
    "lamp,",
    "oil",
    "a",
    "harbour",
    "is",
    "light?",
    "I",
    "kept",
    "lighthousekeeperly",
    "né",
)


@st.composite
def spans(draw: st.DrawFn, most_ms: int = 100_000) -> Span:
    """A span within a recording of `most_ms`."""
    start = draw(st.integers(0, most_ms - 1))
    return Span(start_ms=start, end_ms=draw(st.integers(start + 1, most_ms)))


@st.composite
def talks(draw: st.DrawFn, most_words: int = 40) -> Talk:
    """A talk whose words follow one another with gaps, or touch."""
    at, words = draw(st.integers(0, 3000)), []
    for index in range(draw(st.integers(2, most_words))):
        start = at + draw(st.sampled_from([0, 0, 20, 45, 130, 700, 2500]))
        end = start + draw(st.integers(30, 900))
        words.append(Word(index=index, text=draw(st.sampled_from(WORDS)), start_ms=start, end_ms=end))
        at = end
    return Talk(words=words, duration_ms=at + draw(st.integers(0, 2000)))


def edits_for(talk: Talk) -> st.SearchStrategy[edits.Edit]:
    """An edit of any kind, on words that the talk has or just misses."""
    return _edits_of(len(talk.words))


@lru_cache
def _edits_of(words: int) -> st.SearchStrategy[edits.Edit]:
    # Kept: to put so many kinds together takes longer than to draw from them.
    word = st.integers(0, words)
    edge = st.sampled_from(["in", "out"])
    destination = st.sampled_from(list(DESTINATIONS))
    part = st.floats(0, 1)
    scope = st.none() | destination
    rules = st.builds(
        Rule, name=st.sampled_from(["fillers", "repeats", "stammers", "pauses", "interjections"]),
        over_ms=st.integers(100, 2000), to_ms=st.integers(0, 500),
    )  # fmt: skip
    moment = st.integers(0, 25_000)
    framing = st.builds(
        edits.FramingChange,
        layout=st.none() | st.sampled_from(["one", "together", "stacked", "beside", "slide", "whole"]),
        closeness=st.none() | st.floats(0.4, 3),
        moves=st.none() | st.sampled_from(["still", "lively"]),
        backdrop=st.none() | st.just("colour"),
    )
    panel = st.sampled_from([0, 0, 0, 1])
    looks = st.sampled_from(
        [{}, {"size": 0.05}, {"plate": None}, {"colour": "#FF0000", "case": "upper"}, {"size": 9}, {"no": 1}]
    )
    shows = st.one_of(
        st.builds(
            edits.Shows, kind=st.sampled_from(["whole", "start", "end"]), length_ms=st.none() | st.integers(100, 9000)
        ),
        st.builds(edits.Shows, kind=st.just("words"), first=word, last=word, offset_ms=st.integers(0, 500)),
    )
    things = st.one_of(
        st.builds(TitleLines, text=st.text(min_size=1, max_size=40).filter(str.strip), look=looks),
        st.builds(NameStrap, name=st.just("Maren"), role=st.text(max_size=20)),
        st.builds(Progress, edge=st.sampled_from(["top", "around"])),
        st.builds(SoundWave, form=st.sampled_from(["bars", "line"])),
        st.just(TimeLeft()),
        st.just(Logo(picture=99)),
    )
    return st.one_of(
        st.builds(edits.RenameQuote, title=st.text(min_size=1, max_size=20).filter(str.strip)),
        st.builds(edits.MoveEdgeToWord, edge=edge, word=word, destination=scope),
        st.builds(edits.NudgeEdge, edge=edge, by_ms=st.integers(-3000, 3000)),
        st.builds(edits.StrikeWords, first=word, last=word, destination=scope),
        st.builds(edits.RestoreWords, first=word, last=word, destination=scope),
        st.builds(edits.SetPause, before=word, to_ms=st.none() | st.integers(0, 1500), destination=scope),
        st.builds(edits.StrikeByRule, rule=rules, destination=scope),
        st.builds(edits.StrikeSpans, spans=st.lists(spans(20_000), max_size=3).map(tuple), destination=scope),
        st.builds(edits.SetSpeed, destination=destination, speed=st.floats(0.95, 1.15)),
        st.builds(edits.SoftenJoins, destination=destination, soften=st.sampled_from(["none", "scale"])),
        st.builds(edits.CutAsBase, destination=destination),
        st.builds(edits.AcceptNote, what=st.just("negation:1000"), reason=st.text(max_size=20)),
        st.builds(edits.AddVersion, destination=destination),
        st.builds(edits.RemoveVersion, destination=destination),
        st.builds(edits.FrameShot, destination=scope, at_ms=st.none() | moment, change=framing),
        st.builds(
            edits.PlaceWindow,
            destination=destination,
            at_ms=moment,
            panel=panel,
            x=st.none() | part,
            zoom=st.none() | st.floats(1, 8),
            every_shape=st.booleans(),
        ),
        st.builds(edits.AddRest, destination=destination, at_ms=moment, panel=panel),
        st.builds(edits.RemoveRest, destination=destination, at_ms=moment, panel=panel),
        st.builds(edits.TimeRest, destination=destination, at_ms=moment, to_ms=moment),
        st.builds(
            edits.ShareFraming,
            at_ms=moment,
            destination=destination,
            to=st.tuples(destination),
            what=st.sampled_from([("layout",), ("closeness", "place"), ("place",)]),
        ),
        st.builds(edits.PartShot, at_ms=moment, to_ms=st.none() | moment),
        st.builds(edits.JoinShot, at_ms=moment),
        st.builds(edits.ResetFraming, at_ms=st.none() | moment, destination=scope),
        st.builds(edits.FineShot, at_ms=moment, codes=st.sampled_from([(), ("nothing",)])),
        st.builds(
            edits.GiveFraming,
            at_ms=moment,
            to_ms=st.tuples(moment),
            destination=scope,
            what=st.sampled_from([("layout",), ("closeness", "place"), ("layout", "moves", "behind")]),
        ),
        st.builds(edits.TreatAlone, destination=destination, alone=st.booleans()),
        st.builds(edits.PlaceCaptions, destination=destination, height=part),
        st.builds(edits.ChooseCaptionStyle, style=st.sampled_from(["spark", "slate", "print", "none such"])),
        st.builds(edits.ShowCaptions, shown=st.booleans()),
        st.builds(edits.CorrectCaption, first=word, last=word, text=st.text(max_size=30)),
        st.builds(edits.PartCaption, word=word, at=st.sampled_from(["cue", "line"])),
        st.builds(edits.JoinCaptions, first=word, last=word),
        st.builds(edits.MoveBreak, word=word, to=word, at=st.sampled_from(["cue", "line"])),
        st.builds(edits.TimeCaption, word=word, edge=edge, shift_ms=st.none() | st.integers(-2000, 2000)),
        st.builds(edits.HideCaption, first=word, last=word, hidden=st.booleans()),
        st.builds(edits.PlaceCaption, first=word, last=word, height=st.none() | part),
        st.builds(edits.ChangeCueLook, first=word, last=word, look=looks),
        st.builds(edits.EmphasiseWords, first=word, last=word, on=st.booleans()),
        st.builds(edits.LetGoCaptions, first=word, last=word),
        st.builds(
            edits.AddCaption, start_ms=moment, end_ms=moment, text=st.text(min_size=1, max_size=20).filter(str.strip)
        ),
        st.builds(edits.RemoveAddedCaption, id=st.integers(1, 3)),
        st.builds(edits.ChangeCaptionLook, look=looks, reset=st.sampled_from([(), ("plate",)])),
        st.builds(edits.HoldCaptionStyle, held=st.none() | st.integers(1, 2)),
        st.builds(edits.ReplaceInCaptions, find=st.sampled_from(["the", "wick", "zebra"]), to=st.text(max_size=12)),
        st.builds(edits.TranslateCaption, language=st.just("de"), first=word, last=word, text=st.text(max_size=30)),
        st.builds(edits.AddOverlay, what=things, shows=shows),
        st.builds(edits.ChangeOverlay, id=st.integers(1, 3), what=things),
        st.builds(edits.TimeOverlay, id=st.integers(1, 3), shows=shows),
        st.builds(
            edits.PlaceOverlay,
            id=st.integers(1, 3),
            shape=st.none() | st.just("tall"),
            at=st.none() | st.builds(At, x=part, y=part),
            wish=st.none() | st.sampled_from(["top", "bottom-left"]),
        ),
        st.builds(edits.HideOverlay, id=st.integers(1, 3), hidden=st.booleans()),
        st.builds(edits.OrderOverlay, id=st.integers(1, 3), to=st.integers(0, 4)),
        st.builds(edits.RemoveOverlay, id=st.integers(1, 3)),
        st.builds(edits.ShowTranslation, language=st.just("de"), shown=st.sampled_from(["none", "below", "instead"])),
    )
