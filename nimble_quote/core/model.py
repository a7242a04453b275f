"""The base that every stored or exchanged model of the core shares."""

from pydantic import BaseModel, ConfigDict


class Frozen(BaseModel):
    """An immutable model that refuses fields it does not know."""

    model_config = ConfigDict(frozen=True, extra="forbid")
