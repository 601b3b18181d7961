"""What routes share: the workshop of the running application, and the page templates."""

from functools import lru_cache
from pathlib import Path
from typing import Annotated, Any

from fastapi import Depends, Request
from fastapi.templating import Jinja2Templates
from markupsafe import Markup

from deftarc import __version__
from deftarc.core.edit import Locked
from deftarc.web.views.bead import bare, drawn
from deftarc.web.views.handles import half_drawn
from deftarc.web.workshop import Workshop

HERE = Path(__file__).parent
ICONS = HERE / "static" / "vendor" / "icons"


def _workshop(request: Request) -> Workshop:
    shop: Workshop = request.app.state.workshop
    return shop


Shop = Annotated[Workshop, Depends(_workshop)]

templates = Jinja2Templates(directory=HERE / "templates")


@lru_cache(maxsize=256)
def icon(name: str) -> Markup:
    """A shipped icon's SVG, hidden from readers: its button carries the words."""
    text = (ICONS / f"{name}.svg").read_text()
    return Markup(text.replace("<svg ", '<svg aria-hidden="true" ', 1))


templates.env.globals.update(icon=icon, version=__version__, bead=drawn, bare=bare, half_drawn=half_drawn)
# Templates ship with the application: nobody changes them under it.
templates.env.auto_reload = False
templates.env.trim_blocks = templates.env.lstrip_blocks = True


def fragment(name: str, **values: Any) -> str:
    """A template rendered on its own."""
    return templates.env.get_template(name).render(**values)


def lock_offer(locked: Locked) -> dict[str, object]:
    """What goes with the refusal to change what is locked: the edit that unlocks it, and the words of its button."""
    return {"offer": locked.offer, "edit": locked.unlock.model_dump(mode="json", exclude_none=True)}
