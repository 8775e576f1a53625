"""``make shares``: tests as a share of all lines of code, blank lines left out."""

import subprocess
from pathlib import Path

ENDINGS = {".py", ".js", ".mjs", ".html", ".css", ".sh"}
LEFT_OUT = ("dorvan/static/build/", "/migrations/", ".min.js")


def main():
    names = subprocess.run(["git", "ls-files"], capture_output=True, text=True, check=True).stdout.split()
    code = [n for n in names if Path(n).suffix in ENDINGS and not any(part in n for part in LEFT_OUT)]
    count = {n: sum(1 for line in Path(n).read_text("utf-8").splitlines() if line.strip()) for n in code}
    tests = sum(lines for name, lines in count.items() if name.startswith("tests/"))
    total = sum(count.values())
    for folder in sorted({n.split("/")[0] for n in code}):
        print(f"{folder:12} {sum(v for k, v in count.items() if k.split('/')[0] == folder):6}")
    print(f"tests {tests} of {total} lines: {100 * tests / total:.1f} % (wanted: 25 to 33)")


if __name__ == "__main__":
    main()
