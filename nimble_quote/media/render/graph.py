"""A filter graph as nodes: filters in chains, chains joined by labels, and expressions that stay shallow.

[0:v:0] filter, filter [a0]        a chain, from its inputs to its outputs
[a0] split=2 [a1][a2]
"""

from collections.abc import Callable, Sequence
from dataclasses import dataclass, field
from itertools import count
from typing import TypeVar

T = TypeVar("T")
Label = str


@dataclass(frozen=True)
class Filter:
    """A filter and its options, by place or by name. A value is written as it is: quote an expression by `quoted`."""

    name: str
    args: tuple[object, ...] = ()
    options: tuple[tuple[str, object], ...] = ()

    def __str__(self) -> str:
        options = [*(str(one) for one in self.args), *(f"{name}={value}" for name, value in self.options)]
        return f"{self.name}={':'.join(options)}" if options else self.name


def node(name: str, *args: object, **options: object) -> Filter:
    """A filter with its options."""
    return Filter(name, args, tuple(options.items()))


def written(filters: str) -> Filter:
    """Filters that are written out already, as one."""
    return Filter(filters)


def quoted(expression: str) -> str:
    """An expression as the value of an option."""
    return f"'{expression}'"


@dataclass
class Graph:
    """Chains, in the order they were added, and labels that no two of them share."""

    _chains: list[str] = field(default_factory=list)
    _numbers: "count[int]" = field(default_factory=count)

    def label(self) -> Label:
        """A new label."""
        return f"s{next(self._numbers)}"

    def chain(self, inputs: Sequence[Label], filters: Sequence[Filter], outputs: Sequence[Label]) -> None:
        """Adds a chain with the outputs named."""
        before, after = "".join(f"[{one}]" for one in inputs), "".join(f"[{one}]" for one in outputs)
        self._chains.append(f"{before}{','.join(str(one) for one in filters)}{after}")

    def through(self, source: Label, *filters: Filter) -> Label:
        """The output of filters after a label; the label itself where there are none."""
        if not filters:
            return source
        out = self.label()
        self.chain([source], filters, [out])
        return out

    def split(self, source: Label, ways: int) -> list[Label]:
        """A label parted in so many."""
        if ways == 1:
            return [source]
        outs = [self.label() for _ in range(ways)]
        self.chain([source], [node("split", ways)], outs)
        return outs

    def joined(self, sources: Sequence[Label], *filters: Filter) -> Label:
        """One output of several labels."""
        out = self.label()
        self.chain(sources, filters, [out])
        return out

    def __str__(self) -> str:
        return ";\n".join(self._chains)


@dataclass(frozen=True, kw_only=True)
class Leaf:
    """The value of an expression from a moment on, until the next leaf."""

    start: int
    value: str


def by_moment(variable: str, leaves: Sequence[Leaf]) -> str:
    """An expression that has the value of each leaf in its time: a balanced tree, since ffmpeg's parser goes a level
    deeper for each nested term and refuses a hundred."""
    if len(leaves) == 1:
        return leaves[0].value
    half = len(leaves) // 2
    low, high = by_moment(variable, leaves[:half]), by_moment(variable, leaves[half:])
    return low if low == high else f"if(lt({variable},{leaves[half].start}),{low},{high})"


def any_of(terms: Sequence[str]) -> str:
    """An expression that is not zero where one of several is not, as a balanced tree of sums."""
    return _tree(terms, lambda low, high: f"({low}+{high})")


def _tree(parts: Sequence[str], join: Callable[[str, str], str]) -> str:
    if len(parts) == 1:
        return parts[0]
    half = len(parts) // 2
    return join(_tree(parts[:half], join), _tree(parts[half:], join))
