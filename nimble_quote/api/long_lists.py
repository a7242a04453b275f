"""Answers of thousands of items. Each item is written once and kept as it was written, for as long as what it was made of
stays as it is: a list is then little more than the sum of its parts."""

from collections import OrderedDict
from collections.abc import Callable, Hashable, Sequence
from typing import Generic, TypeVar

from fastapi import Response
from pydantic import TypeAdapter

K = TypeVar("K", bound=Hashable)
T = TypeVar("T")


class Written(Generic[T]):
    """Items as JSON, by all that they were made of; the `most` asked for last are kept."""

    def __init__(self, shape: TypeAdapter[T], most: int) -> None:
        self._shape = shape
        self._most = most
        self._kept: OrderedDict[Hashable, bytes] = OrderedDict()

    def has(self, key: Hashable) -> bool:
        """Whether an item need not be made."""
        return key in self._kept

    def list_of(self, keys: Sequence[K], make: Callable[[K], T]) -> bytes:
        """A JSON array of the items with these keys; those that are not kept are made."""
        parts = []
        for key in keys:
            if (part := self._kept.get(key)) is None:
                part = self._kept[key] = self._shape.dump_json(make(key))
            else:
                self._kept.move_to_end(key)
            parts.append(part)
        while len(self._kept) > self._most:
            self._kept.popitem(last=False)
        return b"[" + b",".join(parts) + b"]"


def as_json(body: bytes) -> Response:
    """An answer that is JSON already. The route names its shape as its `response_model`, for the description of the API."""
    return Response(body, media_type="application/json")
