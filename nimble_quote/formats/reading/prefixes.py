"""What stands before the words of a cue's line by custom: `NAME:` and `>> NAME:` for who speaks, `>>` and `- ` for another
speaker, `♪` for music. Each is written as the tag that the reader of cue text knows."""

import re
from collections import Counter
from collections.abc import Iterable

TURN = "turn"
"""The tag before words that somebody else says than those before."""
MUSIC = "[music]"

_LINE = re.compile(
    r"^(?P<tags>(?:\s|<[^<>]*>|\{\\[^{}]*\})*)(?P<turn>(?:>>+|&gt;&gt;|[-–—](?=\s|[^\W\d_]|[¿¡“\"]))\s*)?"
)
_NAME = re.compile(r"([^\W\d_][\w.'’\-]*(?: [\w.'’#\-]+){0,3}):(?=\s|$)\s*")
_NOTES = re.compile(r"[♪♫♬]+")
_OFTEN = 2
"""A name that is not in capitals is one where it comes at least this often: “My rule is this:” is none."""


def names_in(bodies: Iterable[str]) -> frozenset[str]:
    """The names that lines of some cues begin with: those in capitals, and those that come again."""
    found: Counter[str] = Counter()
    for body in bodies:
        if ":" in body:
            found.update(name for line in body.split("\n") if (name := _name_of(line)))
    return frozenset(name for name, times in found.items() if name.isupper() or times >= _OFTEN)


def tagged(body: str, names: frozenset[str], music_before: bool = False) -> str:
    """The text of a cue with `<v Name>`, `<turn>` and `[music]` in place of what stands before its lines."""
    lines = body.split("\n")
    if not names and not any(line[:1] in "->–—&<{ \t♪♫♬" for line in lines):
        return body
    out = []
    for line in lines:
        begun = _LINE.match(line)
        assert begun is not None
        rest = line[begun.end() :]
        named = _NAME.match(rest)
        if named and named[1] in names:
            out.append(f"{begun['tags']}<v {named[1]}>{rest[named.end() :]}")
        elif begun["turn"] and not _begins_a_word(begun["turn"], begun["tags"]):
            out.append(f"{begun['tags']}<{TURN}>{rest}")
        else:
            out.append(line)
    text = "\n".join(out)
    return _without_notes(text, music_before) if is_music(body) else text


def _begins_a_word(turn: str, tags: str) -> bool:
    """Whether a dash is the first letter of a word: with no space after it, where who speaks is told by a tag already."""
    return turn in ("-", "–", "—") and "<v" in tags


def is_music(body: str) -> bool:
    """Whether a cue is marked as music."""
    return any(note in body for note in "♪♫♬")


def _without_notes(text: str, music_before: bool) -> str:
    """Notes are no words: what is sung begins with `[music]`, once for all cues that follow on one another."""
    words = _NOTES.sub(" ", text)
    return words if music_before else f"{MUSIC} {words}"


def _name_of(line: str) -> str | None:
    begun = _LINE.match(line)
    named = _NAME.match(line, begun.end()) if begun else None
    if named is None:
        return None
    words = named[1].split()
    return named[1] if all(word[0].isupper() or word[0].isdigit() for word in words) else None
