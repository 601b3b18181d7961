"""Parts of a movie put one after the other as they are: nothing is encoded again."""

from collections.abc import Sequence
from fractions import Fraction
from pathlib import Path
from typing import Any

import av

from deftarc.core.base.errors import Refusal


def joined(
    parts: Sequence[tuple[Path, int]], target: Path, kind: str, rate: Fraction, late: int, options: dict[str, str]
) -> None:
    """Writes parts, each with how many frames it has, into a container of a kind.

    ``late`` is by how many frames the codec decodes ahead of what it shows. Refusal where a part has other frames than
    it should.
    """
    # No names by chance and no dates: the same parts are the same bytes.
    with av.open(str(target), "w", format=kind, options={**options, "fflags": "+bitexact"}) as out:
        stream: Any = None
        first = sent = 0
        for path, count in parts:
            with av.open(str(path)) as source:
                given = source.streams.video[0]
                if stream is None:
                    stream = out.add_stream_from_template(given)
                    stream.time_base = 1 / rate
                    stream.metadata.update(given.metadata)
                seen = 0
                for packet in source.demux(given):
                    if packet.pts is None or packet.time_base is None:
                        continue
                    shown = round(packet.pts * packet.time_base * rate)
                    packet.stream = stream
                    packet.time_base = 1 / rate
                    packet.pts, packet.dts, packet.duration = first + shown, sent - late, 1
                    sent += 1
                    seen += 1
                    out.mux(packet)
            if seen != count:
                raise Refusal(f"A part of {target.name} has {seen} frames instead of {count}. Render it again.")
            first += count
