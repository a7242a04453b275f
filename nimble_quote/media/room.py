"""Room on the disk: how much is kept in reserve, and what is said where there is not enough."""

import errno
import shutil
from dataclasses import dataclass
from pathlib import Path

from nimble_quote.core.refusal import Busy

_LEAST_BYTES = 32_000_000
"""Two files of the database's log of changes."""
_FULL = (errno.ENOSPC, errno.EDQUOT)


class DiskFull(Busy):
    """There is not enough room on the disk; the message says how much is needed, free and kept in reserve."""

    code = "disk-full"


@dataclass(frozen=True, kw_only=True)
class Room:
    """The disk that a folder is on, and what of it media may not take."""

    folder: Path
    reserve_bytes: int

    def require(self, needed_bytes: int = 0) -> None:
        """Raises `DiskFull` where there is no room for so much more beside the reserve."""
        if shutil.disk_usage(self.folder).free < needed_bytes + self.reserve_bytes:
            raise self.full(needed_bytes)

    @property
    def free_bytes(self) -> int:
        """How much media may still take."""
        return max(0, shutil.disk_usage(self.folder).free - self.reserve_bytes)

    @property
    def is_gone(self) -> bool:
        """Whether there is not even room for what the database writes before it can save anything."""
        return shutil.disk_usage(self.folder).free < _LEAST_BYTES

    def full(self, needed_bytes: int = 0) -> DiskFull:
        """What is said of a full disk."""
        free = shutil.disk_usage(self.folder).free
        needed = (
            f"{_size(needed_bytes)} more is needed, and only {_size(free)} is" if needed_bytes else f"{_size(free)} is"
        )
        short = max(0, needed_bytes + self.reserve_bytes - free)
        make = f"Free up at least {_size(short)}" if short else "Free up some space"
        return DiskFull(
            f"The disk is full: {needed} free. {_size(self.reserve_bytes)} is kept in reserve so that your work can still be "
            f"saved. {make}, then try again."
        )


def is_full(error: OSError) -> bool:
    """Whether an error of the system says that the disk is full."""
    return error.errno in _FULL


def _size(count: int) -> str:
    return f"{count / 1e9:.1f} GB" if count >= 950_000_000 else f"{max(1, round(count / 1e6))} MB"
