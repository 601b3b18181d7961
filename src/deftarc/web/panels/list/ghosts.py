"""Another take in the lanes: what a lane or a span is in it, as an outline over what shows."""

from deftarc.core.changes.retime import span_of
from deftarc.core.document import Layer, Scene
from deftarc.core.document.track import AnyTrack
from deftarc.web.panels.axis import TimeAxis
from deftarc.web.panels.list.lanes import BAND, LANE, band_path

#: Half of a ghost bead, px.
SIZE = 4.0


def ghost_of_lane(track: AnyTrack | None, axis: TimeAxis, height: float) -> str:
    """A lane's band in outline, and a ring at each of its keys in view; empty where there is none."""
    if track is None or not track.keys:
        return ""
    middle = (height - 1) / 2
    rings = [
        f"M{x - SIZE:.1f} {middle}a{SIZE} {SIZE} 0 1 0 {2 * SIZE} 0a{SIZE} {SIZE} 0 1 0 {-2 * SIZE} 0"
        for x in axis.xs(track.key_times).tolist()
        if -10 <= x <= axis.width + 10
    ]
    return band_path(track.curve, axis, middle, BAND * (height / LANE)) + "".join(rings)


def ghost_span(other: Layer | None, layer: Layer, scene: Scene, axis: TimeAxis) -> str:
    """A layer's span in another take, where it is another."""
    if other is None or (other.start, other.end) == (layer.start, layer.end):
        return ""
    start, end = (axis.x(time) for time in span_of(other, scene.length))
    return f"M{start:.1f} 20H{end:.1f}M{start:.1f} 17v6M{end:.1f} 17v6"
