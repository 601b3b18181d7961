"""The command line: serve, sample, render, import, export, schema."""

import json
import re
import sys
from collections.abc import Iterator
from contextlib import closing, contextmanager
from pathlib import Path
from tempfile import TemporaryDirectory
from typing import Annotated, Literal, NoReturn

import typer
from av.error import FFmpegError
from pydantic import ValidationError

from deftarc.app.queue.crews import Crew, Processes
from deftarc.app.queue.farm import Cluster
from deftarc.app.queue.making import Making, made_with
from deftarc.app.queue.work import Order
from deftarc.app.settings import settings
from deftarc.core.base.errors import Refusal
from deftarc.core.document import Project
from deftarc.core.document.find import find_layer, find_scene
from deftarc.core.document.properties import property_named
from deftarc.core.edit import apply
from deftarc.core.edit.type_keys import TypeKeys
from deftarc.core.words import Misread, told_keys
from deftarc.formats.archive import ProjectFile, read_project
from deftarc.formats.materials import Materials
from deftarc.formats.read import title_of
from deftarc.formats.read.lottie.reader import read_lottie
from deftarc.formats.read.lottie.source import is_animation
from deftarc.formats.read.samples import sample_csv
from deftarc.paint.output import Job, Progress, Stretch, chosen, no_progress, output_for, output_named, whole
from deftarc.paint.output.movie import PAPER

app = typer.Typer(
    no_args_is_help=True,
    add_completion=False,
    pretty_exceptions_enable=False,
    help="Deft Arc: keys, paths, and the curves between them. Project files come from “export”.",
)

File = Annotated[
    Path, typer.Argument(help="A Deft Arc project file (.deftarc), or a Lottie animation.", show_default=False)
]
SceneName = Annotated[
    str | None,
    typer.Option("--scene", "-s", help="The scene's name or id. [default: the first]", show_default=False),
]
LayerName = Annotated[str, typer.Option("--layer", "-l", help="The layer's name or id.", show_default=False)]
PropertyName = Annotated[
    str, typer.Option("--property", "-p", help="position, rotation, scale, opacity, …", show_default=False)
]
Data = Annotated[
    Path | None,
    typer.Option(
        "--data", help="The folder that holds the projects. [default: the user's data folder]", show_default=False
    ),
]


def fail(error: Exception) -> NoReturn:
    typer.echo(f"deftarc: {error}", err=True)
    raise typer.Exit(1)


def open_file(path: Path) -> ProjectFile:
    """A project, or an animation as one: of that, what is not carried is said beside."""
    try:
        data = path.read_bytes()
        if not is_animation(path):
            return read_project(data)
        found = read_lottie(data, title_of(path.name))
        for each in found.notes:
            typer.echo(f"deftarc: {each}", err=True)
        return ProjectFile(found.project, {each.hash: each for each in found.assets})
    except OSError as error:
        fail(Refusal(f"{path} cannot be read: {error.strerror}."))
    except Refusal as error:
        fail(error)


@app.command()
def serve(
    demo: Annotated[
        bool, typer.Option("--demo", help="Put the Quillhaven demo in, if no project is there yet.")
    ] = False,
    port: Annotated[
        int | None, typer.Option(help="The port to listen on. [default: 8321]", min=0, max=65535, show_default=False)
    ] = None,
    host: Annotated[
        str | None,
        typer.Option(
            help="The address to listen on. Other than loopback asks for DEFTARC_TOKEN, or for a token made for you. "
            "[default: 127.0.0.1]",
            show_default=False,
        ),
    ] = None,
    name: Annotated[
        list[str] | None,
        typer.Option("--name", help="A name or address by which others reach this server; may be told several times."),
    ] = None,
    farm: Annotated[
        str | None,
        typer.Option(
            help="The address of a Dask scheduler, tcp://name:8786 or tls://…, whose workers paint instead of this "
            "machine. Whoever is there can run code here: name none but your own.",
            show_default=False,
        ),
    ] = None,
    data: Data = None,
) -> None:
    """Serve the workbench to a browser. What is not told here is taken from the environment: DEFTARC_DATA, …"""
    from deftarc.web.server import run

    try:
        run(settings(data=data, host=host, port=port, names=tuple(name) if name else None, farm=farm), demo)
    except Refusal as error:
        fail(error)


@app.command()
def sample(
    file: File,
    layer: LayerName,
    property_: PropertyName,
    scene: SceneName = None,
    frames: Annotated[
        str | None, typer.Option(help="First and last frame, as 0-48. [default: all]", show_default=False)
    ] = None,
) -> None:
    """Print a property's motion as CSV: frame, seconds, its components, its speed per second.

    Units are those of the workbench: px, degrees, per cent. Speed is “inf” where it is unbounded.
    """
    opened = open_file(file)
    try:
        found = find_scene(opened.project, scene)
        first, last = frame_range(frames, found.frames)
        sys.stdout.write(sample_csv(found, find_layer(found, layer), property_, first, last))
    except Refusal as error:
        fail(error)


@app.command()
def keys(file: File, layer: LayerName, property_: PropertyName, scene: SceneName = None) -> None:
    """Print a property's keys as one line, which “set” takes; nothing where it has none."""
    opened = open_file(file)
    try:
        found = find_scene(opened.project, scene)
        facts = property_named(property_)
        text = told_keys(find_layer(found, layer).track(facts.id), facts, found.rate)
    except Refusal as error:
        fail(error)
    if text:
        typer.echo(text)


@app.command("set")
def set_keys(
    file: File,
    text: Annotated[str, typer.Argument(help="“0f 100% slow ends · 50f 60% · 99f 100%”, or - for standard input.")],
    layer: LayerName,
    property_: PropertyName,
    scene: SceneName = None,
    out: Annotated[
        Path | None, typer.Option("--out", "-o", help="Write here instead of into the file itself.", show_default=False)
    ] = None,
) -> None:
    """Give a property the keys that a line tells, and write the project file."""
    opened = open_file(file)
    if out is None and is_animation(file):
        fail(Refusal(f"{file} is an animation, and keys are written into project files. Say where with --out."))
    line = sys.stdin.read() if text == "-" else text
    try:
        found = find_scene(opened.project, scene)
        name = find_layer(found, layer).id
        made = apply(opened.project, TypeKeys(scene=found.id, layer=name, property=property_, text=line.strip()))
        with whole(out or file) as half:
            half.write_bytes(opened.written(made))
    except Misread as error:
        typer.echo(f"{line.strip()}\n{' ' * error.start}{'^' * max(1, error.end - error.start)}", err=True)
        fail(error)
    except (Refusal, ValidationError) as error:
        fail(error)
    except OSError as error:
        fail(Refusal(f"{out or file} cannot be written: {error.strerror}."))


def frame_range(told: str | None, count: int) -> tuple[int, int]:
    """First and last frame of “a-b” or “a”; all frames when nothing was told."""
    if told is None:
        return 0, count - 1
    first, _, last = told.partition("-")
    if not first.isdigit() or (last and not last.isdigit()):
        raise Refusal(f"“{told[:40]}” is no range of frames. Write it as 0-48.")
    return int(first), int(last or first)


def ground_of(told: str) -> str:
    """A typed ground as #rrggbb."""
    if not re.fullmatch("#[0-9a-fA-F]{6}", told):
        raise Refusal(f"“{told[:20]}” is no colour for the ground. Type it as #rrggbb, like #ffffff.")
    return told.lower()


@app.command()
def render(
    file: File,
    out: Annotated[
        Path, typer.Option("--out", "-o", help="X.mp4 for a movie, X.png for one frame, DIR/ for numbered frames.")
    ],
    scene: SceneName = None,
    frame: Annotated[int, typer.Option(help="The frame of a single picture.")] = 0,
    progress: Annotated[bool, typer.Option(help="Print “frames done of all” as it goes.")] = False,
    ground: Annotated[str, typer.Option(help="What a movie shows where its background lets through, #rrggbb.")] = PAPER,
    more: Annotated[
        list[str] | None,
        typer.Option("--set", help="name=value of any other option an output has; may be told several times."),
    ] = None,
    workers: Annotated[int, typer.Option(help="Processes that paint parts of it side by side.", min=1, max=64)] = 1,
    farm: Annotated[
        str | None, typer.Option(help="The address of a Dask scheduler, tcp://name:8786: its workers paint instead.")
    ] = None,
) -> None:
    """Render a scene to a movie, one frame, or a folder of frames.

    Ends with 0 once it is made, 1 where it cannot be, 2 where the command is wrong, 130 when it was stopped.
    """
    opened = open_file(file)
    try:
        found = find_scene(opened.project, scene)
        output = output_for(out)
        options = chosen(output, {"frame": frame, "ground": ground_of(ground), **dict(map(_parted, more or ()))})
        output.check(found, options)
        with told_to_people(progress, output.total(found, options)) as told:
            at = settings(farm=farm).farm_at()
            if workers == 1 and at is None:
                project = opened.project
                job = Job(found, Materials(opened.read_asset), project.by_id, project, opened.written)
                output.write(job, options, out, told)
            else:
                order = Order(output.id, found.id, options.model_dump(mode="json"))
                crew = Cluster(at) if at is not None else Processes(workers)
                made_aside(crew, order, opened, output.parts(found, options), out, told)
    except Refusal as error:
        fail(error)
    except (OSError, FFmpegError) as error:
        fail(Refusal(f"{out} cannot be written: {getattr(error, 'strerror', None) or error}."))


def _parted(told: str) -> tuple[str, str]:
    name, sign, value = told.partition("=")
    if not sign:
        raise Refusal(f"“{told[:40]}” is no option. Write it as name=value.")
    return name, value


@contextmanager
def told_to_people(lines: bool, total: int) -> Iterator[Progress]:
    """How far it is: as lines for programs, as a bar where somebody looks at it, else not at all."""
    if lines or not sys.stderr.isatty():
        yield (lambda done, all_: print(f"{done} {all_}", flush=True)) if lines else no_progress
        return
    with typer.progressbar(length=total, label="Frames", file=sys.stderr, show_pos=True) as bar:
        yield lambda done, _all: bar.update(done - bar.pos)


def made_aside(
    crew: Crew, order: Order, opened: ProjectFile, runs: list[Stretch], out: Path, progress: Progress
) -> None:
    """Makes an output with others' hands, as the queue does, in a folder beside its place."""
    if not output_named(order.output).suffix:
        out.parent.mkdir(parents=True, exist_ok=True)
    with closing(crew), TemporaryDirectory(prefix=f".{out.name}.", dir=out.parent, ignore_cleanup_errors=True) as aside:
        making = Making.laid(Path(aside) / "job", order, opened.written(opened.project), runs)
        made_with(crew, making, out, progress)


@app.command("export")
def export_project(
    project: Annotated[str, typer.Argument(help="The project's id, as its address shows it.", show_default=False)],
    file: Annotated[Path, typer.Argument(help="The project file to write.", show_default=False)],
    data: Data = None,
    as_it_lies: Annotated[
        bool, typer.Option("--as-it-lies", help="Write what is stored, also where it cannot be opened.")
    ] = False,
) -> None:
    """Write a project of the data folder to a file."""
    from deftarc.app.workshop import Workshop

    try:
        shop = Workshop.at(settings(data=data).data)
        told = shop.as_it_lies(project)[1] if as_it_lies else shop.export(project)
        with whole(file) as half:
            half.write_bytes(told)
    except Refusal as error:
        fail(error)
    except OSError as error:
        fail(Refusal(f"{file} cannot be written: {error.strerror}."))


@app.command("import")
def import_project(file: File, data: Data = None) -> None:
    """Take a project file into the data folder, and print the new project's id."""
    from deftarc.app.workshop import Workshop

    opened = open_file(file)
    try:
        typer.echo(Workshop.at(settings(data=data).data).take(opened))
    except Refusal as error:
        fail(error)


@app.command("queue")
def queue(
    do: Annotated[
        Literal["list", "stop", "pause", "go", "first", "again"],
        typer.Argument(help="list what there is; or what is to become of one."),
    ] = "list",
    job: Annotated[
        str | None, typer.Argument(help="The render's id, as the list shows it.", show_default=False)
    ] = None,
    data: Data = None,
) -> None:
    """List the renders of a data folder, or stop, pause, go on with, put first or make again one of them.

    A server that has the folder does it within a second; where none has, it is done when one begins.
    """
    from deftarc.app.workshop import Workshop

    try:
        shop = Workshop.at(settings(data=data).data)
        if do == "list":
            for row in shop.jobs.newest():
                typer.echo(f"{row.id}  {row.state:8}{row.done:>7} of {row.total:<7}{row.title}  {row.message}".rstrip())
        elif job is None:
            raise Refusal(f"Which render is to {do}? “deftarc queue” lists them.")
        else:
            shop.jobs.get(job)
            shop.jobs.wish(job, do)
    except Refusal as error:
        fail(error)


@app.command()
def schema() -> None:
    """Print the JSON Schema of a project file's project.json."""
    typer.echo(json.dumps(Project.model_json_schema(), indent=2, ensure_ascii=False))


if __name__ == "__main__":
    app()
