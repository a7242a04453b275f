"""Packages, as the API tells them before and after they are taken in."""

from pydantic import BaseModel


class TakenQuoteView(BaseModel):
    """A quote of a package: what it is of, whether that is here, and what would be otherwise here."""

    title: str
    recording: str
    recording_id: int | None
    """The recording that it would be a quote of; None where it is not here."""
    versions: list[str]
    here_already: int | None
    """A quote of just this that is here already, by its id."""
    notes: list[str]


class PackageView(BaseModel):
    """What a package has, looked at before it is taken in; `brings` is what would be added to the house."""

    title: str
    quotes: list[TakenQuoteView]
    missing: list[str]
    brings: list[str]


class TakenInView(BaseModel):
    """The quotes that a package has become, by their ids, and what was left out."""

    quotes: list[int]
    left_out: list[str]
