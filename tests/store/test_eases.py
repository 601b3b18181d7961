"""Eases for all projects: kept, replaced, forgotten, and there in a data folder of an older version."""

from threading import Thread

import pytest
from sqlalchemy import text

from deftarc.core.base.errors import Refusal
from deftarc.core.changes.css import parse_easing
from deftarc.core.curves.knots import Knot, OwnEase
from deftarc.store.database import open_database
from deftarc.store.eases import EaseStore


def ease(name, css="ease-out"):
    return OwnEase(name=name, knots=tuple(parse_easing(css)))


def test_an_older_data_folder_gets_the_table_and_keeps_what_it_had(tmp_path):
    sessions = open_database(tmp_path)
    with sessions.begin() as session:
        session.execute(text("INSERT INTO assets VALUES ('h', 'text/plain', x'61')"))
        session.execute(text("DROP TABLE eases"))
        session.execute(text("UPDATE alembic_version SET version_num = '0001'"))
    again = open_database(tmp_path)
    EaseStore(again).keep(ease("Lean"))
    with again() as session:
        assert session.scalar(text("SELECT count(*) FROM assets")) == 1


def test_the_newest_comes_last_and_one_of_a_name_is_replaced(tmp_path):
    store = EaseStore(open_database(tmp_path))
    for told in (ease("A"), ease("B"), ease("A", "steps(3)")):
        store.keep(told)
    assert [each.name for each in store.all()] == ["B", "A"]
    assert store.all()[1].knots[0].steps.count == 3
    store.forget("B")
    assert [each.name for each in EaseStore(store.sessions).all()] == ["A"]
    with pytest.raises(Refusal, match="no ease"):
        store.forget("B")


def test_there_is_an_end_to_how_many(tmp_path, monkeypatch):
    monkeypatch.setattr("deftarc.core.base.limits.MAX_OWN_EASES", 2)
    store = EaseStore(open_database(tmp_path))
    store.keep(ease("A"))
    store.keep(ease("B"))
    with pytest.raises(Refusal, match="2 eases already"):
        store.keep(ease("C"))
    store.keep(ease("B", "ease-in"))


@pytest.mark.parametrize(
    "knots",
    [
        (Knot(x=0, y=0), Knot(x=1, y=0.5)),
        (Knot(x=0.1, y=0), Knot(x=1, y=1)),
        (Knot(x=0, y=0), Knot(x=0.5, y=2), Knot(x=0.5, y=1), Knot(x=1, y=1)),
    ],
)
def test_an_ease_runs_from_nought_to_one_and_forward(knots):
    with pytest.raises(ValueError, match=r"An ease runs|rising times"):
        OwnEase(name="Odd", knots=knots)


def test_what_is_kept_while_another_reads_is_there_for_the_next_reader(tmp_path):
    store = EaseStore(open_database(tmp_path))
    real, writers = store.sessions, []

    def slow():
        # Someone keeps an ease just after the reader has opened its session.
        if not writers:
            store.sessions = real
            writers.append(Thread(target=store.keep, args=(ease("Late"),)))
            writers[0].start()
            writers[0].join(timeout=0.3)
        return real()

    store.sessions = slow
    store.all()
    writers[0].join()
    assert [each.name for each in store.all()] == ["Late"]
