"""A hand on what is drawn of a text: its letters are measured by whoever can shape them, the edit is kept with a number."""

import numpy as np
import pytest
from pydantic import ValidationError

from deftarc.core.arrange.handles import Held, handles_of
from deftarc.core.base.errors import Refusal
from deftarc.core.document.artwork import Text
from deftarc.core.edit import apply, measured
from deftarc.core.edit.clocks import GiveClock
from deftarc.core.edit.handles import DragHandle
from deftarc.core.evaluate import posed
from deftarc.formats.materials import Materials
from tests.scenes import at, layer, numbers, project


@pytest.fixture(scope="module")
def materials():
    return Materials(lambda _: b"")


def sign(in_turn, **tracks):
    art = Text(text="Quay 7", stroke="#123456", stroke_width=3, fill=None, drawn_in_turn=in_turn)
    return layer("Sign", art, **tracks)


def place(scene, time, materials, end):
    item = scene.layer("sign")
    held = Held(item, posed(scene, item, time), (0, 0, 0, 0), materials.shape_text)
    return next(each.at for each in handles_of(held) if each.id == f"drawn/{end}")


@pytest.mark.parametrize("in_turn", [False, True])
@pytest.mark.parametrize(("end", "share"), [("to", 0.37), ("from", 0.61), ("to", 0.9)])
@pytest.mark.parametrize("rate", [None, 0.5])
def test_a_hand_where_a_share_lies_draws_that_share_also_by_a_clock_and_while_letters_move(
    materials, in_turn, end, share, rate
):
    item = sign(in_turn, letter_spacing=numbers((0, 0.0), (40, 0.4)), size=numbers((0, 60.0), (40, 120.0)))
    before = project(item.with_track(f"drawn_{end}", numbers(value=share)))
    plain = project(item)
    if rate is not None:
        before, plain = (
            apply(each, GiveClock(scene="crossing", layers=("sign",), rate=rate)) for each in (before, plain)
        )
    to = place(before.scenes[0], at(20), materials, end)
    edit = DragHandle(scene="crossing", layer="sign", handle=f"drawn/{end}", to=to, time=at(20), keying=True)
    told = measured(plain, edit, materials)
    made = apply(plain, told).scenes[0]
    assert made.layer("sign").track(f"drawn_{end}").keys
    assert posed(made, made.layer("sign"), at(20))[f"drawn_{end}"][0] == pytest.approx(share, abs=2e-4)
    assert np.allclose(place(made, at(20), materials, end), to, atol=0.1)
    # What is kept of it needs no letters to be read again.
    assert DragHandle.model_validate_json(told.model_dump_json()) == told


def test_a_handle_that_is_not_there_is_refused_where_it_is_made(materials):
    bare = project(layer("Sign", Text(text="Quay", stroke=None)))
    edit = DragHandle(scene="crossing", layer="sign", handle="drawn/to", to=(0, 0))
    with pytest.raises(Refusal, match="not there"):
        measured(bare, edit, materials)
    with pytest.raises(Refusal, match="not there"):
        apply(bare, edit)


def test_a_share_that_was_told_counts_for_letters_alone_and_keeps_to_what_can_be(materials):
    for bad in (-0.1, 1.5, float("nan")):
        with pytest.raises(ValidationError):
            DragHandle(scene="crossing", layer="sign", handle="drawn/to", to=(0, 0), share=bad)
    bare = project(layer("Sign", Text(text="Quay", stroke=None)))
    with pytest.raises(Refusal, match="not there"):
        apply(bare, DragHandle(scene="crossing", layer="sign", handle="drawn/to", to=(0, 0), share=0.5))
    inked = project(sign(False))
    for handle in (
        "drawn/elsewhere",
        "drawn",
        "effect/one",
        "mask/one",
        "gradient/fill/1",
        "bars/left",
        "nothing/at/all",
    ):
        with pytest.raises(Refusal, match="not there"):
            apply(inked, DragHandle(scene="crossing", layer="sign", handle=handle, to=(0, 0), share=0.5))
