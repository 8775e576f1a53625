"""The demo shop for the bench and the screenshots: more tickets in it, and a browser signed in."""

import json
import time
from contextlib import contextmanager

from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from tests.browser.driver import chromium
from tests.server import Server

ONE_MORE = ("import json, sys; from dorvan.tickets.models import Ticket; from dorvan.people.models import User; "
            "[Ticket.objects.create(number=int(number), part=part, made_by=User.objects.first()) "
            "for number, part in json.load(sys.stdin).items()]")


@contextmanager
def shop(more: dict[int, dict] | None = None, code: str = "", given=None):
    """Address of a freshly filled demo shop, with ``more`` parts by ticket number and what ``code`` does in its shell
    with ``given``; it is taken down afterwards."""
    server = Server()
    try:
        if more:
            server.shell(ONE_MORE, json.dumps(more))
        if code:
            server.shell(code, json.dumps(given))
        yield server.address
    finally:
        server.remove()


def signed_in(address: str, width: int = 1280, height: int = 800):
    """A browser signed in as the demo's lead."""
    browser = chromium(width, height)
    browser.get(address)
    browser.find_element(By.ID, "id_username").send_keys("otto")
    browser.find_element(By.ID, "id_password").send_keys("honey-lead-1", Keys.ENTER)
    while not browser.find_elements(By.ID, "new-ticket"):
        time.sleep(0.1)
    return browser
