"""What every edit is: a frozen model with a kind, a sentence for the history, and a pure ``apply``."""

from dataclasses import dataclass
from typing import TYPE_CHECKING

from deftarc.core.base.model import Kinded
from deftarc.core.changes.keys import KeyRef
from deftarc.core.document import Project

if TYPE_CHECKING:
    from collections.abc import Sequence


@dataclass(frozen=True)
class Note:
    """Something an edit did that a person should know, with one edit that would mend it."""

    text: str
    offer: str = ""
    edit: "EditBase | None" = None


class EditBase(Kinded):
    def apply(self, project: Project) -> Project:
        """The project after this edit; shares what did not change. Raises Refusal and changes nothing."""
        raise NotImplementedError

    def label(self, project: Project) -> str:
        """What the history calls it, e.g. “Move Gull”."""
        raise NotImplementedError

    def selects(self, before: Project, project: Project) -> list[KeyRef] | None:
        """The keys of ``project`` selected once it is made of ``before``; None leaves the selection alone."""
        return None

    def notes(self, before: Project, after: Project) -> "Sequence[Note]":
        """What is to be told once it is done."""
        return ()


def quoted(names: list[str]) -> str:
    """Names for a label: one by name, more by number."""
    return names[0] if len(names) == 1 else f"{len(names)} layers"
