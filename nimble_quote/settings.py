"""Where things are, from the environment (`NIMBLE_QUOTE_…`)."""

import os
from functools import cache
from pathlib import Path
from urllib.parse import urlsplit

from pydantic import Field
from pydantic_settings import BaseSettings, SettingsConfigDict

PROJECT = Path(__file__).resolve().parent.parent


def at_once(*, cores_each: int, gigabytes_each: int) -> int:
    """How many pieces of work this machine has cores and memory for at the same time; one at the least."""
    memory = os.sysconf("SC_PAGE_SIZE") * os.sysconf("SC_PHYS_PAGES")
    return max(1, min((os.cpu_count() or 1) // cores_each, memory // (gigabytes_each * 10**9)))


def _exports_at_once() -> int:
    of_memory = at_once(cores_each=1, gigabytes_each=2)
    return min(of_memory, max(2, at_once(cores_each=4, gigabytes_each=2)))


class Settings(BaseSettings):
    """The settings of a server or a worker."""

    model_config = SettingsConfigDict(env_prefix="NIMBLE_QUOTE_")

    database_url: str = "postgresql://127.0.0.1/nimble_quote"
    media_root: Path = PROJECT / "var" / "media"
    web_build: Path = PROJECT / "web" / "build"
    fonts: Path = PROJECT / "web" / "static" / "fonts"
    face_model: Path = (
        PROJECT / "web" / "node_modules" / "@mediapipe" / "face_detection" / "face_detection_full_range.tflite"
    )
    face_mesh: Path = (
        PROJECT / "web" / "node_modules" / "@mediapipe" / "face_mesh" / "face_mesh_solution_packed_assets.data"
    )
    port: int = 8320
    inbox: Path | None = None
    """A folder that is watched: what is put into it is brought in."""
    recogniser_model: Path | None = None
    """A folder with a faster-whisper model, instead of the small one that may be installed."""
    transcription_url: str = ""
    """The address of a transcription service; none where it is empty."""
    transcription_key: str = ""
    search_by_meaning: bool = True
    """Whether talks are read for what they mean, where the weights for it are installed."""
    thesaurus: Path = Path("/usr/share/mythes")
    """Where an open thesaurus is installed, for related words."""
    fetch_hosts: str = ""
    """Hosts (`name` or `name:port`, separated by commas) that recordings may be fetched from by web address."""

    posting_services: str = ""
    """Addresses of services that clips can be posted to, separated by commas."""
    secret_key: Path = PROJECT / "var" / "secret.key"
    """The file with the key that sign-ins with services are encrypted by; made where there is none. Not in the database, so that
    a copy of that gives nothing away."""

    reserve_bytes: int = Field(default=500_000_000, ge=0)
    """Room on the disk that media may not take, so that the database can still save what people do."""
    exports_at_once: int = Field(default_factory=_exports_at_once, ge=1)
    """Clips made at the same time: ffmpeg uses most of every core for one, so on a small machine there are two, the second of which
    takes what the first leaves."""
    analyses_at_once: int = Field(default_factory=lambda: 1 + at_once(cores_each=2, gigabytes_each=3), ge=1)
    """Recordings listened to, looked at, aligned or written down at the same time, of those that somebody waits for: one
    more than the machine has cores for, so that a short one is not kept waiting by a long one."""

    chunk_s: int = Field(default=60, ge=2)
    """A recording's picture is scanned in pieces of this many seconds: as much is lost at most when a worker is killed."""

    phone_address: str = ""
    """Where phones of the local network are answered, once the house lets them in; found out where it is empty."""

    public_url: str = ""
    """Where speakers reach this server from outside (`https://clips.example.org`), for the links they are sent; only
    their own pages answer there. None where it is empty: then a link works on this machine alone."""

    @property
    def phone_port(self) -> int:
        return self.port + 4

    @property
    def public_host(self) -> str:
        return urlsplit(self.public_url).netloc.lower()

    @property
    def services(self) -> tuple[str, ...]:
        return tuple(one.strip().rstrip("/") for one in self.posting_services.split(",") if one.strip())

    @property
    def allowed_hosts(self) -> frozenset[str]:
        return frozenset(host.strip().lower() for host in self.fetch_hosts.split(",") if host.strip())


@cache
def settings() -> Settings:
    """The settings, read once."""
    return Settings()
