"""``make tablets``: eight tablets with two people each in turn, away for a while, two tabs, the server killed.

Each tablet is a browser of its own. Its first person ticks off steps in two tabs while the server is away, and signs
out when it is back; the second does the same, and the first comes back. Every entry must be there in the end, once,
under whoever made it, in the order it was made.
"""

import argparse
import json
import sys
import threading
import time
import uuid

from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from tests.browser.driver import chromium
from tests.server import Server
from tests.stress import RELEASED, TABLETS

PEOPLE = (("ines", "honey-bench-1"), ("otto", "honey-lead-1"))
TICK = """const [piece, step, key] = arguments, form = document.querySelector("form.measure");
form.dataset.kept = `t-${piece}`; form.elements.piece.value = piece; form.elements.step.value = step;
form.elements.key.value = key; form.elements.angle.value = "90"; form.requestSubmit(document.getElementById("tick"));"""
WAITING = """const done = arguments[0], asked = indexedDB.open("dorvan");
asked.onsuccess = () => { const all = asked.result.transaction("entries").objectStore("entries").getAll();
  all.onsuccess = () => { asked.result.close(); done(all.result.map((one) => [one.who, one.state, one.why])); }; };
asked.onerror = () => done([]);"""


class Tablet(threading.Thread):
    """One browser; ``made`` are (person, key) in the order they were made, a list a tab."""

    def __init__(self, server: Server, number: int, each: int):
        super().__init__()
        self.server, self.number, self.each = server, number, each
        self.made: dict[tuple[str, int], list[str]] = {}
        self.fault = ""

    def run(self):
        try:
            self.browser = chromium(820, 1180)
            self.work()
            self.browser.quit()
        except Exception as error:  # told, and the others go on
            self.fault = f"tablet {self.number}: {type(error).__name__} {str(error)[:200]}"

    def work(self):
        self.sign_in(*PEOPLE[0])
        self.away(PEOPLE[0][0], 0)
        self.sign_out()
        self.sign_in(*PEOPLE[1])
        self.away(PEOPLE[1][0], 100)
        self.wait(lambda: not [one for one in self.waiting() if one[0] == PEOPLE[1][0]])
        self.sign_out()
        self.sign_in(*PEOPLE[0])
        self.wait(lambda: not self.waiting())

    def away(self, who: str, first: int):
        """Entries in two tabs, one after the other, while the server cannot be reached."""
        home = self.browser.current_window_handle
        self.browser.switch_to.new_window("tab")
        tabs = [home, self.browser.current_window_handle]
        for tab in tabs:
            self.browser.switch_to.window(tab)
            self.go(f"/t/{self.number}/bend/?piece=1&step=1")
            self.reach(False)
        for n in range(self.each):
            tab = n % 2
            self.browser.switch_to.window(tabs[tab])
            key = str(uuid.uuid4())
            self.browser.execute_script(TICK, first + tab * 50 + n // 8 + 1, n // 2 % 4 + 1, key)
            self.made.setdefault((who, tab), []).append(key)
            time.sleep(0.02)
        mine = self.each + sum(who != one[0] for one in self.waiting())
        self.wait(lambda: len(self.waiting()) >= mine)
        for tab in tabs:
            self.browser.switch_to.window(tab)
            self.reach(True)
        time.sleep(2)
        self.browser.close()
        self.browser.switch_to.window(home)

    def reach(self, is_on: bool):
        self.browser.execute_cdp_cmd("Network.enable", {})
        self.browser.execute_cdp_cmd("Network.emulateNetworkConditions", {
            "offline": not is_on, "latency": 0, "downloadThroughput": -1, "uploadThroughput": -1})

    def waiting(self) -> list:
        return self.browser.execute_async_script(WAITING)

    def wait(self, until, seconds: float = 240):
        end = time.monotonic() + seconds
        while time.monotonic() < end:
            try:
                if until():
                    return
            except Exception:  # the page is just being left
                time.sleep(0.2)
            time.sleep(0.5)
        raise RuntimeError(f"never so: {self.waiting()[:3]}")

    def go(self, path: str):
        for _ in range(60):
            try:
                self.browser.get(self.server.address + path)
                return
            except Exception:  # the server is being started anew
                time.sleep(1)

    def sign_in(self, name: str, word: str):
        def signed():
            if not self.browser.find_elements(By.ID, "id_username"):
                self.go("/people/sign-in/")
            self.browser.find_element(By.ID, "id_username").send_keys(name)
            self.browser.find_element(By.ID, "id_password").send_keys(word, Keys.ENTER)
            time.sleep(2)
            return bool(self.browser.find_elements(By.ID, "units"))

        self.go("/people/sign-in/")
        self.wait(signed)

    def sign_out(self):
        def out():
            if self.browser.find_elements(By.ID, "id_username"):
                return True
            self.go("/people/reading/")
            self.browser.find_element(By.CSS_SELECTOR, "form[action$='sign-out/'] button").click()
            time.sleep(1)
            return bool(self.browser.find_elements(By.ID, "id_username"))

        self.wait(out)


def main() -> int:
    """Prints what was seen; fails where an entry is lost, doubled, under another's name or out of order."""
    wanted = argparse.ArgumentParser(prog="tests.tablets")
    wanted.add_argument("--tablets", type=int, default=8)
    wanted.add_argument("--entries", type=int, default=125, help="of each person at each tablet")
    wanted.add_argument("--kills", type=int, default=3)
    asked = wanted.parse_args()
    server = Server(DORVAN_WORKERS="1")
    server.shell(RELEASED, json.dumps(TABLETS))
    with server.database() as shop:
        shop.execute("INSERT INTO floor_shiftcheck (brake_id, looked_to, by_id, at) SELECT b.id, '[\"all\"]', u.id, "
                     "datetime('now') FROM brakes_brake b, people_user u")
        shop.commit()
    tablets = [Tablet(server, number, asked.entries) for number in TABLETS[:asked.tablets]]
    begun = time.monotonic()
    for tablet in tablets:
        tablet.start()
    for _ in range(asked.kills):
        time.sleep(20)
        server.kill()
        time.sleep(3)
        server.start()
    for tablet in tablets:
        tablet.join()
    faults = [tablet.fault for tablet in tablets if tablet.fault]
    with server.database() as shop:
        rows = shop.execute("SELECT r.key, u.username FROM floor_steprecord r JOIN people_user u ON u.id = r.by_id "
                            "WHERE r.key IS NOT NULL ORDER BY r.id").fetchall()
    there = [(str(uuid.UUID(key)), name) for key, name in rows]
    place = {key: n for n, (key, _) in enumerate(there)}
    made = {key: who for tablet in tablets for (who, _), keys in tablet.made.items() for key in keys}
    faults += [f"{len(there)} entries are there, {len(place)} keys"] * (len(there) != len(place))
    lost = [key for key in made if key not in place]
    faults += [f"{len(lost)} of {len(made)} lost"] * bool(lost)
    wrong = [key for key, name in there if made.get(key, name) != name]
    faults += [f"{len(wrong)} under another's name"] * bool(wrong)
    for tablet in tablets:
        for (who, tab), keys in tablet.made.items():
            order = [place[key] for key in keys if key in place]
            if order != sorted(order):
                faults.append(f"tablet {tablet.number}, tab {tab} of {who}: out of order")
    print(f"{len(made)} entries on {len(tablets)} tablets, {asked.kills} kills, {time.monotonic() - begun:.0f} s: "
          f"{len(lost)} lost, {len(there) - len(place)} doubled, {len(wrong)} under another's name, {len(faults)} "
          "faults")
    for what in faults[:20]:
        print(f"FAULT {what}")
    server.kill()
    return bool(faults)


if __name__ == "__main__":
    sys.exit(main())
