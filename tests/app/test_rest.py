"""What is kept to be quick is let go of once nobody has anything open."""

from deftarc.app.workshop import Workshop, caches
from deftarc.core.document import Project
from tests.large import large_scene


def test_nothing_is_kept_of_a_project_that_nobody_has_open(tmp_path):
    shop = Workshop.at(tmp_path)
    shop.projects.create(Project(name="Large", scenes=(large_scene(4, 5),)), "p")
    shop.picture("p")
    assert shop.projects._open
    heard = shop.listeners.setdefault("p", set())
    heard.add(print)
    assert not shop.rest(0)
    assert shop.projects._open
    heard.discard(print)
    # Programs have no page open: what they ask for again and again is not read anew each time.
    assert not shop.rest(60)
    assert shop.rest(0)
    assert not shop.projects._open
    assert sum(each.cache_info().currsize for each in caches()) == 0
    # Once: until somebody comes there is nothing more to let go of.
    assert not shop.rest(0)
    assert shop.projects.open("p").project.name == "Large"


def test_every_cache_has_a_bound():
    assert all(each.cache_parameters()["maxsize"] <= 10_000 for each in caches())
    assert len(list(caches())) > 10
