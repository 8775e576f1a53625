"""The demo shop behind its real server, started, stopped and killed."""

import os
import shutil
import signal
import socket
import sqlite3
import subprocess
import sys
import tempfile
import time
from contextlib import closing
from pathlib import Path

ROOT = Path(__file__).resolve().parents[1]
PATIENCE = 180.0


class Server:
    """A shop in a folder of its own, with settings of its own, begun with the ``demo`` or with nothing; it may be
    started again after every kill."""

    def __init__(self, demo: bool = True, **settings: str):
        self.settings, self.begun_with = settings, ["--demo"] if demo else []
        self.folder = Path(tempfile.mkdtemp())
        with socket.socket() as free:
            free.bind(("127.0.0.1", 0))
            self.port = free.getsockname()[1]
        self.start()

    @property
    def address(self) -> str:
        return f"http://127.0.0.1:{self.port}"

    @property
    def environment(self) -> dict[str, str]:
        return os.environ | self.settings | {"DORVAN_DATA": str(self.folder), "PORT": str(self.port)}

    def start(self) -> None:
        self.process = subprocess.Popen([sys.executable, "-m", "dorvan.serve", *self.begun_with], cwd=ROOT,
                                        env=self.environment, stdout=subprocess.DEVNULL,
                                        stderr=subprocess.DEVNULL, start_new_session=True)
        until = time.monotonic() + PATIENCE
        while time.monotonic() < until:
            try:
                socket.create_connection(("127.0.0.1", self.port)).close()  # listens once all is prepared
                return
            except OSError:
                time.sleep(0.05)
        raise RuntimeError("the server did not come up")

    def shell(self, code: str, given: str | None = None) -> None:
        """Run ``code`` in the shop's own shell, with ``given`` as its standard input."""
        subprocess.run([sys.executable, "manage.py", "shell", "-v0", "-c", code], check=True, cwd=ROOT, text=True,
                       input=given, env=self.environment)

    def database(self):
        return closing(sqlite3.connect(self.folder / "dorvan.sqlite3"))

    def kill(self) -> None:
        os.killpg(self.process.pid, signal.SIGKILL)
        self.process.wait()

    def remove(self) -> None:
        """End it the polite way, and all it kept with it."""
        self.process.terminate()
        self.process.wait(10)
        shutil.rmtree(self.folder, ignore_errors=True)
