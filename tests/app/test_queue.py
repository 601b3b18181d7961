"""The queue of renders: handed to workers in parts, in order, stopped and gone on with, over deaths and restarts."""

import os
import signal
import time
from concurrent.futures import Future
from concurrent.futures.process import BrokenProcessPool
from contextlib import suppress
from threading import Thread

import pytest

from deftarc.app.queue.crews import Processes
from deftarc.app.queue.farm import FarmAt
from deftarc.app.queue.making import Making, made_with
from deftarc.app.queue.queue import Queue
from deftarc.app.queue.work import GO, Order
from deftarc.app.workshop import Workshop, export_file
from deftarc.core.base.errors import Refusal, UnknownThing
from deftarc.core.document import Project
from deftarc.paint.output import chosen, no_progress, output_named, part_name
from deftarc.store.settings import Settings
from deftarc.store.trouble import StoreTrouble
from tests.rendering import frames_of, made
from tests.scenes import layer, numbers, positions, scene

FRAMES = 200


def sailing(frames=FRAMES, **fields):
    """A small scene of many frames, each unlike the others."""
    ship = layer("Ship", position=positions((0, (10, 24)), (frames - 1, (54, 24))), rotation=numbers((0, 0), (9, 90)))
    return scene(ship, width=64, height=48, frames=frames, background="#d8e6ee", **fields)


@pytest.fixture
def shop(tmp_path):
    shop = Workshop.at(tmp_path / "data")
    shop.projects.create(Project(name="Quillhaven", scenes=(sailing(),)), "p")
    yield shop
    shop.renders.close()


def until(what, seconds=60):
    end = time.monotonic() + seconds
    while not (told := what()):
        assert time.monotonic() < end, "It did not come to that."
        time.sleep(0.02)
    return told


def state(shop, job):
    return shop.jobs.get(job).state


def ended(shop, job):
    until(lambda: state(shop, job) in ("done", "failed", "stopped"))
    return shop.jobs.get(job)


def render(shop, kind="mp4", **options):
    return shop.render("p", "crossing", kind, options)


def laid(folder, shop, kind="mp4"):
    """A job in a folder, for a crew by itself."""
    opened = shop.projects.open("p").project
    output = output_named(kind)
    runs = output.parts(opened.scenes[0], chosen(output, {}))
    return Making.laid(folder, Order(kind, "crossing"), export_file(opened, shop.assets), runs)


@pytest.mark.parametrize("kind", ["mp4", "webm", "gif", "apng", "zip"])
def test_two_workers_make_the_same_bytes_as_one_that_makes_it_alone(shop, tmp_path, kind):
    suffix = output_named(kind).suffix
    alone = made(sailing(), tmp_path / f"alone{suffix}", output=kind)
    crew = Processes(2)
    seen = []
    made_with(crew, laid(tmp_path / "job", shop, kind), tmp_path / f"two{suffix}", lambda *told: seen.append(told))
    crew.close()
    assert (tmp_path / f"two{suffix}").read_bytes() == alone.read_bytes()
    assert seen[-1] == (FRAMES, FRAMES)


def test_a_render_is_made_while_the_project_goes_on_and_tells_how_far_it_is(shop):
    job = render(shop)
    row = ended(shop, job)
    assert (row.state, row.done, row.total, row.revision) == ("done", FRAMES, FRAMES, shop.projects.open("p").revision)
    assert len(frames_of(shop.renders.finished(row))) == FRAMES
    # Nothing but the movie is left.
    assert [each.name for each in shop.renders.folder.iterdir()] == [row.file]


def test_a_killed_worker_costs_no_part_that_was_made(shop, tmp_path):
    alone = made(sailing(), tmp_path / "alone.mp4")
    shop.settings.keep(Settings(workers=2))
    job = render(shop)
    folder = shop.renders.folder / job
    until(lambda: (folder / part_name(0)).exists() and len(list(folder.glob("*.at"))) >= 1)
    kept = {path.name: path.stat().st_mtime_ns for path in folder.glob("*.made")}
    killed = list(shop.renders._here._pool._processes)
    os.kill(killed[0], signal.SIGKILL)
    later = {}
    while state(shop, job) in ("waiting", "running"):
        # What is done goes with its folder, maybe just while it is listed.
        with suppress(FileNotFoundError):
            later.update({path.name: when for path in folder.glob("*.made") if (when := _when(path))})
    assert ended(shop, job).state == "done"
    assert {name: later[name] for name in kept if name in later} == {name: kept[name] for name in kept if name in later}
    assert shop.renders.finished(shop.jobs.get(job)).read_bytes() == alone.read_bytes()


def _when(path):
    try:
        return path.stat().st_mtime_ns
    except OSError:
        return None


class Dying:
    """A crew whose workers die over one part."""

    hands = 1
    lost = ""

    def __init__(self, at):
        self.at, self.asked = at, []

    def make(self, folder, order, number, run):
        self.asked.append(number)
        told = Future()
        if number == self.at:
            told.set_exception(BrokenProcessPool())
        else:
            (folder / part_name(number)).touch()
            told.set_result(None)
        return told

    def bring(self, folder, number, made):
        pass

    def died(self, error):
        return isinstance(error, BrokenProcessPool)

    def forget(self, folder, died=False):
        pass


def test_a_part_over_which_workers_die_again_and_again_ends_the_render_with_its_frames(shop, tmp_path):
    crew = Dying(1)
    with pytest.raises(Refusal, match="died 3 times while it made frames 60 to 119"):
        made_with(crew, laid(tmp_path / "job", shop), tmp_path / "a.mp4", no_progress)
    assert crew.asked == [0, 1, 1, 1]


def test_a_restart_goes_on_with_what_lies_there_and_what_was_paused_stays_so(shop):
    shop.settings.keep(Settings(renders_at_once=2))
    first, second = render(shop), render(shop, quality="small")
    folder = shop.renders.folder / first
    until(lambda: (folder / part_name(0)).exists())
    shop.renders.pause(second)
    shop.renders.close()
    kept = {path.name: path.stat().st_mtime_ns for path in folder.glob("*.made")}
    assert state(shop, first) in ("waiting", "running")
    # What a kill leaves of a part that was being made.
    (folder / "00002.made.77").write_bytes(b"half")
    again = Workshop.at(shop.folder)
    lying = {path.name: path.stat().st_mtime_ns for path in folder.glob("*.made")}
    assert lying == kept
    again.renders.begin()
    assert ended(again, first).state == "done"
    assert state(again, second) == "paused"
    again.renders.go_on(second)
    assert ended(again, second).state == "done"
    again.renders.close()


def test_what_was_put_together_and_not_yet_told_is_done_after_a_restart(shop):
    job = render(shop)
    row = ended(shop, job)
    shop.renders.close()
    shop.jobs.change(job, state="running")
    again = Workshop.at(shop.folder)
    again.renders.begin()
    assert again.jobs.get(job).state == "done"
    assert again.renders.finished(row).is_file()
    again.renders.close()


def test_paused_it_lies_until_it_goes_on_and_stopped_nothing_of_it_is_left(shop):
    job = render(shop)
    folder = shop.renders.folder / job
    until(lambda: (folder / part_name(0)).exists())
    shop.renders.pause(job)
    until(lambda: not shop.renders._makings[job].handed)
    lying = sorted(path.name for path in folder.glob("*.made"))
    assert (folder / part_name(0)).exists()
    assert state(shop, job) == "paused"
    assert shop.renders.pace(job) == (None, None)
    time.sleep(0.5)
    assert sorted(path.name for path in folder.glob("*.made")) == lying
    shop.renders.go_on(job)
    shop.renders.stop(job)
    row = shop.jobs.get(job)
    assert (row.state, row.message) == ("stopped", "Stopped before it was finished.")
    until(lambda: not folder.exists() or not list(folder.iterdir()))
    shop.renders.sweep()
    assert list(shop.renders.folder.iterdir()) == []
    with pytest.raises(Refusal, match="not finished"):
        shop.renders.finished(row)


def test_they_are_made_in_their_order_and_one_can_be_put_first(shop):
    shop.renders._closed = True
    jobs = [render(shop) for _ in range(3)]
    assert shop.jobs.in_order() == jobs
    shop.renders.first(jobs[2])
    assert shop.jobs.in_order() == [jobs[2], jobs[0], jobs[1]]
    shop.renders.first(jobs[1])
    assert shop.jobs.in_order() == [jobs[1], jobs[2], jobs[0]]


def test_one_is_made_again_of_the_project_as_it_is_by_then(shop):
    job = render(shop, quality="small", part="all")
    ended(shop, job)
    opened = shop.projects.open("p")
    from deftarc.core.edit.scenes import ChangeScene

    shop.commit("p", opened.revision, ChangeScene(scene="crossing", frames=30))
    again = shop.render_again(job)
    row = ended(shop, again)
    assert (row.total, row.revision) == (30, shop.projects.open("p").revision)
    assert row.options == shop.jobs.get(job).options
    assert len(frames_of(shop.renders.finished(row))) == 30


def test_a_job_of_a_deleted_project_is_known_to_nobody_until_the_project_is_back(shop):
    job = render(shop)
    shop.delete("p")
    renders = shop.renders
    for asked in (renders.stop, renders.pause, renders.go_on, renders.first, shop.render_again):
        with pytest.raises(UnknownThing, match="There is no render"):
            asked(job)
    shop.projects.restore("p")
    assert state(shop, job) == "stopped"
    assert not (shop.renders.folder / job).exists() or not list((shop.renders.folder / job).iterdir())


def test_a_folder_that_is_taken_away_ends_the_render_with_a_sentence(shop, tmp_path):
    job = render(shop)
    folder = shop.renders.folder / job
    until(lambda: (folder / part_name(0)).exists())
    # In one go, whoever is writing into it just then.
    folder.rename(tmp_path / "taken")
    row = ended(shop, job)
    assert row.state == "failed"
    assert "gone" in row.message or "removed" in row.message or "cannot be reached" in row.message
    with pytest.raises(Refusal, match=r"is gone\. Make it again"):
        shop.renders.go_on(job)


def test_what_failed_for_want_of_room_keeps_what_was_made_and_goes_on(shop):
    job = render(shop)
    folder = shop.renders.folder / job
    until(lambda: (folder / part_name(0)).exists())
    shop.renders._end(job, "failed", "The disk is full.")
    before = (folder / part_name(0)).stat().st_mtime_ns
    shop.renders.sweep()
    assert (folder / part_name(0)).stat().st_mtime_ns == before
    assert not (folder / GO).exists()
    shop.renders.go_on(job)
    assert ended(shop, job).state == "done"


def with_farm(folder, at="tcp://127.0.0.1:9", **settings):
    """A workshop whose renders are to be painted by the farm at an address."""
    shop = Workshop.at(folder, FarmAt(at))
    shop.projects.create(Project(name="Quillhaven", scenes=(sailing(),)), "p")
    shop.settings.keep(Settings(**settings))
    return shop


def test_while_a_farm_does_not_answer_they_are_painted_here_and_say_so(tmp_path):
    shop = with_farm(tmp_path)
    job = render(shop)
    until(lambda: "No farm answers at tcp://127.0.0.1:9" in shop.jobs.get(job).message)
    assert "painted here meanwhile" in shop.jobs.get(job).message
    assert ended(shop, job).state == "done"
    shop.renders.close()


def test_where_settings_say_so_they_wait_for_the_farm(tmp_path):
    shop = with_farm(tmp_path, farm_lost="wait")
    job = render(shop)
    until(lambda: "No farm answers at tcp://127.0.0.1:9" in shop.jobs.get(job).message)
    assert state(shop, job) == "waiting"
    shop.settings.keep(Settings(farm_lost="here"))
    shop.renders.wake()
    assert ended(shop, job).state == "done"
    shop.renders.close()


def test_one_picture_passes_a_render_that_takes_long(shop):
    long = render(shop, "mp4")
    until(lambda: state(shop, long) == "running")
    shop.settings.keep(Settings(workers=1))
    picture = render(shop, "png")
    assert ended(shop, picture).state == "done"
    assert state(shop, long) in ("running", "done")
    assert ended(shop, long).state == "done"


def test_stop_go_first_and_again_at_once_end_in_no_dead_entry(shop):
    for _ in range(6):
        job = render(shop)
        asked = [shop.renders.stop, shop.renders.pause, shop.renders.go_on, shop.renders.first, shop.renders.go_on]
        wrong = []

        def ask(what, job=job, wrong=wrong):
            try:
                what(job)
            except (Refusal, UnknownThing) as told:
                if isinstance(told, StoreTrouble) or "was removed" in str(told):
                    wrong.append(told)

        threads = [Thread(target=ask, args=(what,)) for what in asked * 3]
        for each in threads:
            each.start()
        for each in threads:
            each.join()
        assert not wrong
        until(lambda job=job: state(shop, job) == "stopped")
        assert not (shop.renders.folder / job).exists()
        assert "removed" not in shop.jobs.get(job).message
    again = shop.render_again(job)
    assert ended(shop, again).state == "done"


def test_what_another_process_wishes_is_done(shop):
    job = render(shop)
    until(lambda: state(shop, job) == "running")
    shop.jobs.wish(job, "pause")
    until(lambda: state(shop, job) == "paused")
    shop.jobs.wish(job, "stop")
    until(lambda: state(shop, job) == "stopped")
    shop.jobs.wish(job, "again")
    until(lambda: len(shop.jobs.of_project("p")) == 2)


def test_a_queue_of_a_folder_with_what_no_render_names_sweeps_it_away(tmp_path):
    shop = Workshop.at(tmp_path)
    folder = tmp_path / "renders"
    (folder / "gone").mkdir(parents=True)
    (folder / "gone" / part_name(0)).touch()
    (folder / "old.mp4.part").touch()
    Queue(folder, shop.jobs, Settings).sweep()
    assert list(folder.iterdir()) == []


def test_settings_say_how_many_make_them(shop):
    shop.settings.keep(Settings(workers=3))
    crew = shop.renders._crew_now()
    assert isinstance(crew, Processes)
    assert crew.hands == 3
