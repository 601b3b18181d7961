"""Saved motions in the store and as files: kept, found again, and refused where they are damaged."""

import pytest
from sqlalchemy import text

from deftarc.core.base.errors import Refusal
from deftarc.core.document.upgrade import FORMAT
from deftarc.core.words.shipped_motions import shipped
from deftarc.formats.motions import read_motions, write_motions
from deftarc.store.database import open_database
from deftarc.store.motions import MotionStore
from deftarc.store.parts import PartIndex
from deftarc.store.reading_parts import Reading, as_it_lies, children
from tests.scenes import gull, layer, project

BOB, GULL, BELL = shipped()[:3]


def test_an_older_data_folder_gets_the_table(tmp_path):
    sessions = open_database(tmp_path)
    with sessions.begin() as session:
        session.execute(text("DROP TABLE motions"))
        session.execute(text("UPDATE alembic_version SET version_num = '0004'"))
    store = MotionStore(open_database(tmp_path))
    store.keep(BOB, GULL)
    assert MotionStore(store.sessions).all() == [BOB, GULL]


def test_several_are_kept_or_none_and_one_of_a_name_is_replaced(tmp_path, monkeypatch):
    monkeypatch.setattr("deftarc.core.base.limits.MAX_MOTIONS", 2)
    store = MotionStore(open_database(tmp_path))
    store.keep(BOB)
    with pytest.raises(Refusal, match="There are 1 saved motions already, and 2 would be more"):
        store.keep(GULL, BELL)
    store.keep(GULL, BOB.changed(about="Other"))
    assert [each.about for each in store.all()] == [GULL.about, "Other"]


def test_one_gets_another_name_in_its_place_where_there_is_no_room_for_more(tmp_path, monkeypatch):
    monkeypatch.setattr("deftarc.core.base.limits.MAX_MOTIONS", 2)
    store = MotionStore(open_database(tmp_path))
    store.keep(BOB, GULL)
    store.keep(BOB.changed(name="Roll"), instead_of=BOB.name)
    assert sorted(each.name for each in store.all()) == [GULL.name, "Roll"]
    # Kept under its own name it is not taken away.
    store.keep(GULL.changed(about="Other"), instead_of=GULL.name)
    assert [each.about for each in store.all() if each.name == GULL.name] == ["Other"]


def test_a_fresh_one_takes_the_place_of_none_but_the_one_it_is_instead_of(tmp_path):
    store = MotionStore(open_database(tmp_path))
    store.keep(BOB, GULL, fresh=True)
    for instead_of in (None, BOB.name):
        with pytest.raises(Refusal, match=f"There is a “{GULL.name}” already for all projects"):
            store.keep(GULL.changed(about="Other"), instead_of=instead_of, fresh=True)
    assert store.all() == [BOB, GULL]
    store.keep(GULL.changed(about="Other"), instead_of=GULL.name, fresh=True)
    assert [each.about for each in store.all()] == [BOB.about, "Other"]


def test_one_that_cannot_be_read_is_left_out_and_stays_as_it_lies(tmp_path):
    store = MotionStore(open_database(tmp_path))
    store.keep(BOB, GULL)
    with store.sessions.begin() as session:
        session.execute(
            text("UPDATE motions SET motion = substr(motion, 1, 90) WHERE name = :name"), {"name": BOB.name}
        )
    again = MotionStore(store.sessions)
    assert again.all() == [GULL]
    with store.sessions() as session:
        assert session.scalar(text("SELECT count(*) FROM motions")) == 2


def test_a_file_comes_back_as_it_was_and_is_the_same_each_time():
    data = write_motions(shipped())
    assert tuple(read_motions(data)) == shipped()
    assert write_motions(read_motions(data)) == data


@pytest.mark.parametrize("part", [1, 2, 3])
def test_a_file_cut_short_says_so(part):
    data = write_motions(shipped())
    with pytest.raises(Refusal, match="damaged or cut short"):
        read_motions(data[: len(data) * part // 4])


@pytest.mark.parametrize(
    ("was", "now", "words"),
    [(b'"format": %d' % FORMAT, b'"format": 99', "later Deft Arc"), (b"saved-motions", b"other", "no file of saved motions"),
     (b'"rotation"', b'"spin"', "“Bob on the swell” does not keep the format: .*A property that there is none of"),
     (b'"Gull swoops in"', b'"Bob on the swell"', "share one name")],
)  # fmt: skip
def test_what_keeps_no_format_is_refused_by_name(was, now, words):
    with pytest.raises(Refusal, match=words) as refusal:
        read_motions(write_motions([BOB, GULL]).replace(was, now))
    assert "\n" not in str(refusal.value)


def test_motions_of_a_project_are_parts_of_their_own_and_a_lost_one_costs_nothing_else():
    before = project(gull(), layer("Ferry")).changed(motions=(BOB, GULL))
    index = PartIndex()
    first = index.write(before)
    index.keep(first)
    # An edit of a scene writes none of them again.
    here = before.scenes[0]
    after = before.with_scene(here.with_layer(here.layer("ferry").changed(name="Tug")))
    second = index.write(after)
    index.keep(second)
    index.replace(before, after)
    assert all(b"swell" not in body for body in second.bodies.values())
    assert len(second.bodies) == 3
    bodies = {**first.bodies, **second.bodies}
    assert Reading(PartIndex(), bodies.__getitem__).project(second.root) == after
    known = {index.known(motion).name for motion in after.motions}
    from deftarc.store.parts import text_of

    assert known <= set(children(text_of(bodies[second.root], second.root)))
    bodies.pop(index.known(BOB).name)
    assert Reading(PartIndex(), bodies.__getitem__).project(second.root) == after.changed(motions=(GULL,))
    document, lost = as_it_lies(second.root, bodies.__getitem__)
    assert [each["name"] for each in document["motions"]] == [GULL.name]
    assert lost == ["a saved motion"]
