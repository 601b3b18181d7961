"""The drawer: one place over the pair for lists that one opens, works through and closes again.

A list is one class, registered here; what its rows offer are edits, or where to go, told with them.
"""

from typing import ClassVar

from deftarc.core.base.register import Register
from deftarc.core.edit import EditBase
from deftarc.web.panels.panel import PANELS, Panel, Part, Showing


class Drawer:
    """A list for the drawer of one page."""

    id: ClassVar[str]

    def title(self, showing: Showing) -> str:
        raise NotImplementedError

    def html(self, showing: Showing) -> str:
        raise NotImplementedError


DRAWERS: Register[type[Drawer]] = Register("drawers", lambda drawer: drawer.id)


def as_told(edit: EditBase) -> str:
    """An edit as a button carries it, to be made when that is pressed."""
    return edit.model_dump_json(exclude_defaults=True)


@PANELS.add
class DrawerPanel(Panel):
    """What the drawer shows; nothing while it is shut."""

    id: ClassVar[str] = "drawer"

    def __init__(self) -> None:
        self.drawers = {name: kind() for name, kind in DRAWERS.items()}
        #: Whether the page shows it: that stays so, whatever else it is to be told anew.
        self.told = False

    def answer(self, showing: Showing) -> Part:
        drawer = self.drawers.get(showing.look.drawer)
        if drawer is None:
            told, self.told = self.told, False
            return Part(head={"drawer": None}, fragments={"drawer-body": ""} if told else {})
        self.told = True
        return Part(
            head={"drawer": {"id": drawer.id, "title": drawer.title(showing)}},
            fragments={"drawer-body": drawer.html(showing)},
        )
