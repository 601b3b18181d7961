"""Renders painted by the workers of a Dask cluster, which share nothing with whoever wants them; and its deaths."""

import os
import signal
import subprocess
import sys
import threading
import time

import pytest
from distributed import LocalCluster

from deftarc import __version__
from deftarc.app.queue import farm
from deftarc.app.queue.farm import Cluster, Damaged, FarmAt, part_of
from deftarc.app.queue.making import made_with
from deftarc.app.queue.work import made_away
from deftarc.app.settings import Settings as Started
from deftarc.core.base.errors import Refusal
from deftarc.store.settings import Settings
from tests.app.test_queue import FRAMES, ended, laid, render, sailing, shop, state, until, with_farm
from tests.certificates import certificates
from tests.rendering import made
from tests.serving import free_port

__all__ = ["shop"]


@pytest.fixture(scope="module")
def cluster():
    with LocalCluster(n_workers=2, threads_per_worker=1, dashboard_address=None, silence_logs=50) as cluster:
        yield cluster


@pytest.fixture
def hurried(monkeypatch):
    """A farm that is missed soon and tried again soon."""
    for name, seconds in {"LOST": 2.0, "AGAIN": 0.5, "SLOW": 1.0, "COUNTED": 0.3, "ANSWERS": 2.0}.items():
        monkeypatch.setattr(farm, name, seconds)


class Process:
    """A scheduler, or a worker, as a process of its own."""

    def __init__(self, *command):
        self.popen = subprocess.Popen(
            [sys.executable, "-m", "distributed.cli." + command[0], *command[1:], "--no-dashboard"],
            stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL,
        )  # fmt: skip

    def kill(self):
        self.popen.kill()
        self.popen.wait()


def scheduler(port):
    return Process("dask_scheduler", "--host", "127.0.0.1", "--port", str(port))


def worker(port, *more):
    return Process("dask_worker", f"tcp://127.0.0.1:{port}", "--nthreads", "1", "--no-nanny", *more)


@pytest.mark.parametrize("kind", ["mp4", "zip"])
def test_a_cluster_one_of_whose_workers_is_killed_makes_the_same_bytes_as_one_alone(cluster, shop, tmp_path, kind):
    alone = made(sailing(), tmp_path / f"alone.{kind}")
    crew = Cluster(FarmAt(cluster.scheduler_address))
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


def test_the_queue_hands_them_to_the_farm_that_was_named_at_the_start(cluster, tmp_path):
    shop = with_farm(tmp_path / "farm", cluster.scheduler_address)
    job = render(shop)
    until(lambda: any(isinstance(each, Cluster) for m in list(shop.renders._makings.values()) for each in m.crews()))
    assert ended(shop, job).state == "done"
    assert "answers" in shop.renders.farm.told()
    plain = with_farm(tmp_path / "plain", "tcp://127.0.0.1:9")
    again = render(plain)
    assert ended(plain, again).state == "done"
    first, second = (
        each.renders.finished(each.jobs.get(name)).read_bytes() for each, name in ((shop, job), (plain, again))
    )
    assert first == second
    shop.renders.close()
    plain.renders.close()


def test_what_a_farm_cannot_make_is_told_in_its_own_words(cluster, shop, tmp_path):
    crew = Cluster(FarmAt(cluster.scheduler_address))
    making = laid(tmp_path / "job", shop)
    making.order = type(making.order)("mp4", "none")
    with pytest.raises(Refusal, match="There is no scene"):
        made_with(crew, making, tmp_path / "a.mp4", lambda *_: None)
    crew.close()


def test_where_no_scheduler_answers_is_told_in_a_sentence():
    with pytest.raises(Refusal, match=r"No farm answers at tcp://127\.0\.0\.1:9"):
        Cluster(FarmAt("tcp://127.0.0.1:9"))


def test_a_cluster_without_workers_lets_a_render_wait_for_one(shop, tmp_path):
    with LocalCluster(n_workers=0, dashboard_address=None, silence_logs=50) as empty:
        crew = Cluster(FarmAt(empty.scheduler_address))
        assert crew.hands == 0
        late = threading.Timer(1.0, empty.scale, (1,))
        late.start()
        made_with(crew, laid(tmp_path / "job", shop), tmp_path / "a.mp4", lambda *_: None)
        crew.close()
        late.join()
    assert (tmp_path / "a.mp4").stat().st_size > FRAMES


def test_a_scheduler_that_is_killed_is_missed_and_what_it_had_is_painted_here_and_by_it_once_it_is_back(
    hurried, tmp_path
):
    port = free_port()
    running = [scheduler(port), worker(port)]
    shop = with_farm(tmp_path, f"tcp://127.0.0.1:{port}", farm_lost="wait")
    try:
        first = render(shop)
        until(lambda: shop.renders._makings[first].handed)
        running.pop(0).kill()
        until(lambda: "does not answer" in shop.jobs.get(first).message)
        shop.settings.keep(Settings(farm_lost="here"))
        assert ended(shop, first).state == "done"
        running.pop(0).kill()
        running[:] = [scheduler(port), worker(port)]
        until(lambda: shop.renders.farm.cluster() is not None and shop.renders.farm.cluster().hands)
        second = render(shop)
        until(lambda: state(shop, second) == "done" or shop.renders._makings[second].handed)
        assert ended(shop, second).state == "done"
        both = [shop.renders.finished(shop.jobs.get(each)).read_bytes() for each in (first, second)]
        assert both[0] == both[1]
    finally:
        shop.renders.close()
        for each in running:
            each.kill()


def test_a_farm_whose_only_worker_is_killed_in_a_part_is_not_waited_for_for_ever(hurried, tmp_path):
    port = free_port()
    running = [scheduler(port), worker(port)]
    shop = with_farm(tmp_path, f"tcp://127.0.0.1:{port}")
    try:
        until(lambda: shop.renders.farm.cluster() is not None and shop.renders.farm.cluster().hands)
        job = render(shop)
        until(lambda: shop.renders._makings[job].handed)
        running.pop().kill()
        until(lambda: "has no workers" in shop.jobs.get(job).message or state(shop, job) == "done")
        assert ended(shop, job).state == "done"
    finally:
        shop.renders.close()
        for each in running:
            each.kill()


def test_a_worker_of_another_version_is_named_and_gets_nothing(cluster, shop, tmp_path, monkeypatch):
    monkeypatch.setattr(farm, "__version__", "9.9.9")
    crew = Cluster(FarmAt(cluster.scheduler_address))
    assert crew.hands == 0
    assert f"has Deft Arc {__version__}" in crew.idle
    assert "this is 9.9.9" in crew.idle
    crew.close()


def test_one_without_the_package_is_named_as_such():
    told = farm._unfit_told(
        ["tcp://10.0.0.5:1", "tcp://10.0.0.6:1"], {"tcp://10.0.0.5:1": None, "tcp://10.0.0.6:1": "0"}
    )
    assert told.startswith("The worker at tcp://10.0.0.5:1 has no Deft Arc, and 1 others like it")


def test_what_comes_back_is_bytes_that_are_what_was_sent(shop, tmp_path):
    making = laid(tmp_path / "job", shop, "zip")
    work = (making.folder / "work.deftarc").read_bytes()
    told = {"output": "zip", "scene": making.order.scene, "options": making.order.options}
    sent = made_away(work, told, 0, 2)
    assert part_of(sent)[:2] == b"PK" or part_of(sent)
    for wrong in (sent[:-1], sent[:40] + b"x" + sent[41:], b"", b"M", b"N", b"Nnull", b"N[]", b"X" + sent[1:]):
        with pytest.raises(Damaged):
            part_of(wrong)
    with pytest.raises(Refusal, match="There is no scene"):
        part_of(made_away(work, {**told, "scene": "none"}, 0, 2))


class Foreign:
    """What unpickles to a file that somebody else wanted."""

    def __init__(self, path):
        self.path = path

    def __reduce__(self):
        return os.mkdir, (self.path,)


def foreign(path):
    return Foreign(path)


def test_an_object_of_a_workers_own_making_is_not_unpickled(cluster, tmp_path):
    crew = Cluster(FarmAt(cluster.scheduler_address))
    future = crew.client.get_executor(pure=False).submit(foreign, str(tmp_path / "foreign"))
    with pytest.raises(Exception):  # noqa: B017  (whatever the engine makes of it)
        future.result(timeout=8)
    crew.close()
    assert not (tmp_path / "foreign").exists()


def test_the_farm_speaks_tls_with_certificates_of_one_authority_and_with_no_other(shop, tmp_path):
    ours, others = certificates(tmp_path / "ours"), certificates(tmp_path / "others")
    port = free_port()
    files = ["--tls-ca-file", ours[0], "--tls-cert", ours[1], "--tls-key", ours[2]]
    at = f"tls://127.0.0.1:{port}"
    running = [
        Process("dask_scheduler", "--host", at, *map(str, files)),
        Process("dask_worker", at, "--nthreads", "1", "--no-nanny", *map(str, files)),
    ]
    try:
        until(lambda: _reached(FarmAt(at, *ours)))
        crew = Cluster(FarmAt(at, *ours))
        made_with(crew, laid(tmp_path / "job", shop), tmp_path / "a.mp4", lambda *_: None)
        crew.close()
        assert (tmp_path / "a.mp4").stat().st_size > FRAMES
        with pytest.raises(Refusal, match="No farm answers"):
            Cluster(FarmAt(at, *others), patience=3)
    finally:
        for each in running:
            each.kill()


def _reached(at):
    try:
        Cluster(at, patience=2).close()
    except Refusal:
        time.sleep(0.2)
        return False
    return True


@pytest.mark.parametrize(
    ("told", "why"),
    [
        ({"farm": "tls://a:1"}, "needs three files"),
        ({"farm": "tls://a:1", "farm_authority": "/no", "farm_certificate": "/no", "farm_key": "/no"}, "is not here"),
    ],
)
def test_a_farm_with_tls_that_cannot_be_is_refused_at_the_start(told, why):
    with pytest.raises(Refusal, match=why):
        Started(**told).farm_at()
