"""Only movement blurs: what comes, goes or jumps while the shutter is open is whole, and where its frame has it."""

import numpy as np
import pytest
from PIL import Image, ImageFilter

from deftarc.core.curves.beyond import Beyond
from deftarc.core.curves.sides import Steps
from deftarc.core.document.artwork import Carrier, Rectangle
from deftarc.core.document.artwork.scene import SceneShown
from deftarc.core.document.links import Later, Link, LinkSource
from tests.paint.test_smear import light, open_shut
from tests.scenes import at, layer, numbers, positions, scene

FRAMES = 24
#: Px a frame that anything moves, and how far a smear may be seen from what is sharp.
SLOW, NEAR = 2, 7
HOLD = {"hold": True}


def way(*places):
    """Along at an even pace from each (frame, x, y) to the next; a jump there."""
    keys = []
    for (f, x, y), after in zip(places, [*places[1:], (FRAMES, 0, 0)], strict=True):
        keys += [(f, (x, y)), (after[0] - 1, (x + SLOW * (after[0] - 1 - f), y), HOLD)]
    return positions(*keys[:-1])


def dot(name="Dot", **tracks):
    tracks = {"position": positions((0, (40, 40)), (FRAMES, (40 + SLOW * FRAMES, 40)))} | tracks
    return layer(name, Rectangle(width=20, height=20, fill="#ffffff"), **tracks).changed(smears=True)


def small(*layers, angle, phase, **fields):
    return open_shut(*layers, angle=angle, phase=phase, frames=FRAMES, width=240, height=120, **fields)


def group(**fields):
    return layer("Fleet", Carrier(group=True, as_one=True)).changed(smears=True, **fields)


def cases():
    jumping = way((0, 30, 30), (8, 150, 80), (15, 40, 90))
    span = {"start": at(5), "end": at(17)}
    steps = numbers((0, -80, {"steps": Steps(count=3)}), (12, 60, {"steps": Steps(count=2, jump="both")}), (20, 0))
    inner = scene(
        dot("Inside", position=positions((0, (40, 110)), (FRAMES, (90, 110)))).changed(**span), dot("Other", position=jumping), frames=FRAMES, width=240, height=120,
        background=None,
    ).changed(id="inner")  # fmt: skip

    def shown(**told):
        how = {key: told.pop(key) for key in ("goes_on", "begins", "rate") if key in told}
        return layer(
            "Shown", SceneShown(scene="inner", width=240, height=120, **how), position=positions(value=(120, 60))
        ).changed(smears=True, **told)

    yield "from the first frame on", [dot()]
    yield "a span", [dot().changed(**span)]
    yield "in a group with a span", [dot().changed(parent="fleet", smears=False, **span), group()]
    yield "a group's own span", [dot().changed(parent="fleet", **span), group()]
    yield "a hold", [dot(position=jumping)]
    yield "carried over a hold", [
        dot(position=positions(value=(0, 0))).changed(parent="mast"), layer("Mast", Carrier(), position=jumping)
    ]  # fmt: skip
    yield (
        "carried late",
        [
            dot(position=positions(value=(0, 0))).changed(parent="mast", later=Later(position=at(2))),
            layer("Mast", Carrier(), position=jumping),
        ],
    )
    yield (
        "followed, late",
        [
            dot(position_x=numbers((0, 40), (FRAMES, 40 + SLOW * FRAMES)), position_y=numbers(value=60)).changed(
                links={"position_x": Link(source=LinkSource(layer="lead", what="position", part=0), lag=at(3))}
            ),
            layer("Lead", Carrier(), position=way((0, 30, 30), (8, 60, 80), (15, 10, 90))),
        ],
    )
    yield "steps", [dot(position_x=numbers((0, 90), (FRAMES, 110)), position_y=numbers(value=60), rotation=steps)]
    yield "played again", [
        dot(position=positions((0, (40, 40)), (7, (54, 40))).changed(after=Beyond(how="repeat")))
    ]  # fmt: skip
    yield "there and back over a hold", [
        dot(position=positions((0, (40, 40)), (3, (46, 40), HOLD), (6, (90, 40)), (8, (94, 40))).changed(
            after=Beyond(how="alternate")))
    ]  # fmt: skip
    yield "a rest after the keys", [
        dot(position_x=numbers((0, 40), (9, 58)).changed(after=Beyond(how="rest", value=(150.0,))),
            position_y=numbers((0, 40), (FRAMES, 80)))
    ]  # fmt: skip
    clock = numbers((0, 0.2), (9, 0.56, HOLD), (10, 0.0), (FRAMES, 0.5))
    yield "a clock that jumps", [dot(clock=clock)]
    yield "a group's clock that jumps", [dot().changed(parent="fleet"), group().with_track("clock", clock)]
    yield "within a scene", [shown(), inner]
    yield "within one that begins later and ends", [shown(start=at(4), end=at(19)), inner]
    yield "within one that is played once", [shown(goes_on="once", begins=-at(6)), inner]
    yield "within one that is played again", [shown(goes_on="repeat", begins=at(13)), inner]


CASES = list(cases())


@pytest.mark.parametrize(("angle", "phase"), [(180.0, -90.0), (360.0, -180.0), (270.0, 0.0)])
@pytest.mark.parametrize("case", [rows for _, rows in CASES], ids=[name for name, _ in CASES])
def test_it_is_whole_and_in_one_place(case, angle, phase):
    layers = [each for each in case if hasattr(each, "artwork")]
    scenes = {each.id: each for each in case if not hasattr(each, "artwork")}
    blurred = 0
    for frame in range(FRAMES):
        sharp = light(small(*layers, angle=0.0, phase=0.0), frame, scenes)
        soft = light(small(*layers, angle=angle, phase=phase), frame, scenes)
        assert soft.sum() == pytest.approx(sharp.sum(), rel=0.01, abs=0.5), frame
        around = np.array(Image.fromarray((sharp * 255).astype(np.uint8)).filter(ImageFilter.MaxFilter(2 * NEAR + 1)))
        assert soft[around == 0].max(initial=0) == 0, frame
        blurred += (soft != sharp).any()
    assert blurred > FRAMES / 3
