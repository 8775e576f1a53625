"""What is looked for in another process: asked for at a desk, watched under a name, stopped, and looked for anew."""

from collections.abc import Callable
from dataclasses import dataclass

from . import watch
from .desk import Desk


@dataclass(frozen=True)
class Sought:
    """A ``call`` with its ``args`` at a ``desk``; ``name`` is what its :class:`~.watch.Watch` is called by."""

    desk: Desk
    call: Callable
    args: tuple
    name: str

    def ask(self):
        """The result; raises Working while it is being looked for, and what the call raises."""
        if not self.desk.begun(self.call, *self.args):
            watch.forget(self.name)  # what once stopped it
        return self.desk.ask(self.call, *self.args)

    def known(self):
        """The result if it was found already, else None; nothing is begun."""
        return self.desk.known(self.call, *self.args)

    def far(self) -> dict:
        """How far it is, and whether somebody ``stopped`` it."""
        known = watch.progress(self.name)
        return known | {"stopped": True} if watch.is_stopped(self.name) else known

    def stop(self) -> None:
        """Let it end with what it has."""
        watch.stop(self.name)

    def give_up(self) -> None:
        """Let it end, and its result not be kept: nobody waits for it."""
        if not self.known():
            self.stop()
            self.desk.forget(self.call, *self.args)

    def anew(self) -> None:
        """Look on for what was stopped or given up."""
        watch.forget(self.name)
        self.desk.forget(self.call, *self.args)

    def tidy(self) -> None:
        """It is found: nobody asks how far it was."""
        watch.forget(self.name)
