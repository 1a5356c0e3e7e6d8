"""Adapter chains: from the sample's connector to the instrument's port by the pieces that are owned.

A shortest path over connectors: fewest pieces first, then least loss; no piece used more often than it is owned.
"""

import heapq
from dataclasses import dataclass
from itertools import count

from levelmoor.core.model.connectors import Connector
from levelmoor.core.model.equipment import Adapter

LONGEST = 5
"""More pieces than this are a repair, not a chain."""


@dataclass(frozen=True)
class Link:
    """A piece as it sits in the chain: `near` towards the sample."""

    adapter: Adapter
    near: Connector
    far: Connector


@dataclass(frozen=True)
class Chain:
    """The pieces from the sample to the port. `missing` says what has to be found where they do not suffice."""

    links: tuple[Link, ...] = ()
    missing: str = ""
    unknown: bool = False
    """Whether a connector is not stated, which is no reason against an instrument."""

    @property
    def loss_db(self) -> float:
        return sum(link.adapter.loss_db for link in self.links)

    @property
    def high_hz(self) -> float:
        """The highest frequency that every piece with a stated range stands, infinite where none is stated."""
        return min((link.adapter.high_hz for link in self.links if link.adapter.high_hz), default=float("inf"))

    @property
    def words(self) -> str:
        if self.missing:
            return self.missing
        return ", then ".join(link.adapter.name for link in self.links) or "directly, without an adapter"


def find_chain(
    sample: Connector | None,
    port: Connector | None,
    adapters: tuple[Adapter, ...],
    low_hz: float = 0.0,
    high_hz: float = 0.0,
) -> Chain:
    """The shortest chain for the frequencies, or the piece that is missing.

    A chain of none means that the two mate directly.
    """
    if sample is None or port is None:
        who = "the sample" if sample is None else "the instrument"
        return Chain(missing=f"the connector of {who} is not stated", unknown=True)
    usable = adapters_in_range(adapters, low_hz, high_hz)
    reached = _search(sample, port, usable)
    if isinstance(reached, Chain):
        return reached
    return Chain(missing=_missing(reached, sample, port, usable))


def adapters_in_range(adapters: tuple[Adapter, ...], low_hz: float, high_hz: float) -> tuple[Adapter, ...]:
    """Those that stand the frequencies; a piece whose range is not stated is taken to stand any."""
    return tuple(a for a in adapters if a.low_hz <= low_hz and (not a.high_hz or a.high_hz >= high_hz))


def _search(sample: Connector, port: Connector, adapters: tuple[Adapter, ...]) -> "Chain | dict[Connector, int]":
    """The chain, or which open ends can be reached with how many pieces."""
    order = count()
    queue: list[tuple[int, float, int, Connector, tuple[Link, ...]]] = [(0, 0.0, next(order), sample, ())]
    reached: dict[Connector, int] = {}
    seen: set[tuple[Connector, tuple[str, ...]]] = set()
    while queue:
        pieces, loss, _, end, links = heapq.heappop(queue)
        if end.mates(port):
            return Chain(links)
        reached.setdefault(end, pieces)
        if pieces == LONGEST:
            continue
        used = [link.adapter.id for link in links]
        for adapter in adapters:
            if used.count(adapter.id) >= adapter.count:
                continue
            for near, far in {(adapter.end_a, adapter.end_b), (adapter.end_b, adapter.end_a)}:
                if not near.mates(end):
                    continue
                key = (far, tuple(sorted((*used, adapter.id))))
                if key not in seen:
                    seen.add(key)
                    link = Link(adapter, near, far)
                    heapq.heappush(queue, (pieces + 1, loss + adapter.loss_db, next(order), far, (*links, link)))
    return reached


def _missing(reached: dict[Connector, int], sample: Connector, port: Connector, adapters: tuple[Adapter, ...]) -> str:
    """The single piece that would close the gap with the fewest pieces in all."""
    backwards = _search(port, sample, adapters)
    from_port = backwards if isinstance(backwards, dict) else {port: 0}
    near = min(reached, key=lambda c: (reached[c], str(c)))
    best = min(
        ((reached[a] + from_port[b], str(a), str(b), a, b) for a in reached for b in from_port),
        default=(0, "", "", near, port),
    )
    return f"an adapter from {best[3].opposite} to {best[4].opposite} is missing"
