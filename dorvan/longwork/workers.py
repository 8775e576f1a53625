"""Processes that do long work: one at a time each, within bounds of time and memory, replaced when they are gone."""

import os
import threading
import time
from collections.abc import Callable
from concurrent.futures import CancelledError, InvalidStateError
from concurrent.futures.process import BrokenProcessPool
from contextlib import suppress
from dataclasses import dataclass
from multiprocessing import get_context

from pebble import ProcessExpired, ProcessPool

from bendcore.errors import Refusal

from .line import Job, Line

try:
    import resource
except ImportError:  # a system that knows no such limits
    resource = None

MB = 1_000_000


class TooLong(Refusal):
    """Work that was stopped because it took longer than it may."""


class Closed(Exception):
    """The line is shut, or nobody waits for the job."""


@dataclass(frozen=True)
class Bounds:
    """What one piece of work may take: ``seconds``, and ``memory`` beyond what its process has loaded, MB."""

    seconds: float
    memory: int


def ready() -> None:
    """Asked of a process to have it begin."""


def settle_in(parent: int, memory: int) -> None:
    """Of a process that does long work: pages go first; it ends when the server it belongs to is gone, however that
    went; it has what work needs loaded, and so much memory beyond."""
    if hasattr(os, "nice"):
        os.nice(19)

    def watch():
        while os.getppid() == parent:
            time.sleep(1)
        os._exit(0)

    threading.Thread(target=watch, daemon=True).start()
    if resource and os.path.exists("/proc/self/statm"):
        with open("/proc/self/statm") as file:
            loaded = int(file.read().split()[0]) * resource.getpagesize()
        resource.setrlimit(resource.RLIMIT_AS, (loaded + memory * MB, resource.RLIM_INFINITY))


def settle_in_to_read(parent: int, memory: int) -> None:
    """The same with the readers of drawings loaded."""
    from bendcore.formats import reading  # noqa: F401

    settle_in(parent, memory)


def settle_in_to_search(parent: int, memory: int) -> None:
    """The same with the searches loaded."""
    from bendcore.cutting import data  # noqa: F401
    from bendcore.day import data as day  # noqa: F401
    from bendcore.order import planning  # noqa: F401
    from bendcore.order.advice import remedies  # noqa: F401

    settle_in(parent, memory)


class Worker(threading.Thread):
    """Takes jobs from a line and has a process do them.

    Each has a pool of one process to itself: were they to share one, a process that is taken down while it waits
    would take the way to the others with it.
    """

    def __init__(self, line: Line, bounds: Bounds, settle: Callable, over: Callable[[Job], object]):
        super().__init__(daemon=True)
        self.line, self.bounds, self.settle, self.over = line, bounds, settle, over
        self.pool: ProcessPool | None = None
        self.changing = threading.Lock()

    def run(self):
        """Until the line is shut."""
        while (job := self.line.take()) is not None:
            outcome = self.outcome(job)
            job.take_down = None
            self.line.done(job)
            with suppress(InvalidStateError):  # nobody waits for it any more
                outcome()
            self.over(job)

    def outcome(self, job: Job):
        """What is to be told of a job, once it is over: tried twice where its process was taken down, as that may have
        been for another's sake."""
        for _ in range(2):
            try:
                doing = self.begun(job)
            except Closed:
                return job.future.cancel
            except RuntimeError:  # its process was taken down while it had nothing to do
                self.let_go()
                continue
            job.take_down, begun = doing.cancel, time.monotonic()
            try:
                result = doing.result()
                job.took = time.monotonic() - begun
            except (ProcessExpired, BrokenProcessPool):
                self.let_go()
            except CancelledError:
                return job.future.cancel
            except TimeoutError:
                said = TooLong("", f"takes longer than {self.bounds.seconds:.0f} seconds: make it simpler")
                return lambda: job.future.set_exception(said)
            except MemoryError:
                self.let_go()
                break
            except Exception as error:
                refused = error
                return lambda: job.future.set_exception(refused)
            else:
                return lambda: job.future.set_result(result)
        said = Refusal("", "takes more than this machine has: make it simpler")
        return lambda: job.future.set_exception(said)

    def begun(self, job: Job):
        """Hand a job to the process, a new one where there is none; raises Closed where it is not to be done any more,
        RuntimeError where the process is gone."""
        with self.changing:
            if job.dropped or self.line.shut:
                raise Closed
            self.pool = self.pool or ProcessPool(1, initializer=self.settle, context=get_context("spawn"),
                                                 initargs=(os.getpid(), self.bounds.memory))
            return self.pool.schedule(job.call, job.args, timeout=self.bounds.seconds)

    def let_go(self) -> None:
        """Have a new process for the next job; this one is ended, whatever it does. None is made for a line that is
        shut."""
        with self.changing:
            pool, self.pool = self.pool, None
        if pool:
            pool.stop()
            pool.join()  # only then it is
