"""Where things are, from the environment (`NIMBLE_QUOTE_…`)."""

from functools import cache
from pathlib import Path

from pydantic_settings import BaseSettings, SettingsConfigDict

PROJECT = Path(__file__).resolve().parent.parent


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
    port: int = 8320


@cache
def settings() -> Settings:
    """The settings, read once."""
    return Settings()
