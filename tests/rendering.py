"""Outputs made for tests: of a scene, in one process, with no queue."""

import av

from deftarc.formats.materials import Materials
from deftarc.paint.output import Job, chosen, no_progress, output_for, output_named


def no_asset(name):
    raise AssertionError(f"no asset {name} here")


def job_of(scene, read=no_asset, scenes=None):
    return Job(scene, Materials(read), scenes or {})


def made(scene, target, progress=no_progress, output=None, job=None, **options):
    """A scene, or a job of it, as what a file's ending says, or as the output of that id; returns the file."""
    output = output_named(output) if output else output_for(target)
    wanted = chosen(output, options)
    output.check(scene, wanted)
    output.write(job or job_of(scene), wanted, target, progress)
    return target


def frames_of(path, form="rgb24"):
    """The frames of a movie, as the decoder gives them."""
    with av.open(str(path)) as movie:
        return [frame.to_ndarray(format=form) for frame in movie.decode(video=0)]
