"""The demo shop behind its real server, for the bench and the screenshots."""

import json
import os
import shutil
import socket
import subprocess
import sys
import tempfile
import time
import urllib.request
from contextlib import contextmanager

from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from tests.browser.driver import chromium
from tests.core.samples import ROOT


def put_in(folder: str, number: int, part: dict) -> None:
    """One more ticket in the shop that keeps its data in ``folder``."""
    code = ("import json, sys; from dorvan.tickets.models import Ticket; from dorvan.people.models import User; "
            f"Ticket.objects.create(number={number}, part=json.loads({json.dumps(json.dumps(part))}), "
            "made_by=User.objects.first())")
    subprocess.run([sys.executable, "manage.py", "shell", "-v0", "-c", code], check=True, cwd=ROOT,
                   env=os.environ | {"DORVAN_DATA": folder})


@contextmanager
def shop(more: dict[int, dict] | None = None, code: str = "", given=None):
    """Address of a freshly filled demo shop, with ``more`` parts by ticket number and what ``code`` does in its shell
    with ``given``; it is taken down afterwards."""
    folder = tempfile.mkdtemp()
    with socket.socket() as free:
        free.bind(("127.0.0.1", 0))
        port = free.getsockname()[1]
    server = subprocess.Popen([sys.executable, "-m", "dorvan.serve", "--demo"], stdout=subprocess.DEVNULL,
                              stderr=subprocess.DEVNULL, env=os.environ | {"DORVAN_DATA": folder, "PORT": str(port)})
    address = f"http://127.0.0.1:{port}"
    try:
        for _ in range(300):
            try:
                urllib.request.urlopen(f"{address}/people/sign-in/", timeout=2).close()
                break
            except OSError:
                time.sleep(0.2)
        for number, part in (more or {}).items():
            put_in(folder, number, part)
        if code:
            subprocess.run([sys.executable, "manage.py", "shell", "-v0", "-c", code], check=True, cwd=ROOT, text=True,
                           input=json.dumps(given), env=os.environ | {"DORVAN_DATA": folder})
        yield address
    finally:
        server.terminate()
        server.wait(10)
        shutil.rmtree(folder, ignore_errors=True)


def signed_in(address: str, width: int = 1280, height: int = 800):
    """A browser signed in as the demo's lead."""
    browser = chromium(width, height)
    browser.get(address)
    browser.find_element(By.ID, "id_username").send_keys("otto")
    browser.find_element(By.ID, "id_password").send_keys("honey-lead-1", Keys.ENTER)
    while not browser.find_elements(By.ID, "new-name"):
        time.sleep(0.1)
    return browser
