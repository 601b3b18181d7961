"""What routes share: the workshop of the running application, and the page templates."""

import shutil
import tempfile
from collections.abc import AsyncIterator
from contextlib import asynccontextmanager
from functools import lru_cache
from pathlib import Path
from typing import Annotated, Any

from fastapi import Depends, Request, UploadFile
from fastapi.templating import Jinja2Templates
from jinja2 import Environment, FileSystemLoader
from markupsafe import Markup

from deftarc import __version__
from deftarc.app.readers import Readers, on_disk
from deftarc.app.workshop import Workshop
from deftarc.core.base import limits
from deftarc.core.edit import Locked
from deftarc.store.trouble import trouble_of
from deftarc.web.bodies import file_of
from deftarc.web.entry import page_token

HERE = Path(__file__).parent
ICONS = HERE / "static" / "vendor" / "icons"


def _workshop(request: Request) -> Workshop:
    shop: Workshop = request.app.state.workshop
    return shop


Shop = Annotated[Workshop, Depends(_workshop)]


def file_named(file: UploadFile) -> str:
    """What an upload is called, as far as that can be written down."""
    told = (file.filename or "").rpartition("/")[2]
    return "".join(c for c in told if c.isprintable())[:400]


class Bringing:
    """How a route has an upload read: put on disk, read by a process of its own, given up when its sender leaves."""

    def __init__(self, request: Request) -> None:
        self.request = request
        self.readers: Readers = request.app.state.readers
        self.folder: Path = request.app.state.workshop.incoming

    @property
    def most(self) -> int:
        """The bytes that the route has declared its file to have at most."""
        return file_of(self.request.scope["endpoint"])

    async def read(self, task: str, file: UploadFile, *given: Any) -> Any:
        """What a task of reading_process comes to; Refusal in a sentence otherwise."""
        async with on_disk(file, self.folder, self.most) as path:
            return await self.readers.read(task, path, *given, gone=self.request.is_disconnected)

    @asynccontextmanager
    async def folder_for_one(self) -> AsyncIterator[Path]:
        """A folder for what an upload unpacks to, while this lasts."""
        try:
            self.folder.mkdir(parents=True, exist_ok=True)
            into = Path(tempfile.mkdtemp(dir=self.folder))
        except OSError as error:
            raise trouble_of(error, self.folder) or error from error
        try:
            yield into
        finally:
            shutil.rmtree(into, ignore_errors=True)

    async def read_project(self, file: UploadFile, into: Path) -> Any:
        async with on_disk(file, self.folder, self.most) as path:
            return await self.readers.read(
                "project",
                path,
                into,
                file_named(file),
                seconds=limits.READ_PROJECT_SECONDS,
                gone=self.request.is_disconnected,
            )


Uploads = Annotated[Bringing, Depends(Bringing)]

# Whatever its ending, every template escapes what it is given: only what one of our own functions made as markup is
# put in as it is. Templates ship with the application: nobody changes them under it.
templates = Jinja2Templates(
    env=Environment(
        loader=FileSystemLoader(HERE / "templates"),
        autoescape=True,
        auto_reload=False,
        trim_blocks=True,
        lstrip_blocks=True,
    )
)


@lru_cache(maxsize=256)
def icon(name: str) -> Markup:
    """A shipped icon's SVG, hidden from readers: its button carries the words."""
    text = (ICONS / f"{name}.svg").read_text()
    return Markup(text.replace("<svg ", '<svg aria-hidden="true" ', 1))


def _nonce(request: Request) -> str:
    """What a script element of this answer carries, so that it runs."""
    return str(request.scope.get("deftarc.nonce", ""))


def _page_token(request: Request) -> str:
    """What the page shows with each request that changes something."""
    return page_token(request.app.state.workshop.page_secret, request.scope.get("deftarc.session", ""))


templates.env.globals.update(icon=icon, version=__version__, nonce=_nonce, page_token=_page_token)


def fragment(name: str, **values: Any) -> str:
    """A template rendered on its own."""
    return templates.env.get_template(name).render(**values)


def lock_offer(locked: Locked) -> dict[str, object]:
    """What goes with the refusal to change what is locked: the edit that unlocks it, and the words of its button."""
    return {"offer": locked.offer, "edit": locked.unlock.model_dump(mode="json", exclude_none=True)}
