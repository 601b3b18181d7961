"""What goes out as a picture or a movie: collected from a file each."""

from deftarc.core.base.register import collect
from deftarc.paint.output.base import (
    OUTPUTS,
    Job,
    Options,
    Output,
    Progress,
    Stretch,
    chosen,
    no_progress,
    output_for,
    output_named,
    part_name,
    whole,
)  # fmt: skip

collect(__name__, __path__, ("base", "movie"))

__all__ = [
    "OUTPUTS", "Job", "Options", "Output", "Progress", "Stretch", "chosen", "no_progress", "output_for", "output_named",
    "part_name", "whole",
]  # fmt: skip
