"""A headless Chromium from Debian's packages.

A round trip to the driver takes longer than what is asked for, and its own clicks and reads take ten of them. So an
element is pressed, read and written to here with as few as there can be; what is done to the page is what a mouse and a
keyboard do: where something else lies over an element, or it cannot be seen, pressing it fails as it does by hand.
That is so in the headless shell, in which every page is in front; where only the whole browser is there, or
``DORVAN_BROWSER`` names another, elements are the driver's own.
"""

import os
import shutil
from pathlib import Path

from selenium import webdriver
from selenium.common.exceptions import JavascriptException, StaleElementReferenceException
from selenium.webdriver.chrome.options import Options
from selenium.webdriver.chrome.service import Service
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.remote.webelement import WebElement

DEBIANS = "/usr/lib/chromium/chromium-headless-shell"
SHELL = DEBIANS if Path(DEBIANS).exists() else shutil.which("chromium-headless-shell")
"""Itself, and not Debian's script that starts it and waits: the driver would end the script, and leave the browser
with its pages running for as long as the machine does."""
BINARY = os.environ.get("DORVAN_BROWSER") or SHELL or shutil.which("chromium")
FLAGS = ("--headless=new", "--no-sandbox", "--disable-gpu", "--disable-quic", "--no-first-run", "--disable-sync",
         "--disable-background-networking", "--disable-component-update", "--disable-dev-shm-usage",
         "--use-angle=swiftshader", "--enable-unsafe-swiftshader", "--force-color-profile=srgb", "--hide-scrollbars",
         "--host-resolver-rules=MAP * ~NOTFOUND , EXCLUDE 127.0.0.1 , EXCLUDE localhost")

POINT = """
const it = arguments[0];
if (it.tagName === "OPTION" || !it.isConnected) return null;
const sends = it.closest("button, [type=submit]"), within = "[hx-post], [hx-get], [data-kept]";
const leads = it.closest("a[href]:not([href^='#'])") || sends?.form && sends.type !== "button" && !it.closest(within);
if (leads) return null;
const shown = () => [...it.getClientRects()].find((box) => box.width && box.height);
let box = shown();
if (!box) return null;
const whole = (b) => b.top >= 0 && b.left >= 0 && b.bottom <= innerHeight && b.right <= innerWidth;
if (!whole(box)) { it.scrollIntoView({block: "center", inline: "nearest", behavior: "instant"}); box = shown(); }
const [left, right] = [Math.max(0, box.left), Math.min(innerWidth, box.right)];
const [top, bottom] = [Math.max(0, box.top), Math.min(innerHeight, box.bottom)];
const [x, y] = [(left + right) / 2, (top + bottom) / 2], over = document.elementFromPoint(x, y);
if (!over || !it.contains(over)) return null;
(window.pressed ??= new WeakSet()).delete(it);
it.addEventListener("click", () => window.pressed.add(it), {once: true, capture: true});
return [x, y];
"""
"""Where an element is pressed; nothing where it cannot be, or leads to another page: the driver waits for that."""

PRESSED = "return !arguments[0].isConnected || !window.pressed || window.pressed.has(arguments[0])"
"""Whether a press met it; where it is gone or the page is another it did."""

WRITTEN = """
const it = arguments[0];
if (!it.isConnected || it.disabled || !it.matches("input:not([type=file]), textarea")) return false;
if (document.activeElement !== it) {
  it.focus();
  if (!/^(number|email|date|time)$/.test(it.type)) it.setSelectionRange(it.value.length, it.value.length);
}
return document.activeElement === it;
"""
"""Whether one may write into an element, the cursor at its end."""

TAB, ENTER = ({"key": name, "code": name, "windowsVirtualKeyCode": code, "text": text}
              for name, code, text in (("Tab", 9, ""), ("Enter", 13, "\r")))
STRUCK = {Keys.ENTER: ENTER, Keys.TAB: TAB}


class Element(WebElement):
    """An element that takes a press, a text and a look in few round trips."""

    def click(self):
        for _ in range(3):  # what moved between the look and the press is looked for again
            point = self.parent.execute_script(POINT, self)
            if point is None:
                break
            for kind in ("mousePressed", "mouseReleased"):
                self.parent.execute_cdp_cmd("Input.dispatchMouseEvent", {
                    "type": kind, "x": point[0], "y": point[1], "button": "left", "clickCount": 1})
            try:
                if self.parent.execute_script(PRESSED, self):
                    return
            except (StaleElementReferenceException, JavascriptException):  # it led somewhere
                return
        super().click()

    def send_keys(self, *value):
        text = "".join(map(str, value))
        words, last = (text[:-1], text[-1]) if text and text[-1] in STRUCK else (text, "")
        if not words.isprintable() or any("\ue000" <= sign <= "\uf8ff" for sign in words) or not (
                self.parent.execute_script(WRITTEN, self)):
            super().send_keys(*value)
            return
        if words:
            self.parent.execute_cdp_cmd("Input.insertText", {"text": words})
        if last:
            self.parent.strike(STRUCK[last])

    @property
    def text(self):
        return self.parent.execute_script("return arguments[0].innerText ?? arguments[0].textContent", self).strip()

    def get_attribute(self, name):
        return self.parent.execute_script(
            "const [it, name] = arguments;"
            "return /string|number/.test(typeof it[name]) ? String(it[name]) : it.getAttribute(name)", self, name)


class Chromium(webdriver.Chrome):
    _web_element_cls = Element if BINARY == SHELL else WebElement

    def strike(self, key: dict) -> None:
        """One key, down and up."""
        self.execute_cdp_cmd("Input.dispatchKeyEvent", {"type": "keyDown" if key["text"] else "rawKeyDown"} | key)
        self.execute_cdp_cmd("Input.dispatchKeyEvent", {"type": "keyUp"} | key)


def chromium(width: int = 1280, height: int = 800) -> Chromium:
    """A browser whose page is ``width`` × ``height``; it can reach this machine only."""
    options = Options()
    options.binary_location = BINARY
    for flag in FLAGS:
        options.add_argument(flag)
    options.set_capability("goog:loggingPrefs", {"browser": "ALL", "performance": "ALL"})
    browser = Chromium(options=options, service=Service(shutil.which("chromedriver")))
    resize(browser, width, height)
    return browser


def resize(browser, width: int, height: int) -> None:
    browser.execute_cdp_cmd("Emulation.setDeviceMetricsOverride",
                            {"width": width, "height": height, "deviceScaleFactor": 1, "mobile": False})
