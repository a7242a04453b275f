"""Why something is not done, in words for the person who asked for it.

        Refusal
        ├── Refused    it makes no sense, or can't be used; asked again it is refused again
        ├── Conflict   it does not go with what is there, or with what was changed meanwhile
        ├── Missing    there is no such thing
        └── Busy       it can't be done now; later it can

Each has a `code` that programs may rely on. Its message is for people, and says what to do.
"""

from typing import ClassVar


class Refusal(Exception):
    """The root: never raised itself."""

    code: ClassVar[str] = "refusal"


class Refused(Refusal):
    """What was asked for makes no sense here, or what was sent can't be used."""

    code = "refused"


class Conflict(Refusal):
    """It does not go with what is there already, or with what was changed meanwhile."""

    code = "conflict"


class Missing(Refusal):
    """There is no such thing."""

    code = "missing"


class Busy(Refusal):
    """It can't be done now; asked again later it can."""

    code = "busy"


def codes(of: type[Refusal] = Refusal) -> list[str]:
    """The codes of all refusals there are, in alphabetical order."""
    return sorted({of.code, *(code for one in of.__subclasses__() for code in codes(one))})
