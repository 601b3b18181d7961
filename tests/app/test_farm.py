"""Renders painted by the workers of a Dask cluster, which share nothing with whoever wants them."""

import os
import signal
import threading

import pytest
from distributed import LocalCluster

from deftarc.app.queue.crews import Cluster, crew_of
from deftarc.app.queue.making import made_with
from deftarc.core.base.errors import Refusal
from deftarc.store.settings import Settings
from tests.app.test_queue import FRAMES, ended, laid, render, sailing, shop, until
from tests.rendering import made

__all__ = ["shop"]


@pytest.fixture(scope="module")
def cluster():
    with LocalCluster(n_workers=2, threads_per_worker=1, dashboard_address=None, silence_logs=50) as cluster:
        yield cluster


@pytest.mark.parametrize("kind", ["mp4", "zip"])
def test_a_cluster_one_of_whose_workers_is_killed_makes_the_same_bytes_as_one_alone(cluster, shop, tmp_path, kind):
    alone = made(sailing(), tmp_path / f"alone.{kind}")
    crew = Cluster(cluster.scheduler_address)
    making = laid(tmp_path / "job", shop, kind)
    killed = []

    def told(done, _all):
        if done and not killed:
            killed.append(cluster.workers[0].pid)
            os.kill(killed[0], signal.SIGKILL)

    made_with(crew, making, tmp_path / f"farm.{kind}", told)
    crew.close()
    assert killed
    assert (tmp_path / f"farm.{kind}").read_bytes() == alone.read_bytes()


def test_the_queue_hands_them_to_the_farm_that_settings_name_and_back_to_this_machine(cluster, shop):
    shop.settings.keep(Settings(farm=cluster.scheduler_address))
    job = render(shop)
    assert ended(shop, job).state == "done"
    assert isinstance(shop.renders._crew, Cluster)
    shop.settings.keep(Settings())
    again = render(shop)
    assert ended(shop, again).state == "done"
    until(lambda: not shop.renders._old_crews)
    first, second = (shop.renders.finished(shop.jobs.get(each)).read_bytes() for each in (job, again))
    assert first == second


def test_what_a_farm_cannot_make_is_told_in_its_own_words(cluster, shop, tmp_path):
    crew = Cluster(cluster.scheduler_address)
    making = laid(tmp_path / "job", shop)
    making.order = type(making.order)("mp4", "none")
    with pytest.raises(Refusal, match="There is no scene"):
        made_with(crew, making, tmp_path / "a.mp4", lambda *_: None)
    crew.close()


def test_where_no_scheduler_answers_is_told_in_a_sentence():
    with pytest.raises(Refusal, match=r"No farm answers at tcp://127\.0\.0\.1:9"):
        crew_of("tcp://127.0.0.1:9", 1)


def test_a_cluster_without_workers_lets_a_render_wait_for_one(shop, tmp_path):
    with LocalCluster(n_workers=0, dashboard_address=None, silence_logs=50) as empty:
        crew = Cluster(empty.scheduler_address)
        assert crew.hands == 0
        late = threading.Timer(1.0, empty.scale, (1,))
        late.start()
        made_with(crew, laid(tmp_path / "job", shop), tmp_path / "a.mp4", lambda *_: None)
        crew.close()
        late.join()
    assert (tmp_path / "a.mp4").stat().st_size > FRAMES
