"""Secrets as they are kept: hashed where they are only to be known again, else encrypted by a key in a file beside the database (Fernet: AES-128-CBC with HMAC-SHA256)."""

import contextlib
import hashlib
import os
from pathlib import Path

from cryptography.fernet import Fernet, InvalidToken


class SealBroken(RuntimeError):
    """What is kept can't be read by the key that is there: the key was lost or is another's."""


class Sealing:
    """Sealing and opening by the key of a file, which is made, for its owner only, where there is none."""

    def __init__(self, key_file: Path) -> None:
        self._key_file = key_file
        self._fernet: Fernet | None = None

    def seal(self, secret: str) -> bytes:
        """A secret as it is kept."""
        return self._with_key().encrypt(secret.encode())

    def opened(self, kept: bytes) -> str:
        """A secret that was kept. Raises `SealBroken`."""
        try:
            return self._with_key().decrypt(bytes(kept)).decode()
        except InvalidToken as broken:
            raise SealBroken("a secret can't be read: the key file was lost or replaced") from broken

    def _with_key(self) -> Fernet:
        if self._fernet is None:
            self._fernet = Fernet(_key_in(self._key_file))
        return self._fernet


def hash_of(secret: str) -> bytes:
    """What is kept of a secret that is only ever to be known again: of one that nobody could guess, SHA-256 is enough."""
    return hashlib.sha256(secret.encode()).digest()


def _key_in(path: Path) -> bytes:
    if not path.exists():
        path.parent.mkdir(parents=True, exist_ok=True)
        made = path.with_name(f".{path.name}.{os.getpid()}")
        made.touch(mode=0o600)
        made.write_bytes(Fernet.generate_key())
        # Whoever else makes one at the same time, one of the two stands, whole.
        with contextlib.suppress(FileExistsError):
            os.link(made, path)
        made.unlink()
    return path.read_bytes()
