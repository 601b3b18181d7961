"""Renders in a process of their own, so that the workbench stays quick; the command line does the work."""

import subprocess
import sys
from pathlib import Path
from threading import Thread

from deftarc.core.errors import Refusal
from deftarc.web.workshop import Workshop

#: Renders running, by job id.
_running: dict[str, "subprocess.Popen[str]"] = {}


def start_render(shop: Workshop, project_id: str, scene_id: str, kind: str, frame: int, ground: str) -> str:
    """Starts a render of the project as it is now; returns the job's id."""
    opened = shop.projects.open(project_id)
    scene = opened.project.scene(scene_id)
    if kind == "png" and frame >= scene.frames:
        raise Refusal(f"{scene.name} has frames 0 to {scene.frames - 1}; there is no frame {frame}.")
    title = f"{opened.project.name} {scene.name}" + (f" frame {frame}" if kind == "png" else "")
    folder = shop.folder / "renders"
    folder.mkdir(parents=True, exist_ok=True)
    data = shop.export(project_id)
    job = shop.jobs.create(project_id, title[:300], "", 1 if kind == "png" else scene.frames)
    shop.jobs.change(job, file=f"{job}.{kind}")
    snapshot = folder / f"{job}.deftarc"
    snapshot.write_bytes(data)
    command = [
        sys.executable, "-m", "deftarc.cli", "render", str(snapshot), "--scene", scene.id,
        "--out", str(folder / f"{job}.{kind}"), "--frame", str(frame), "--progress", "--ground", ground,
    ]  # fmt: skip
    process = subprocess.Popen(command, stdout=subprocess.PIPE, stderr=subprocess.PIPE, text=True)
    _running[job] = process
    Thread(target=_follow, args=(shop, job, process, snapshot), name=f"render {job}", daemon=True).start()
    return job


def _follow(shop: Workshop, job: str, process: "subprocess.Popen[str]", snapshot: Path) -> None:
    """Keeps a job's row in step with what its process prints."""
    shop.jobs.change(job, state="running")
    assert process.stdout is not None
    assert process.stderr is not None
    told = 0
    for line in process.stdout:
        done, _, total = line.strip().partition(" ")
        # A row is written for about every hundredth of the way, not for every frame.
        if done.isdigit() and total.isdigit() and (int(done) - told) * 100 >= int(total):
            told = int(done)
            shop.jobs.change(job, done=told, total=int(total))
    words = process.stderr.read().strip()
    code = process.wait()
    stopped = _running.pop(job, None) is None
    snapshot.unlink(missing_ok=True)
    if stopped:
        shop.jobs.change(job, state="stopped", message="Stopped before it was finished.")
    elif code == 0:
        shop.jobs.change(job, state="done", done=shop.jobs.get(job).total)
    else:
        message = words.rpartition("deftarc: ")[2].splitlines()[-1] if words else "The render ended early."
        shop.jobs.change(job, state="failed", message=message[:400])


def stop_render(shop: Workshop, job_id: str) -> None:
    """Ends a running render; its row says so when the process is gone."""
    shop.jobs.get(job_id)
    process = _running.pop(job_id, None)
    if process is not None:
        process.terminate()
        process.wait(timeout=10)
        target = shop.folder / "renders" / shop.jobs.get(job_id).file
        target.unlink(missing_ok=True)
        shop.jobs.change(job_id, state="stopped", message="Stopped before it was finished.")


def stop_all() -> None:
    """Ends every render, when the server stops."""
    for job in list(_running):
        process = _running.pop(job)
        process.terminate()
