"""The keys of media: a recording's own file and what was made from it are named by its content, a clip by the attempt that
made it. Nothing in a key is from outside.

    originals/ab/ab12….mp4        the recording
    derived/ab/ab12…/proxy.mp4    what was made from it
    exports/17/<attempt>.mp4      a clip: an attempt that was taken for dead can't take the place of another's; its cover is
                                  beside it, as <attempt>.cover.png and .jpg, and a small
                                  still as <attempt>.still.jpg
"""

import re
from pathlib import PurePosixPath
from uuid import UUID

from nimble_quote.media.listening import ZOOMS_MS, peaks_name

PROXY, SOUND, SPEECH, SEEN = "proxy.mp4", "sound.m4a", "speech.json", "seen.json"
LISTENED = (SOUND, *(peaks_name(zoom) for zoom in ZOOMS_MS), SPEECH)
"""What is made of a recording's sound."""
STILL = "still-"
"""How the names of stills begin."""

_HASH = re.compile(r"^[0-9a-f]{64}$")
_ENDING = re.compile(r"^\.[a-z0-9]{1,5}$")
_KEY = re.compile(
    r"originals/([0-9a-f]{2})/\1[0-9a-f]{62}\.[a-z0-9]{1,5}|derived/([0-9a-f]{2})/\2[0-9a-f]{62}/[a-z0-9][a-z0-9.-]*"
    r"|exports/[0-9]+/[0-9a-f-]{36}\.(?:mp4|m4a|mp3|cover\.(?:png|jpg)|still\.jpg)"
)


def original_key(content: str, ending: str) -> str:
    """The recording with this SHA-256. Raises `ValueError` where that is none."""
    if not _HASH.match(content) or not _ENDING.match(ending):
        raise ValueError("not a content hash and file ending")
    return f"originals/{content[:2]}/{content}{ending}"


def derived_key(content: str, name: str) -> str:
    """Something made from that recording. Raises `ValueError` where that is none."""
    if not _HASH.match(content):
        raise ValueError("not a content hash")
    return f"derived/{content[:2]}/{content}/{name}"


def clip_key(export_id: int, attempt: UUID, ending: str = ".mp4") -> str:
    """The clip that an attempt at an export made, or its sound alone, by how its name ends."""
    return f"exports/{int(export_id)}/{attempt}{ending}"


def cover_key(clip: str, kind: str) -> str:
    """The cover beside a clip, as `png` or `jpg`."""
    return f"{clip.rpartition('.')[0]}.cover.{kind}"


def clip_still_key(clip: str) -> str:
    """The small still of a clip, beside it."""
    return f"{clip.rpartition('.')[0]}.still.jpg"


def is_key(text: str) -> bool:
    """Whether a path is a key of ours, and no file that somebody else put there."""
    return _KEY.fullmatch(text) is not None


def safe_ending(name: str) -> str:
    """The ending of a name that came from outside, in lower case, or `.bin` where it is odd."""
    ending = PurePosixPath(name).suffix.lower()
    return ending if _ENDING.match(ending) else ".bin"
