"""The graph of sources: in which order they are sampled, what is still as it was, and who would read himself.

Values are kept by the identity of a source and of all that it read. All tracks that are to be sampled are sampled in
one go.
"""

from collections.abc import Callable, Iterable
from dataclasses import dataclass, field
from typing import Any

import numpy as np

from deftarc.core.base.arrays import Floats, Integers
from deftarc.core.base.errors import Refusal
from deftarc.core.base.identity import identical
from deftarc.core.curves.curve import sample_many
from deftarc.core.evaluate.source import Keys, Node, Path, Source


@dataclass(eq=False)
class _Entry:
    source: Source
    needs: tuple[Node, ...]
    #: What was read for the value, and the value.
    inputs: tuple[Any, ...] | None = None
    value: Any = None


def _plain(source: Source) -> bool:
    return isinstance(source, Keys) and source.plain


def told_plainly(node: Node) -> str:
    return f"{' › '.join(node.path)}, {node.what}"


class Elsewhen:
    """Values at any moments, each worked out once: many may follow one thing, and speeds ask for moments beside each
    other. ``source`` gives what drives a node.
    """

    def __init__(
        self, source: Callable[[Node], Source], beside: "Callable[[Floats], Floats | None] | None" = None
    ) -> None:
        self.source, self.beside = source, beside or (lambda times: None)
        self._known: dict[bytes, dict[Node, Any]] = {}

    def forget(self) -> None:
        self._known.clear()

    def read(self, node: Node, times: Floats) -> Any:
        """A node's values at times (n,) in flicks. What it reads at the same moments is made before it, one after the
        other: carriers may be a thousand deep.
        """
        known = self._known.setdefault(times.tobytes(), {})
        chain = [node]
        while chain:
            each = chain[-1]
            if each in known:
                chain.pop()
                continue
            source = self.source(each)
            due = [need for need in source.together() if need not in known]
            if due:
                chain.extend(due)
                continue
            shown = self.beside(times)
            known[each] = (
                source.sample(times, self.read) if shown is None else source.sample_beside(times, shown, self.read)
            )
            chain.pop()
        return known[node]


@dataclass(eq=False)
class Graph:
    """Sources by the nodes they drive, with their values at one set of times."""

    times: Integers
    #: Of moments within frames, those of the frames they belong to (F,).
    shown: Integers | None = None
    #: How a node is called where a circle is told.
    named: Callable[[Node], str] = told_plainly
    _entries: dict[Node, _Entry] = field(default_factory=dict)
    _readers: dict[Node, set[Node]] = field(default_factory=dict)
    _stale: set[Node] = field(default_factory=set)

    def __post_init__(self) -> None:
        self.at = self.times.astype(np.float64)
        self._elsewhen = Elsewhen(lambda node: self._entries[node].source, self._beside)

    def _beside(self, times: Floats) -> Floats | None:
        """The moments that others belong to: those asked for earlier or later than the graph's are so by as much."""
        return None if self.shown is None or len(times) != len(self.at) else self.shown + (times - self.at)

    def __contains__(self, node: Node) -> bool:
        return node in self._entries

    def source(self, node: Node) -> Source | None:
        found = self._entries.get(node)
        return found.source if found is not None else None

    def put(self, node: Node, source: Source) -> None:
        """Lets a source drive a node; nothing happens where one that is the same does so already."""
        before = self._entries.get(node)
        if before is not None and (before.source is source or before.source == source):
            return
        needs = source.needs()
        if before is not None:
            for each in before.needs:
                self._readers[each].discard(node)
        self._entries[node] = _Entry(source, needs, value=before.value if before is not None else None)
        for each in needs:
            self._readers.setdefault(each, set()).add(node)
        self._stale.add(node)

    def drop(self, nodes: Iterable[Node]) -> None:
        """Forgets nodes; who reads one of them has to be given another source, or to be dropped, too."""
        for node in nodes:
            gone = self._entries.pop(node, None)
            if gone is not None:
                self._stale.discard(node)
                for each in gone.needs:
                    self._readers[each].discard(node)

    def of(self, path: Path) -> list[Node]:
        return [node for node in self._entries if node.path == path]

    def settle(self) -> Iterable[Node]:
        """Brings every value up to date, and tells which it looked at.

        Refusal, naming its members, where sources read each other in a circle.
        """
        if not self._stale:
            return ()
        affected = self._affected()
        self._elsewhen.forget()
        # Keys alone are sampled in one go; what goes on past them is folded onto them, lane by lane.
        keys = [node for node in self._stale if self._in_one_go(self._entries[node].source)]
        tracks = [self._entries[node].source.track for node in keys]  # type: ignore[attr-defined]
        if tracks:
            rows = sample_many([track.curve for track in tracks], self.times)
            for node, track, row in zip(keys, tracks, rows, strict=True):
                entry = self._entries[node]
                entry.value, entry.inputs = track.sampled(self.at, row), ()
        done = set(keys)
        for node in affected:
            self._bring(node, affected, done)
        self._stale.clear()
        self._elsewhen.forget()
        return affected

    def _in_one_go(self, source: Source) -> bool:
        return _plain(source) and (self.shown is None or not source.track.curve.steps[:, 0].any())  # type: ignore[attr-defined]

    def _sampled(self, source: Source) -> Any:
        if self.shown is None:
            return source.sample(self.at, self.read)
        return source.sample_beside(self.at, self.shown.astype(np.float64), self.read)

    def _affected(self) -> dict[Node, None]:
        """What is stale and all that reads it, however far on; in no order."""
        found: dict[Node, None] = dict.fromkeys(self._stale)
        waiting = list(found)
        while waiting:
            for reader in self._readers.get(waiting.pop(), ()):
                if reader not in found:
                    found[reader] = None
                    waiting.append(reader)
        return found

    def _bring(self, first: Node, affected: dict[Node, None], done: set[Node]) -> None:
        """One node and what it needs up to date; without recursion, since carriers may be a thousand deep."""
        chain = [first]
        on_chain = {first}
        while chain:
            node = chain[-1]
            if node in done:
                on_chain.discard(chain.pop())
                continue
            entry = self._entries[node]
            due = next((each for each in entry.needs if each in affected and each not in done), None)
            if due is None:
                inputs = tuple(self._value(each) for each in entry.needs)
                if node in self._stale or entry.inputs is None or not identical(inputs, entry.inputs):
                    entry.value, entry.inputs = self._sampled(entry.source), inputs
                done.add(node)
                on_chain.discard(chain.pop())
                continue
            if due in on_chain:
                ring = [*chain[chain.index(due) :], due]
                raise Refusal(f"These would drive each other in a circle: {' → '.join(map(self.named, ring))}.")
            chain.append(due)
            on_chain.add(due)

    def _value(self, node: Node) -> Any:
        return self._entries[node].value

    def get(self, node: Node) -> Any:
        """A node's value, as ``[]``; None where nothing drives it."""
        found = self._entries.get(node)
        return found.value if found is not None else None

    def __getitem__(self, node: Node) -> Any:
        """A node's value at the graph's times, once all is settled. KeyError where nothing drives it."""
        return self._entries[node].value

    def read(self, node: Node, times: Floats) -> Any:
        """A node's values at any times; those of the graph's own are at hand."""
        if times is self.at:
            return self._entries[node].value
        return self._elsewhen.read(node, times)
