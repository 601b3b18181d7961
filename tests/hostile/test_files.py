"""Every hostile file gets an answer in a sentence or is taken in, soon, and the server goes on."""

import pytest

from tests.hostile import archives, fonts, motions, pictures, rows, svgs

KINDS = {
    "svg": (svgs.files, "/api/projects/p/scenes/crossing/files", ".svg"),
    "path": (svgs.files, "/api/projects/p/scenes/crossing/layers/gull/path-file", ".svg"),
    "picture": (pictures.files, "/api/projects/p/scenes/crossing/files", ".png"),
    "font": (fonts.files, "/api/projects/p/fonts", ".otf"),
    "archive": (archives.files, "/api/projects/import", ".deftarc"),
    "motions": (motions.files, "/api/motions/file", ".deftarc-motions"),
    "rows": (rows.files, "/api/projects/p/scenes/crossing/layers/gull/samples", ".csv"),
}
FIELDS = {"time": "0", "end": "29400000", "property": "rotation"}


def sent(client, kind, name, data):
    """The answer to one file."""
    _, path, ending = KINDS[kind]
    revision = client.get("/api/projects/p").json()["revision"]
    return client.post(path, files={"file": (f"a{ending}", data)}, data={"revision": str(revision), **FIELDS})


#: Which of a kind's files: logos in two halves for two processors; as paths the same are read the same way, and some do.
SOME = {"svg, one half": ("svg", 0, 2), "svg, the other": ("svg", 1, 2), "path": ("path", 0, 8)}


@pytest.mark.parametrize("which", [*SOME, *(kind for kind in KINDS if kind not in ("svg", "path"))])
def test_no_hostile_file_breaks_the_server(client, which):
    kind, first, step = SOME.get(which, (which, 0, 1))
    made = dict(list(KINDS[kind][0]().items())[first::step])
    told = {}
    for name, data in made.items():
        answer = sent(client, kind, name, data)
        told[name] = answer.status_code
        assert answer.status_code < 500, (kind, name)
        if answer.status_code >= 400:
            assert answer.status_code in (400, 413, 422), (kind, name)
            assert len(answer.json()["detail"]) > 15, (kind, name)
    # Some are only unusual, most are not taken.
    assert sum(code >= 400 for code in told.values()) > len(told) // 3
    assert client.get("/").status_code == 200


def test_there_are_enough_of_them():
    assert sum(len(made()) for name, (made, _, _) in KINDS.items() if name != "path") >= 300
