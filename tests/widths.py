"""``make widths``: nothing on any page of the demo shop is wider than the window or too small to be tapped, at four
widths and in either unit.

Pages are found by their links, from the rack on; of one address with other numbers so many are looked at.
"""

import re
import sys
from collections import Counter, deque
from collections.abc import Iterator

SIZES = ((1280, 800), (1024, 768), (768, 1024), (390, 844))
NO_PAGE = re.compile(r"/file/|/static/|/export|/sign-out|/pack/|\.(pdf|csv|json|svg|zip|dxf|stl|glb)\b|[?#]")
WIDER = """
const wide = innerWidth + 1;
if (document.documentElement.scrollWidth <= wide) return "";
const over = [...document.querySelectorAll("body *")].filter((e) => !e.closest("svg *") &&
  e.getBoundingClientRect().width && e.getBoundingClientRect().right > wide).pop();
return `${document.documentElement.scrollWidth} px: <${over?.tagName} ${over?.className}> ` +
  (over?.textContent || "").trim().slice(0, 40);
"""
SMALL = """
const hit = (e, x, y) => { const at = document.elementFromPoint(x, y); return at && (e === at || e.contains(at)); };
const tapped = "button, .btn, .small, select, textarea, input, summary, nav a, header a";
return [...document.querySelectorAll(tapped)].filter((e) => {
  if (e.disabled || e.type === "hidden" || e.closest("[hidden], .sr")) return false;
  const field = e.closest("svg.drawing") && e.dataset.field;  // the same size stands in a list as well
  if (field && document.querySelectorAll(`[data-field="${field}"]`).length > 1) return false;
  const target = ["checkbox", "radio", "file"].includes(e.type) ? e.closest("label") ?? e : e;
  const { width, height } = target.getBoundingClientRect();
  if (width < 2 || height < 2 || width >= 43.5 && height >= 43.5) return false;
  target.scrollIntoView({ block: "center", inline: "center" });
  const b = target.getBoundingClientRect(), x = b.x + b.width / 2, y = b.y + b.height / 2;
  return width < 43.5 && !(hit(target, x - 21, y) && hit(target, x + 21, y)) ||
    height < 43.5 && !(hit(target, x, y - 21) && hit(target, x, y + 21));
}).map((e) => `${e.tagName} ${e.className} ${(e.ariaLabel || e.textContent || e.name || "").trim().slice(0, 40)}`);
"""
"""What is tapped and is smaller than 44 px either way, with the room about it that is its own."""
LINKS = "return [...document.querySelectorAll('a[href^=\"/\"]')].map((a) => a.getAttribute('href'))"


def crawled(go, links, each: int) -> Iterator[str]:
    """Addresses of pages gone to, of each kind at most ``each``; ``go(address)`` opens one, ``links()`` are its own."""
    seen: set[str] = set()
    kinds: Counter = Counter()
    waiting = deque(["/"])
    while waiting:
        page = waiting.popleft()
        kind = re.sub(r"\d+", "#", page)
        if page in seen or NO_PAGE.search(page) or kinds[kind] >= each:
            continue
        seen.add(page)
        kinds[kind] += 1
        go(page)
        yield page
        waiting += links()


def wider(browser, address: str, each: int) -> Iterator[str]:
    """What is wider than the window or too small, and where; then how many pages were looked at."""
    from tests.browser.driver import resize
    count = 0
    for page in crawled(lambda path: browser.get(address + path), lambda: browser.execute_script(LINKS), each):
        count += 1
        for width, height in SIZES:
            resize(browser, width, height)
            if told := browser.execute_script(WIDER):
                yield f"{page} at {width}: {told}"
            yield from (f"{page} at {width}: smaller than 44 px: {one}" for one in browser.execute_script(SMALL))
        resize(browser, *SIZES[0])
    print(f"{count} pages")


def main(each: int = 3) -> int:
    from tests.served import shop, signed_in
    found = []
    for unit in ("mm", "in"):
        with shop(code=f"from dorvan.people.models import User; User.objects.update(unit={unit!r})") as address:
            browser = signed_in(address)
            for told in wider(browser, address, each):
                found.append(told)
                print(f"in {unit}, {told}", flush=True)
            browser.quit()
    return bool(found)


if __name__ == "__main__":
    sys.exit(main(*map(int, sys.argv[1:])))
