"""``make screenshots``: one picture of each main view, from the demo data, into docs/screenshots."""

import time

from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from tests.browser.driver import resize
from tests.core.samples import ROOT
from tests.served import shop, signed_in

VIEWS = {
    "rack": "/", "shape": "/t/142/", "layout": "/t/142/layout/", "order": "/t/151/order/",
    "bend": "/t/142/bend/", "check": "/t/142/check/",
    "set-up": "/t/142/setup/", "brakes": "/brakes/",
    "proof": "/t/144/proof/", "ledger": "/ledger/6/",
    "shelf": "/brakes/1/tools/", "site": "/site/1/", "joins": "/t/153/joins/", "housing": "/t/172/",
    "marking-out": "/t/163/marking-out/",
}

TALL = {"brakes": 2400}
"""Of a view that is more than a screen all is shown."""


def practised(browser, address):
    """A hat bent twice on a simulated brake, and what was hidden."""
    browser.get(f"{address}/practice/")
    for css in ("button[value=hat]", "#bend-one", "#bend-one", "button[value=hint]", "button[value=shown]"):
        browser.find_element(By.CSS_SELECTOR, css).click()
        time.sleep(1)


def cut(browser, address):
    """Blanks of two tickets laid on a sheet for the shear."""
    browser.get(f"{address}/cutting/")
    for number, count in ((142, "24"), (158, "2")):
        browser.find_element(By.NAME, f"t{number}").send_keys(count)
    form = browser.find_element(By.NAME, "t142").find_element(By.XPATH, "ancestor::form")
    form.find_element(By.CSS_SELECTOR, ".btn").click()
    while not browser.find_elements(By.CSS_SELECTOR, ".nest"):
        time.sleep(1)
    browser.save_screenshot(str(ROOT / "docs" / "screenshots" / "cutting.png"))


PLANNED = (142, 143, 144, 145, 147, 150, 151, 152, 160, 170)
"""Tickets of the day's picture."""


def planned(browser, address):
    """The day of some tickets."""
    browser.get(f"{address}/day/")
    for number in PLANNED:
        browser.execute_script(f"document.querySelector('[name=t{number}]').checked = true")
    browser.find_element(By.NAME, "m160").send_keys("90")
    browser.find_element(By.CSS_SELECTOR, "#choose .btn:last-child").click()
    while not browser.find_elements(By.CSS_SELECTOR, ".board"):
        time.sleep(1)
    browser.save_screenshot(str(ROOT / "docs" / "screenshots" / "day.png"))


def described(browser, address):
    """A finger brake of one's own, half of its sizes measured."""
    browser.get(f"{address}/brakes/new/")
    browser.find_element(By.CSS_SELECTOR, ".brake-kinds label:has([value=finger])").click()
    browser.find_element(By.CSS_SELECTOR, "[name=name]").send_keys("Shed finger brake", Keys.ENTER)
    for field, size in (("finger_height", "95"), ("foot_height", "44"), ("nose_angle", "40"), ("beam_front", "132"),
                        ("bed_depth", "150"), ("leaf_height", "44"), ("leaf_depth", "64")):
        time.sleep(1)
        box = browser.find_element(By.CSS_SELECTOR, f".stage [data-field={field}]")
        box.send_keys(Keys.CONTROL, "a")
        box.send_keys(size, Keys.ENTER)
    time.sleep(1)
    browser.save_screenshot(str(ROOT / "docs" / "screenshots" / "measured.png"))


def main():
    with shop() as address:
        browser = signed_in(address)
        try:
            for name, path in VIEWS.items():
                browser.get(address + path)
                time.sleep(1.5)
                while "Working it out" in browser.page_source:
                    time.sleep(1)
                if name == "order":
                    time.sleep(4)
                resize(browser, 1280, TALL.get(name, 800))
                browser.save_screenshot(str(ROOT / "docs" / "screenshots" / f"{name}.png"))
            cut(browser, address)
            planned(browser, address)
            described(browser, address)
            practised(browser, address)
            browser.save_screenshot(str(ROOT / "docs" / "screenshots" / "practice.png"))
        finally:
            browser.quit()


if __name__ == "__main__":
    main()
