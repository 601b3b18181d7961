"""The tree of a project's states: nothing that was undone and overwritten is lost, and any state can be gone to."""

import random

import pytest

from deftarc.core.base.errors import Refusal, UnknownThing
from deftarc.core.document import Rectangle
from deftarc.core.edit.add import AddLayer
from deftarc.store.projects import Stale
from deftarc.store.standing import bare
from tests.scenes import project
from tests.store.test_database import room
from tests.store.test_projects import add, filled, names, store  # noqa: F401


def line(made):
    return [state.label for state in made.states("p") if state.number is not None]


def beside(made):
    return {state.label: state for state in made.states("p") if state.number is None}


def test_what_was_undone_and_overwritten_is_found_beside_the_line_and_gone_to(filled):  # noqa: F811
    opened = filled.undo("p", 4)
    opened = filled.undo("p", opened.revision)
    opened = filled.commit("p", opened.revision, add("buoy"))
    assert line(filled) == ["Begin", "Add gull", "Add buoy"]
    left = beside(filled)
    assert {label: state.parent for label, state in left.items()} == {"Add ferry": 2, "Add sun": 3}
    # To the older of the two: redo goes on to the newer, and what stood on the line is beside it now.
    opened = filled.go("p", opened.revision, left["Add ferry"].revision)
    assert (names(opened), opened.undo, opened.redo) == (["ferry", "gull"], "Add ferry", "Add sun")
    assert list(beside(filled)) == ["Add buoy"]
    opened = filled.redo("p", opened.revision)
    opened = filled.go("p", opened.revision, beside(filled)["Add buoy"].revision)
    assert names(opened) == ["buoy", "gull"]
    # On the line itself what comes after can be redone.
    opened = filled.go("p", opened.revision, 1)
    assert (names(opened), opened.undo, opened.redo) == ([], None, "Add gull")


def test_a_state_is_named_and_opened_as_a_project_of_its_own(filled):  # noqa: F811
    opened = filled.undo("p", 4)
    opened = filled.commit("p", opened.revision, add("buoy"))
    sun = beside(filled)["Add sun"].revision
    filled.name_state("p", sun, "With the sun")
    assert beside(filled)["Add sun"].name == "With the sun"
    copied = filled.open(filled.copy_of_state("p", sun))
    assert names(copied) == ["sun", "ferry", "gull"]
    assert copied.cursor == 0
    filled.name_state("p", sun, "")
    assert not beside(filled)["Add sun"].name
    for call in (lambda: filled.name_state("p", 99, "x"), lambda: filled.copy_of_state("p", 99)):
        with pytest.raises(UnknownThing, match="no state"):
            call()


def test_going_somewhere_is_refused_on_an_old_revision_and_done_once(filled):  # noqa: F811
    with pytest.raises(Stale):
        filled.go("p", 3, 1)
    with pytest.raises(Refusal, match="no state"):
        filled.go("p", 4, 99)
    opened = filled.go("p", 4, 2, "once-and-only")
    again = filled.go("p", opened.revision, 1, "once-and-only")
    assert again.repeated
    assert names(again) == ["gull"]


@pytest.mark.parametrize("seed", range(6))
def test_after_any_wandering_every_state_ever_made_is_there_as_it_was(tmp_path, seed):
    chance = random.Random(seed)
    made = store(tmp_path)
    made.create(project(), "p")
    opened = made.open("p")
    known = {1: names(opened)}
    for n in range(60):
        what = chance.choice(("edit", "edit", "undo", "redo", "go"))
        if what == "edit":
            edit = AddLayer(scene="crossing", id=f"l{n}", name=f"l{n}", artwork=Rectangle(width=9, height=9))
            opened = made.commit("p", opened.revision, edit)
            known[opened.revision] = names(opened)
        elif what == "undo" and opened.undo:
            opened = made.undo("p", opened.revision)
        elif what == "redo" and opened.redo:
            opened = made.redo("p", opened.revision)
        elif what == "go":
            state = chance.choice(sorted(known))
            opened = made.go("p", opened.revision, state)
            assert names(opened) == known[state]
    # Swept, and read anew by another process.
    room(made, tmp_path).sweep()
    again = store(tmp_path)
    states = again.states("p")
    assert [state.revision for state in states] == sorted(known)
    assert len({state.number for state in states if state.number is not None}) == sum(
        state.number is not None for state in states
    )
    opened = again.open("p")
    for state in states:
        opened = again.go("p", opened.revision, state.revision)
        assert names(opened) == known[state.revision]


def test_the_oldest_of_very_many_steps_beside_the_line_go_first(filled, monkeypatch):  # noqa: F811
    monkeypatch.setattr("deftarc.store.history.MOST_LEFT", 3)
    opened = filled.open("p")
    for n in range(6):
        opened = filled.undo("p", opened.revision)
        opened = filled.commit("p", opened.revision, add(f"n{n}"))
    assert list(beside(filled)) == ["Add n2", "Add n3", "Add n4"]


def test_a_project_that_is_removed_takes_its_states_along(filled, tmp_path):  # noqa: F811
    opened = filled.undo("p", 4)
    filled.commit("p", opened.revision, add("buoy"))
    filled.name_state("p", 2, "First")
    filled.delete("p")
    room(filled, tmp_path).remove("p")
    with filled.sessions() as session:
        for table in ("left_steps", "named_states", "steps", "parts"):
            assert bare(session).execute(f"SELECT COUNT(*) FROM {table}").fetchone() == (0,), table
