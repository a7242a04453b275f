"""What the thoughts of all talks mean, at hand for searches, and kept up with the talks as they change."""

import asyncio
from collections.abc import Set
from dataclasses import dataclass, field

from nimble_quote.core.search.meaning import Near, TalkVectors, Thoughts
from nimble_quote.media.vectors import MODEL, MeaningMissing, vectors_of, weights
from nimble_quote.store import meanings
from nimble_quote.store.database import Connection, Pool


@dataclass
class Meanings:
    """The thoughts of the talks on the shelf. `on`: whether talks are read for their meaning at all."""

    on: bool
    _kept: dict[int, tuple[int, TalkVectors]] = field(default_factory=dict)
    _thoughts: Thoughts = field(default_factory=lambda: Thoughts({}))
    _turn: asyncio.Lock = field(default_factory=asyncio.Lock)

    async def warm(self, pool: Pool) -> None:
        """Reads what is kept before anybody searches: of a thousand hours that takes seconds."""
        if self.on:
            async with pool.connection() as conn, self._turn:
                await self._keep_up(conn)

    async def there(self) -> bool:
        """Whether searches by meaning can be answered at all."""
        return self.on and await self._no_weights() is None

    async def missing(self, conn: Connection) -> str | None:
        """Why not all talks can be searched by meaning, in words; None where they can, or where that is not wanted."""
        if not self.on:
            return None
        if why := await self._no_weights():
            return why
        if count := await meanings.count_waiting(conn, MODEL):
            which = "1 talk is" if count == 1 else f"{count} talks are"
            return f"{which} still being read, and not searched by meaning yet."
        return None

    async def _no_weights(self) -> str | None:
        try:
            await asyncio.to_thread(weights)
        except MeaningMissing as why:
            return str(why)
        return None

    async def nearest(self, conn: Connection, typed: str, talks: Set[int] | None, most: int) -> list[Near]:
        """The passages nearest in meaning to what was typed, in some talks or all; none where there are no weights."""
        if not await self.there():
            return []
        (query,) = await asyncio.to_thread(vectors_of, [typed])
        async with self._turn:
            await self._keep_up(conn)
        return await asyncio.to_thread(self._thoughts.nearest, query, talks, most)

    async def _keep_up(self, conn: Connection) -> None:
        now = await meanings.versions(conn, MODEL)
        before = {talk: version for talk, (version, _) in self._kept.items()}
        if now == before:
            return
        read = await meanings.vectors(conn, [talk for talk in now if before.get(talk) != now[talk]])
        self._kept = {talk: self._kept[talk] for talk in now if before.get(talk) == now[talk]} | read
        self._thoughts = await asyncio.to_thread(Thoughts, {talk: one for talk, (_, one) in self._kept.items()})
