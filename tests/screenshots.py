"""``make screenshots``: one picture of each main view, from the demo data, into docs/screenshots."""

import json
import tempfile
import time

from bendcore.formats.export import export
from bendcore.part import read_part
from tests.browser.driver import resize
from tests.core.samples import ROOT
from tests.served import shop, signed_in

VIEWS = {
    "rack": "/", "shape": "/t/142/", "stock": "/t/142/stock/", "layout": "/t/142/layout/", "order": "/t/151/order/",
    "bend-sheet": "/t/151/order/sheet/", "bend": "/t/142/bend/", "check": "/t/142/check/", "brakes": "/brakes/",
    "stockroom": "/stockroom/", "proof": "/t/144/proof/", "ledger": "/ledger/6/", "strips": "/proofs/1/",
    "guard": "/t/154/", "kit": "/t/153/kit/", "folded": "/t/150/space/", "marking-out": "/t/150/marking-out/",
}

TALL = {"brakes": 2400}
"""Of a view that is more than a screen all is shown."""


def template() -> str:
    """The first tile of the demo tray's template, as a file."""
    rows = json.loads((ROOT / "demo" / "tickets.json").read_text("utf-8"))
    part = next(row["part"] for row in rows if row["number"] == 150)
    with tempfile.NamedTemporaryFile(suffix=".pdf", delete=False) as file:
        file.write(export(read_part(part), "pdf", paper="A4"))
    return file.name


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
            browser.get(f"file://{template()}#page=2&toolbar=0&navpanes=0&view=Fit")
            time.sleep(2)
            browser.save_screenshot(str(ROOT / "docs" / "screenshots" / "template.png"))
        finally:
            browser.quit()
        browser = signed_in(address, 390, 844)
        browser.get(address + "/t/142/bend/")
        time.sleep(1)
        browser.save_screenshot(str(ROOT / "docs" / "screenshots" / "bend-phone.png"))
        browser.quit()


if __name__ == "__main__":
    main()
