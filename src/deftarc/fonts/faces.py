"""The shipped faces. A face's id is its files' name without the ending."""

from dataclasses import dataclass
from importlib.resources import files

#: Where the files lie: the server hands them to pages, too.
FILES = files("deftarc") / "fonts" / "files"


@dataclass(frozen=True)
class Face:
    """A shipped face: its files in the order in which a letter is looked for."""

    id: str
    label: str
    files: tuple[str, ...]


def _face(name: str, weight: int, label: str) -> Face:
    parts = ("latin", "latin-ext")
    return Face(f"{name}-{weight}", label, tuple(f"{name}-{part}-{weight}-normal.woff2" for part in parts))


FACES: dict[str, Face] = {
    face.id: face
    for face in (
        _face("bricolage-grotesque", 400, "Bricolage Grotesque"),
        _face("bricolage-grotesque", 700, "Bricolage Grotesque Bold"),
        _face("bricolage-grotesque", 800, "Bricolage Grotesque ExtraBold"),
        _face("young-serif", 400, "Young Serif"),
        _face("atkinson-hyperlegible-next", 400, "Atkinson Hyperlegible"),
        _face("atkinson-hyperlegible-next", 700, "Atkinson Hyperlegible Bold"),
        _face("atkinson-hyperlegible-mono", 400, "Atkinson Hyperlegible Mono"),
    )
}
