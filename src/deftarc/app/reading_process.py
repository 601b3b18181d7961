"""A process that reads what was brought in, one file after the other, and does nothing else.

It is told what to read by its standard input and answers on its standard output, both pickled. Whoever started it ends
it when it takes too long; it ends itself when it is asked nothing more. What it may take of memory it cannot exceed.
"""

import gc
import logging
import os
import pickle
import struct
import sys
import warnings
from collections.abc import Callable
from contextlib import suppress
from dataclasses import replace
from pathlib import Path
from threading import Thread
from time import sleep
from typing import Any, BinaryIO

from pydantic import ValidationError

from deftarc.core.base import limits
from deftarc.core.base.errors import Refusal
from deftarc.core.document.motion import SavedMotion
from deftarc.formats.archive import Checked, document_by_layers, opened
from deftarc.formats.enclosed import enclosed, is_drawing
from deftarc.formats.motions import read_motions
from deftarc.formats.origins import with_origin
from deftarc.formats.read import INPUTS, BroughtIn, BroughtScenes, come_of, title_of
from deftarc.formats.read.lottie.reader import read_lottie
from deftarc.formats.read.lottie.source import HEAD, is_lottie
from deftarc.store.parts import Known, PartIndex, Writer, Written

TOO_MUCH = "This file takes more memory to read than it is given. Make it smaller, or simplify it."
#: The first thing it says: what a file is given of time begins when it is asked, not while it is started.
READY = "ready"
#: An answer: whether it is one, and it; or why there is none, in a sentence.
Answer = tuple[bool, Any]


def _brought_in(path: Path, name: str, prefix: str = "") -> BroughtIn | BroughtScenes:
    """What a layer shows of a file. Scenes say where they came from."""
    made = come_of(path.read_bytes(), name, prefix)
    return _remembered(made, name) if isinstance(made, BroughtScenes) else made


def _remembered(made: BroughtScenes, file: str) -> BroughtScenes:
    """Scenes that say which file they came of, with what is kept of them."""
    scenes, kept = with_origin(made.scenes, file)
    if kept is None:
        note = "It is so large that it cannot be brought in again after it changed"
        return replace(made, notes=(*made.notes, f"{note}."))
    return replace(made, scenes=scenes, assets=(*made.assets, kept))


def _project(path: Path, into: Path, name: str = "") -> tuple[str, Written, dict[str, str], tuple[str, ...]]:
    """A project file's name, its document as parts, its assets' media types, and what of it is not carried, in
    sentences; the assets lie in ``into``.
    """
    index = PartIndex()
    writer = Writer(index)
    layers: list[Known] = []
    found = Checked()
    with path.open("rb") as file:
        head = file.read(HEAD)
    if is_drawing(head):
        path.write_bytes(enclosed(path.read_bytes()))
        head = b""
    elif is_lottie(head, path):
        return _animation(path, into, name, writer)
    plain = head[:1] == b"{"
    if plain:
        if path.stat().st_size > limits.MAX_DOCUMENT_BYTES:
            raise Refusal("This project's document is larger than Deft Arc opens.")
        project = document_by_layers(path.read_bytes(), lambda layer: layers.append(_stored(writer, layer)))
    else:
        with opened(path) as archive:
            document, archive.document = archive.document, b""
            project = document_by_layers(document, lambda layer: layers.append(_stored(writer, layer)))
            del document
            for name, asset in archive.assets():
                found.add(name, asset)
                (into / name).write_bytes(asset.data)
    found.holds(project)
    rest = iter(layers)
    scenes = [writer.scene(scene, [next(rest) for _ in scene.layers]) for scene in project.scenes]
    root = writer.root(project, scenes)
    return project.name, Written(root.name, root.size, writer.bodies, []), found.media, ()


def _animation(
    path: Path, into: Path, file: str, writer: Writer
) -> tuple[str, Written, dict[str, str], tuple[str, ...]]:
    """An animation as a project of its own."""
    made = _remembered(read_lottie(path.read_bytes(), title_of(file)), file)
    for asset in made.assets:
        (into / asset.hash).write_bytes(asset.data)
    project = made.project
    scenes = [writer.scene(scene, [_stored(writer, layer) for layer in scene.layers]) for scene in project.scenes]
    root = writer.root(project, scenes)
    media = {asset.hash: asset.media for asset in made.assets}
    return project.name, Written(root.name, root.size, writer.bodies, []), media, made.notes


def _stored(writer: Writer, layer: Any) -> Known:
    """A layer's part; what it was made of is let go."""
    known = writer.layer(layer)
    writer.forget()
    return Known(None, known.name, known.size)


def _motions(path: Path) -> list[SavedMotion]:
    return read_motions(path.read_bytes())


TASKS: dict[str, Callable[..., Any]] = {"brought in": _brought_in, "project": _project, "motions": _motions}


def task_named(name: str) -> Callable[..., Any]:
    """What reads a file: one of the tasks here, or an input by its id, given the file's bytes."""
    if name in TASKS:
        return TASKS[name]
    read = INPUTS[name].read
    return lambda path, *given: read(path.read_bytes(), *given)


def answered(task: str, given: tuple[Any, ...]) -> Answer:
    """What a task comes to. Whatever a parser raises on bad data, it is a sentence."""
    try:
        return True, task_named(task)(*given)
    except Refusal as refusal:
        return False, str(refusal)
    except ValidationError:
        return False, "This file has a number that is none, or larger than Deft Arc can draw. Save it again without it."
    except MemoryError:
        return False, TOO_MUCH
    except RecursionError:
        return False, "This file is nested deeper than Deft Arc reads. Flatten it, and save it again."
    except Exception as error:
        print(f"reading a {task}: {type(error).__name__}: {error}", file=sys.stderr, flush=True)
        return False, "This file is damaged, or made in a way that cannot be read. Save it again in another way."


def send(stream: BinaryIO, thing: Any) -> None:
    data = pickle.dumps(thing, pickle.HIGHEST_PROTOCOL)
    stream.write(struct.pack(">Q", len(data)))
    stream.write(data)
    stream.flush()


def receive(stream: BinaryIO) -> Any:
    """The next thing sent; EOFError when there is none."""
    head = stream.read(8)
    if len(head) < 8:
        raise EOFError
    return pickle.loads(stream.read(struct.unpack(">Q", head)[0]))


def limit_memory(more: int) -> None:
    """No more bytes than that beside what is taken now, where the system can be told so."""
    with suppress(ImportError, OSError, ValueError, AttributeError):
        import resource

        taken = sum(
            int(line.split()[1]) * 1024
            for line in Path("/proc/self/status").read_text().splitlines() if line.startswith("VmData:")
        )  # fmt: skip
        resource.setrlimit(resource.RLIMIT_DATA, (taken + more, taken + more))


def _end_with_parent(parent: int) -> None:
    while os.getppid() == parent:
        sleep(0.5)
    os._exit(3)


def main() -> None:
    # Numbers that grow past all others are looked for where they are kept.
    warnings.simplefilter("ignore", RuntimeWarning)
    # Nor is what a library has to say of each of the thousands of mistakes in a file.
    logging.disable(logging.CRITICAL)
    stdin, stdout = os.fdopen(os.dup(0), "rb"), os.fdopen(os.dup(1), "wb")
    # What a parser prints must not be taken for an answer.
    os.dup2(2, 1)
    Thread(target=_end_with_parent, args=(os.getppid(),), name="tie", daemon=True).start()
    limit_memory(limits.READ_MEMORY)
    with suppress(EOFError, BrokenPipeError, KeyboardInterrupt):
        send(stdout, READY)
        while True:
            task, given = receive(stdin)
            # Much is made of which nothing is thrown away: looking for what might be would take longer than to read.
            gc.disable()
            answer = answered(task, given)
            gc.enable()
            send(stdout, answer)
            del answer
            gc.collect()


if __name__ == "__main__":
    main()
