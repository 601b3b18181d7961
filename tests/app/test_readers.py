"""What a file is given of time is its own: what starting a reading process takes does not count."""

import os
from threading import Event

import pytest

from deftarc.app.readers import Process
from deftarc.core.base.errors import Refusal

STAR = b'<svg xmlns="http://www.w3.org/2000/svg" width="9" height="9"><path d="M0 0h9v9z"/></svg>'


@pytest.fixture
def slow(tmp_path, monkeypatch):
    """A reading process on a machine so busy that it takes two seconds to start."""
    (tmp_path / "sitecustomize.py").write_text("import time\ntime.sleep(2)\n")
    monkeypatch.setenv("PYTHONPATH", str(tmp_path))
    made = Process()
    yield made
    made.end()


def test_a_file_is_read_by_a_process_that_was_slow_to_start(slow, tmp_path):
    (tmp_path / "star.svg").write_bytes(STAR)
    read = slow.ask("brought in", (tmp_path / "star.svg", "star.svg"), 1.5, Event())
    assert read.artwork.kind == "logo"
    assert slow.ask("brought in", (tmp_path / "star.svg", "again.svg"), 1.5, Event()).artwork == read.artwork


def test_a_file_that_takes_too_long_is_stopped_and_its_process_ended(tmp_path):
    process = Process()
    with pytest.raises(Refusal, match=r"takes longer than 0\.2 seconds"):
        process.ask("brought in", (endless(tmp_path), "pipe.svg"), 0.2, Event())
    assert not process.alive


def endless(folder):
    """A file that nobody ever finishes writing."""
    os.mkfifo(folder / "pipe.svg")
    return folder / "pipe.svg"
