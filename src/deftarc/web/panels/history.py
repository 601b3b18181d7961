"""The history as a list: every step by name, the newest first, with what was undone and overwritten beside it."""

from dataclasses import dataclass, field
from typing import ClassVar

from deftarc.store.history import State
from deftarc.web.context import fragment
from deftarc.web.panels.drawer import DRAWERS, Drawer
from deftarc.web.panels.panel import Showing

#: Steps shown after and before the present one, and of all that are looked for.
AHEAD, BEHIND, MOST_FOUND = 60, 140, 120


@dataclass
class Row:
    """A state: whether it is the present one, or comes after it; and the branches that left it."""

    state: State
    now: bool = False
    ahead: bool = False
    branches: list[list[State]] = field(default_factory=list)


def branches_by_fork(states: list[State]) -> dict[int, list[list[State]]]:
    """What lies beside the line, by the state it left: each branch with all that came of it, in order."""
    followers: dict[int, list[State]] = {}
    for state in states:
        if state.number is None:
            followers.setdefault(state.parent, []).append(state)
    out: dict[int, list[list[State]]] = {}
    for fork in (state for state in states if state.number is not None):
        for first in followers.get(fork.revision, ()):
            branch, waiting = [], [first]
            while waiting:
                here = waiting.pop(0)
                branch.append(here)
                waiting = followers.get(here.revision, []) + waiting
            out.setdefault(fork.revision, []).append(branch)
    return out


def rows_of(states: list[State], cursor: int) -> tuple[list[Row], int, int]:
    """The rows around the present state, the newest first; and how many steps after and before are left out."""
    line = sorted((state for state in states if state.number is not None), key=lambda state: state.number or 0)
    beside = branches_by_fork(states)
    first, last = max(0, cursor - BEHIND), min(len(line), cursor + AHEAD + 1)
    rows = [
        Row(state, n == cursor, n > cursor, beside.get(state.revision, []))
        for n, state in enumerate(line[first:last], first)
    ]
    return rows[::-1], len(line) - last, first


@DRAWERS.add
class HistoryDrawer(Drawer):
    id: ClassVar[str] = "history"

    def __init__(self) -> None:
        #: The list as it was drawn, and for which revision: a drag need not read the history again.
        self.kept: tuple[tuple[object, ...], str] | None = None
        self.named = 0

    def title(self, showing: Showing) -> str:
        return "History"

    def html(self, showing: Showing) -> str:
        shop, project = showing.shop, showing.opened.id
        asked = (project, showing.opened.revision, showing.look.drawer_text, shop.projects.names_given)
        if self.kept is None or self.kept[0] != asked:
            self.kept = (asked, self._drawn(showing))
        return self.kept[1]

    def _drawn(self, showing: Showing) -> str:
        opened = showing.opened
        states = showing.shop.projects.states(opened.id)
        text = showing.look.drawer_text.strip().casefold()
        found = [s for s in reversed(states) if text in s.label.casefold() or text in s.name.casefold()] if text else []
        rows, ahead, behind = rows_of(states, opened.cursor)
        return fragment(
            "parts/history.html", rows=rows, ahead=ahead, behind=behind, text=showing.look.drawer_text,
            found=found[:MOST_FOUND], named=[s for s in reversed(states) if s.name],
            now=next((s for s in states if s.number == opened.cursor), None),
            beside=sum(1 for s in states if s.number is None),
        )  # fmt: skip
