"""The workers of a Dask cluster, which share nothing with this machine: its scheduler is named at the start alone.

What travels back is bytes with their hash, and nothing else of it is unpickled, as far as the engine lets us: the
client reads plain messages alone. The engine itself still trusts its scheduler; see SECURITY.md.
"""

import json
import logging
import threading
import time
from collections import OrderedDict
from concurrent.futures import CancelledError, Executor, Future
from contextlib import suppress
from dataclasses import asdict, dataclass
from hashlib import blake2b, sha256
from pathlib import Path
from typing import Any

from deftarc import __version__
from deftarc.app.queue.crews import Processes
from deftarc.app.queue.work import WORK, Order, made_away
from deftarc.core.base.errors import Refusal
from deftarc.paint.output import Stretch, part_name, whole

log = logging.getLogger(__name__)
#: Seconds after which a cluster's workers are counted again, in which its scheduler has to answer, and after which
#: one that did not counts as lost.
COUNTED, ANSWERS, LOST = 1.0, 10.0, 30.0
#: Seconds after which a farm that does not answer is tried again, and for which workers may be slow to come.
AGAIN, SLOW = 10.0, 10.0
#: As many jobs' project files stay on a cluster, for when the same one is made of again.
KEPT = 8
#: How a part that came back begins: made, and its hash; or why it could not be, in JSON.
MADE, NOT_MADE = b"M", b"N"
DIGEST = 32


class Damaged(Exception):
    """What came back is not what was sent."""


@dataclass(frozen=True)
class FarmAt:
    """Where a farm is, and, for tls://, the files that show who is who: an authority, a certificate and its key."""

    address: str
    authority: Path | None = None
    certificate: Path | None = None
    key: Path | None = None

    def security(self) -> Any:
        """What the engine is to ask of both sides; None where the address speaks plainly."""
        files = (self.authority, self.certificate, self.key)
        if not self.address.startswith("tls://"):
            if any(files):
                raise Refusal("The files of a farm are for an address that begins with tls://.")
            return None
        if not all(files):
            raise Refusal("A farm at tls:// needs three files: its authority's, a certificate and the key of that.")
        for file in files:
            if file is None or not file.is_file():
                raise Refusal(f"The farm's file {file} is not here.")
        from distributed.security import Security

        return Security(
            tls_ca_file=str(self.authority), tls_client_cert=str(self.certificate), tls_client_key=str(self.key),
            require_encryption=True,
        )  # fmt: skip


def part_of(data: bytes) -> bytes:
    """A part that came back; Refusal or OSError where it could not be made, Damaged where it is not what was sent."""
    kind, rest = data[:1], data[1:]
    if kind == MADE:
        told, made = rest[:DIGEST], rest[DIGEST:]
        if sha256(made).digest() != told:
            raise Damaged("A part came back damaged.")
        return made
    try:
        why = dict(json.loads(rest)) if kind == NOT_MADE else {}
        number, words = why["errno"], str(why["words"])
    except (ValueError, TypeError, KeyError):
        raise Damaged("A part came back damaged.") from None
    raise Refusal(words) if number is None else OSError(int(number), words)


class Cluster:
    """A farm that was reached. What a job is made of travels there once, and is known by its hash."""

    def __init__(self, at: FarmAt, patience: float = 8.0) -> None:
        try:
            from distributed import Client
        except ImportError:
            raise Refusal("A farm needs Dask. Install it with the package: deftarc[farm].") from None
        self.at = at
        try:
            self.client: Any = Client(
                at.address, timeout=patience, set_as_default=False, security=at.security(), deserializers=["msgpack"]
            )
        except (OSError, TimeoutError, ValueError, TypeError, RuntimeError) as error:
            raise Refusal(f"No farm answers at {at.address[:200]}. See whether its scheduler runs.") from error
        self.home = Processes(1)
        self._turn = threading.Lock()
        self._ended = threading.Event()
        self._fit: tuple[str, ...] = ()
        self._executor: Executor | None = None
        self._hands = 0
        self._known: dict[str, str | None] = {}
        self._heard_at = self._peopled_at = time.monotonic()
        #: Which of its workers cannot be used, and why.
        self.unfit = ""
        #: What jobs are made of, as it lies on the cluster, by its hash: the last few, in the order of their use.
        self._works: OrderedDict[bytes, Any] = OrderedDict()
        self._hashes: dict[Path, bytes] = {}
        with suppress(Exception):
            self._count()
        threading.Thread(target=self._watch, name="farm", daemon=True).start()

    # --- whether it is there ---

    def _watch(self) -> None:
        while not self._ended.wait(COUNTED):
            try:
                self._count()
            except Exception as error:
                # Whatever the engine raises: what counts is when it was heard of last.
                log.info("the farm at %s: %r", self.at.address, error)

    def _count(self) -> None:
        """Who of its workers can be used. Asked with an end to it: a scheduler that loses a worker just then may leave
        a question unanswered.
        """
        client = self.client
        told = client.sync(client.scheduler.identity, n_workers=-1, callback_timeout=ANSWERS)
        workers = {str(name): int(each["nthreads"]) for name, each in told["workers"].items()}
        if any(name not in self._known for name in workers):
            versions = client.sync(client._get_versions, check=False, packages=["deftarc"], callback_timeout=ANSWERS)
            for name, each in versions["workers"].items():
                self._known[str(name)] = each["packages"].get("deftarc")
        fit = tuple(sorted(name for name in workers if self._known.get(name) == __version__))
        unfit = sorted(name for name in workers if name in self._known and name not in fit)
        now = time.monotonic()
        with self._turn:
            if fit != self._fit or self._executor is None:
                self._fit = fit
                only = {"workers": list(fit), "allow_other_workers": False} if fit else {}
                self._executor = client.get_executor(pure=False, **only)
            # Those of its workers, and as many more, so that none waits for the next part to travel.
            self._hands = 2 * sum(workers[name] for name in fit)
            self._heard_at = now
            if self._hands:
                self._peopled_at = now
            self.unfit = _unfit_told(unfit, self._known)

    @property
    def hands(self) -> int:
        return 0 if self.lost else self._hands

    @property
    def lost(self) -> str:
        """Why nothing more is to be had of it, in a sentence; empty while it answers."""
        silent = time.monotonic() - self._heard_at > LOST
        if silent or getattr(self.client, "status", "closed") not in ("running", "newly-created"):
            return f"The farm at {self.at.address[:200]} does not answer any more."
        return ""

    @property
    def idle(self) -> str:
        """Why it paints nothing although it answers; empty while it does, or its workers may still come."""
        if self._hands or time.monotonic() - self._peopled_at < (0 if self.unfit else SLOW):
            return ""
        return self.unfit or f"The farm at {self.at.address[:200]} has no workers."

    # --- what it makes ---

    def make(self, folder: Path, order: Order, number: int, run: Stretch) -> "Future[Any]":
        with self._turn:
            executor = self._executor
        if executor is None:
            raise ConnectionError("The farm has no workers.")
        return executor.submit(made_away, self._work(folder), asdict(order), run.first, run.count)

    def _work(self, folder: Path) -> Any:
        """What a job is made of, on the cluster. It has a name of its own each time it travels there: what is let go of
        is let go of later than it is said, and would take along what came meanwhile under the same name.
        """
        if folder not in self._hashes:
            self._hashes[folder] = blake2b((folder / WORK).read_bytes(), digest_size=16).digest()
        name = self._hashes[folder]
        known = self._works.pop(name, None)
        if known is None or known.status not in ("pending", "finished"):
            known = self.client.scatter((folder / WORK).read_bytes(), hash=False, timeout=ANSWERS)
        self._works[name] = known
        while len(self._works) > KEPT:
            self._works.popitem(last=False)
        return known

    def bring(self, folder: Path, number: int, made: Any) -> None:
        if not isinstance(made, bytes):
            raise Damaged("A part came back damaged.")
        part = part_of(made)
        with whole(folder / part_name(number)) as half:
            half.write_bytes(part)

    def join(self, folder: Path, order: Order, target: Path) -> "Future[Any]":
        return self.home.join(folder, order, target)

    def died(self, error: BaseException) -> bool:
        """What a part cannot be made for comes back as a value: most that is raised is of the farm itself."""
        from distributed import CancelledError as Cancelled
        from distributed import KilledWorker
        from distributed.comm import CommClosedError

        of_the_farm = (KilledWorker, Cancelled, CommClosedError, ConnectionError, TimeoutError, ImportError, Damaged)
        return isinstance(error, (*of_the_farm, CancelledError)) or self.home.died(error)

    def forget(self, folder: Path, died: bool = False) -> None:
        name = self._hashes.pop(folder, b"")
        if died:
            self._works.pop(name, None)

    def close(self) -> None:
        self._ended.set()
        self.home.close()
        with suppress(Exception):
            self.client.close(timeout=2)


def _unfit_told(unfit: list[str], known: dict[str, str | None]) -> str:
    if not unfit:
        return ""
    name = unfit[0][:100]
    has = known.get(unfit[0])
    what = f"has Deft Arc {has}" if has else "has no Deft Arc"
    more = f", and {len(unfit) - 1} others like it" if len(unfit) > 1 else ""
    return f"The worker at {name} {what}{more}: this is {__version__}, install the same there."


class Farm:
    """The farm of a server: reached beside all else, let go of when it is lost, and tried again."""

    def __init__(self, at: FarmAt) -> None:
        self.at = at
        self._turn = threading.Lock()
        self._cluster: Cluster | None = None
        self._reaching = False
        self._again_at = 0.0
        self._closed = False
        #: Why it paints nothing, in a sentence.
        self.trouble = ""

    def cluster(self) -> Cluster | None:
        """The farm while it answers; else None, while it is tried again. Never waits."""
        with self._turn:
            if self._cluster is not None and self._cluster.lost:
                self.trouble, gone = self._cluster.lost, self._cluster
                self._cluster, self._again_at = None, time.monotonic() + AGAIN
                threading.Thread(target=gone.close, name="farm", daemon=True).start()
            if self._cluster is None and not self._reaching and not self._closed:
                if time.monotonic() >= self._again_at:
                    self._reaching = True
                    threading.Thread(target=self._reach, name="farm", daemon=True).start()
            elif self._cluster is not None:
                self.trouble = self._cluster.idle
            return self._cluster

    def _reach(self) -> None:
        made, trouble = None, ""
        try:
            made = Cluster(self.at)
        except Refusal as error:
            trouble = str(error)
        except Exception as error:
            log.warning("reaching the farm at %s: %r", self.at.address, error)
            trouble = f"The farm at {self.at.address[:200]} cannot be reached: {type(error).__name__}."
        with self._turn:
            self._reaching = False
            self._again_at = time.monotonic() + AGAIN
            if not self._closed:
                self._cluster, self.trouble = made, trouble
                made = None
        if made is not None:
            made.close()

    def told(self) -> str:
        """What a page shows of it: whether it answers, and how many of its workers paint."""
        cluster = self.cluster()
        if cluster is None:
            return self.trouble or "It is being reached."
        hands = cluster.hands // 2
        paints = f"It answers; {hands} of its workers paint." if hands != 1 else "It answers; one worker paints."
        return " ".join(each for each in (cluster.idle or paints, "" if cluster.idle else cluster.unfit) if each)

    def close(self) -> None:
        with self._turn:
            self._closed = True
            gone, self._cluster = self._cluster, None
        if gone is not None:
            gone.close()
