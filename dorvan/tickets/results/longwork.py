"""Long work in processes of its own, so that pages stay quick: bend orders, the ways out, drawings read.

A page waits a little for its result. What takes longer goes on meanwhile: the page says so and asks again, and
finds what it asked for. Results are kept by what they were asked for.
"""

import atexit
import os
import threading
from collections import OrderedDict
from collections.abc import Callable
from concurrent.futures import Future, ProcessPoolExecutor
from concurrent.futures import TimeoutError as NotYet
from concurrent.futures.process import BrokenProcessPool
from contextlib import contextmanager
from multiprocessing import get_context

from django.conf import settings

from bendcore.errors import Refusal

from .orders import ready, settle_in

KEPT = 128


class Working(Exception):
    """The result is not there yet: ask again in a moment."""


class Desk:
    """Where long work is handed in. ``workers`` 0 does it on the spot."""

    def __init__(self, workers: int, patience: float | None):
        self.workers, self.patience = workers, patience
        self.results: OrderedDict[tuple, Future] = OrderedDict()
        self.pool: ProcessPoolExecutor | None = None
        self.lock = threading.Lock()

    def ask(self, call: Callable, *args):
        """``call(*args)``, worked out now or before; raises Working when it takes longer than the desk's
        patience, and what the call raised. ``call`` and its arguments must be known to another process by name."""
        with self.lock:
            key = (call.__name__, *args)
            future = self.results.pop(key, None) or self._begun(call, args)
            self.results[key] = future
            while len(self.results) > KEPT:
                self.results.popitem(last=False)[1].cancel()
        try:
            return future.result(self.patience)
        except NotYet:
            raise Working from None
        except BrokenProcessPool:
            with self.lock:
                self.results.pop(key, None)
                self.pool = None
            raise Working from None

    def known(self, call: Callable, *args):
        """The result of ``call(*args)`` if it was asked for before and came to something; None else, and nothing is
        begun."""
        with self.lock:
            future = self.results.get((call.__name__, *args))
        done = future and future.done() and not future.cancelled()
        return future.result() if done and not future.exception() else None

    def begun(self, call: Callable, *args) -> bool:
        """Whether it was asked for already."""
        with self.lock:
            return (call.__name__, *args) in self.results

    def forget(self, call: Callable, *args) -> None:
        """Let it be worked out anew when it is asked for again."""
        with self.lock:
            self.results.pop((call.__name__, *args), None)

    def once(self, call: Callable, *args):
        """``call(*args)`` in another process, waited for and not kept: what is asked only once.

        A process that was taken down is tried once more, as that may have been for another's sake; never here,
        where it would take the shop with it.
        """
        for _ in range(2):
            with self.lock:
                future = self._begun(call, args)
            try:
                return future.result()
            except BrokenProcessPool:
                with self.lock:
                    self.pool = None
        raise Refusal("", "takes more than this machine has: make it simpler")

    def warm(self) -> None:
        """Let the processes begin now, so that nobody waits for that later."""
        with self.lock:
            for _ in range(self.workers):
                self._begun(ready, ())

    @contextmanager
    def patiently(self):
        """Wait for every result asked for within, however long it takes: for commands, not for pages."""
        before, self.patience = self.patience, None
        try:
            yield
        finally:
            self.patience = before

    def _begun(self, call, args) -> Future:
        if self.workers:
            if self.pool is None:
                self.pool = ProcessPoolExecutor(self.workers, get_context("spawn"), settle_in, (os.getpid(),))
                atexit.register(self.pool.shutdown, wait=False, cancel_futures=True)
            return self.pool.submit(call, *args)
        done: Future = Future()
        try:
            done.set_result(call(*args))
        except Exception as error:
            done.set_exception(error)
        return done


desk = Desk(settings.DORVAN_WORKERS, settings.DORVAN_PATIENCE)
"""Where orders and ways out are worked out; some take minutes."""
readers = Desk(min(settings.DORVAN_WORKERS, 1), None)
"""Where drawings are read, which takes seconds: nobody who brings one waits behind an order."""
