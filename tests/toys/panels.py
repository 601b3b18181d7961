"""A toy panel: how many layers there are."""

from typing import ClassVar

from deftarc.web.panels.panel import PANELS, Panel, Part, Showing


@PANELS.add
class Census(Panel):
    id: ClassVar[str] = "census"

    def answer(self, showing: Showing) -> Part:
        return Part(head={"census": len(showing.scene.layers)})
