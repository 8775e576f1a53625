"""A live shop and a real browser."""

import json

from django.conf import settings
from django.contrib.staticfiles.handlers import StaticFilesHandler
from django.contrib.staticfiles.testing import StaticLiveServerTestCase
from django.test import override_settings
from selenium.common.exceptions import NoSuchElementException
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.support.ui import Select, WebDriverWait

from dorvan.brakes.models import Brake
from dorvan.people.models import User
from dorvan.shop.models import forget
from tests.browser.driver import chromium, resize
from tests.core.samples import ROOT, press_file
from tests.web.base import PLAIN_STATIC

AXE = ROOT / "tests" / "browser" / "axe.min.js"
AXE_COMES = """const [src, done] = arguments, came = { onload: () => done(true), onerror: () => done(false) };
document.head.append(Object.assign(document.createElement("script"), {src, ...came}));"""
"""As a file of the page's own server: handed to the driver, as where the server cannot be reached, it is read and
compiled anew for every page."""
LOOKED_AT = 0.05
"""So often a page is looked at for what is waited for, s."""
WCAG = ["wcag2a", "wcag2aa", "wcag21a", "wcag21aa", "wcag22aa"]


STALE = """return [...document.querySelectorAll("#bench input[data-field]")]
  .filter((input) => input.value !== input.defaultValue).map((input) => [input.dataset.field, input.value])"""
"""Fields that show another value than the server wrote."""

APART = """
const corners = (e) => {
  const box = e.getBBox ? e.getBBox() : e.getBoundingClientRect(), to = e.getScreenCTM?.() || new DOMMatrix();
  const [x, y, w, h] = [box.x, box.y, box.width, box.height];
  return [[x, y], [x + w, y], [x + w, y + h], [x, y + h]].map(([u, v]) => new DOMPoint(u, v).matrixTransform(to));
};
const depth = (one, other) => Math.min(...[one, other].flatMap((ring) => [0, 1].map((n) => {
  const [p, q] = [ring[n], ring[n + 1]], long = Math.hypot(q.x - p.x, q.y - p.y);
  const [a, b] = [one, other].map((r) => r.map((v) => (v.x * (q.x - p.x) + v.y * (q.y - p.y)) / long));
  return Math.min(Math.max(...a), Math.max(...b)) - Math.max(Math.min(...a), Math.min(...b));
})));
const boxes = [...document.querySelectorAll(arguments[0])].filter((e) => e.getBoundingClientRect().width)
  .map((e) => [e.textContent, corners(e)]);
const met = [];
for (let i = 0; i < boxes.length; i++) for (let j = 0; j < i; j++) {
  const deep = depth(boxes[i][1], boxes[j][1]);
  if (deep > 4) met.push([boxes[i][0], boxes[j][0], deep]);
}
return met;
"""
"""Of what is written, what lies on something else: both texts, and by how much."""


class KeptByTheBrowser(StaticFilesHandler):
    """Scripts, styles and fonts may be kept, as the real server's may: else each page asks for all of them again."""

    def serve(self, request):
        answer = super().serve(request)
        answer["Cache-Control"] = "max-age=3600, immutable"
        return answer


@override_settings(STORAGES=PLAIN_STATIC, STATICFILES_DIRS=[*settings.STATICFILES_DIRS, AXE.parent])
class BrowserCase(StaticLiveServerTestCase):
    static_handler = KeptByTheBrowser
    reset_sequences = True  # a page by its key is the same page, whichever tests ran before in this process

    @classmethod
    def setUpClass(cls):
        super().setUpClass()
        cls.browser = chromium()
        cls.addClassCleanup(cls.browser.quit)

    def setUp(self):
        forget()
        self.user = User.objects.create_user("ines", password="tin-snips-9", role="lead")
        self.brake = Brake.objects.create(name="60 t press brake", file=json.dumps(press_file()))
        self.size(1280, 800)
        self.sign_in()

    def size(self, width, height):
        resize(self.browser, width, height)

    def sign_in(self):
        """As somebody who signed in before: the door itself is tried where it is what is tested."""
        self.browser.delete_all_cookies()
        self.client.force_login(self.user)
        self.browser.execute_cdp_cmd("Network.setCookie", {
            "name": settings.SESSION_COOKIE_NAME, "value": self.client.session.session_key,
            "url": self.live_server_url})
        self.go("/")

    def go(self, path):
        self.browser.get(self.live_server_url + path)

    def find(self, css):
        found = self.browser.execute_script("return document.querySelector(arguments[0])", css)
        if found is None:
            raise NoSuchElementException(css)
        return found

    def all(self, css):
        return self.browser.execute_script("return [...document.querySelectorAll(arguments[0])]", css)

    def has(self, css):
        return self.browser.execute_script("return !!document.querySelector(arguments[0])", css)

    def text(self):
        return self.browser.execute_script("return document.querySelector('main').innerText")

    def wait(self, until, seconds=12, poll=LOOKED_AT):
        return WebDriverWait(self.browser, seconds, poll, ignored_exceptions=(Exception,)).until(lambda _: until())

    def redrawn(self, act):
        """Do something and wait for the bench to be redrawn."""
        before = self.browser.execute_script("return document.documentElement.dataset.redrawn || ''")
        act()
        self.wait(lambda: self.browser.execute_script(
            "return document.documentElement.dataset.redrawn || ''") != before)
        self.assertEqual(self.browser.execute_script(STALE), [])

    def goes_on(self, act):
        """Do something and wait for the page that it leads to, be it the same address again."""
        self.browser.execute_script("document.documentElement.dataset.before = '1'")
        act()
        self.wait(lambda: self.browser.execute_script(
            "return document.readyState === 'complete' && !document.documentElement.dataset.before"))

    def take(self, *names):
        """Open these things of the bench sheet, beside what is open already."""
        for name in names:
            self.browser.execute_script(
                f"document.querySelector(`details.hand[data-hand='{name}']`).open = true")

    def open(self, css):
        """The closed part of the page that this is in."""
        self.browser.execute_script("document.querySelector(arguments[0]).closest('details').open = true", css)

    def pick(self, name):
        """Tap a thing on the drawing."""
        self.browser.execute_script("document.querySelector(`[data-pick='${arguments[0]}']`).dispatchEvent("
                                    "new MouseEvent('click', {bubbles: true}))", name)

    def choose(self, field, option):
        """Take an option of a field's choice."""
        self.redrawn(lambda: Select(self.find(f"select[data-field='{field}']")).select_by_visible_text(option))

    def release(self):
        """From the Bend page of a ticket to its run cards: released, the brake looked over."""
        self.find(".sheet .btn").click()
        self.wait(lambda: self.has(".look-over"))
        for box in self.all(".look-over input[type=checkbox]"):
            box.click()
        self.find(".look-over .btn").click()
        self.wait(lambda: "valid this shift" in self.text())
        self.accessible()
        self.browser.find_element(By.PARTIAL_LINK_TEXT, "To the run cards").click()
        self.wait(lambda: self.has("#tick"))

    def type_into(self, css, text):
        """What one writes over what stands in a field, and Enter."""
        field = self.find(css)
        field.click()
        self.browser.execute_script("document.activeElement.select()")
        field.send_keys(text, Keys.ENTER)

    def overlapping(self, css):
        """Which of these, as they are seen, lie on one another."""
        return self.browser.execute_script(APART, css)

    def accessible(self):
        """No violation of WCAG 2.2 AA that axe can see."""
        is_there = self.browser.execute_script("return 'axe' in window")
        if not is_there and not self.browser.execute_async_script(AXE_COMES, settings.STATIC_URL + AXE.name):
            self.browser.execute_script(AXE.read_text("utf-8"))
        found = self.browser.execute_async_script(
            "const done = arguments[1]; axe.run(document, arguments[0]).then((r) => done(r.violations))",
            {"runOnly": WCAG, "resultTypes": ["violations"], "preload": False})
        told = [f"{v['id']}: {n['target']} {n.get('failureSummary', '')[:160]}" for v in found for n in v["nodes"]]
        self.assertEqual(told, [], self.browser.current_url)

    def stayed_here(self):
        """Every request so far went to this machine, and nothing was blocked or broken."""
        for entry in self.browser.get_log("performance"):
            message = json.loads(entry["message"])["message"]
            if message["method"] == "Network.requestWillBeSent":
                url = message["params"]["request"]["url"]
                self.assertTrue(url.startswith((self.live_server_url, "data:", "blob:", "chrome:", "about:")), url)
        bad = [e["message"] for e in self.browser.get_log("browser")
               if e["level"] == "SEVERE" and "422" not in e["message"]]
        self.assertEqual(bad, [])
