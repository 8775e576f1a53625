"""The house stands as ARCHITECTURE.md draws it: no import runs back up or in a circle, and nothing grows too long."""

import ast
from collections.abc import Iterator
from graphlib import TopologicalSorter
from pathlib import Path

from django.test import SimpleTestCase

from bendcore.families import FAMILIES, OWN
from tests.core.samples import ROOT

CORE = ("errors", "patience", "tolerance", "working", "units", "said", "notices", "measured", "sizes", "fields",
        "files", "stock", "bending", "sheet", "schools", "solids", "develop", "families",
        "part_file", "part", "edits", "brakes", "checks", "workings", "layout",
        "quality", "cutting", "site", "suppliers", "joining", "order", "day", "floor", "formats", "commands",
        "__main__")
"""Rooms of bendcore, the ground first; each may use those before it."""
WEB = ("reached", "settings", "fields", "spreadsheet", "longwork", "shrinking", "versions", "shop", "pictures",
       "security", "bookmarks", "glossary", "wsgi", "drawings", "people", "keeping",
       "brakes", "stockroom", "ledger", "suppliers", "tickets", "site", "outside", "joining", "cutting", "floor",
       "day", "jobpack", "learning", "bundle", "office", "simulated", "demo", "urls", "serve")
"""Rooms of dorvan, above all of bendcore."""
TICKETS = ("results", "file", "kits", "models", "gate", "meanwhile", "unreadable", "families", "pages", "urls")
"""Rooms of dorvan/tickets."""
ORDER = ("states", "contact", "proof", "plan", "search", "explain", "planning", "accuracy", "advice")
"""Rooms of bendcore/order."""
PLANS = {"bendcore": CORE, "bendcore.order": ORDER, "dorvan": WEB, "dorvan.tickets": TICKETS}
LONGEST_MODULE, LONGEST_FUNCTION, LONGEST_LINE = 400, 60, 200


def modules() -> dict[str, Path]:
    found = [p for top in ("bendcore", "dorvan") for p in sorted((ROOT / top).rglob("*.py"))
             if "migrations" not in p.parts]
    return {".".join(p.relative_to(ROOT).with_suffix("").parts).removesuffix(".__init__"): p for p in found}


def package_of(name: str, path: Path) -> str:
    return name if path.name == "__init__.py" else name.rpartition(".")[0]


def base_of(node: ast.ImportFrom, name: str, path: Path) -> str:
    """The module that something is imported from."""
    package = package_of(name, path).split(".")
    above = package[:len(package) - node.level + 1] if node.level else []
    return ".".join([*above, *([node.module] if node.module else [])])


def imports(name: str, path: Path, tree: ast.AST, known) -> set[str]:
    """Modules of the house that a module imports, wherever in it."""
    found = set()
    for node in ast.walk(tree):
        if isinstance(node, ast.Import):
            found |= {alias.name for alias in node.names}
        if isinstance(node, ast.ImportFrom):
            base = base_of(node, name, path)
            found |= {f"{base}.{alias.name}" if f"{base}.{alias.name}" in known else base for alias in node.names}
    return found & set(known) - {name, package_of(name, path)}


def bound(tree: ast.Module) -> Iterator[str]:
    """The names that a module has of its own: set, defined or imported at its top."""
    top = [*tree.body]
    while top:
        node = top.pop()
        if isinstance(node, ast.FunctionDef | ast.ClassDef):
            yield node.name
        elif isinstance(node, ast.Import | ast.ImportFrom):
            yield from (alias.asname or alias.name for alias in node.names)
        else:
            yield from (inner.id for inner in ast.walk(node) if isinstance(inner, ast.Name))
            top += [inner for inner in ast.iter_child_nodes(node) if isinstance(inner, ast.stmt)]


class House(SimpleTestCase):
    @classmethod
    def setUpClass(cls):
        super().setUpClass()
        cls.modules = modules()
        cls.trees = {name: ast.parse(path.read_text("utf-8")) for name, path in cls.modules.items()}
        cls.arrows = {name: imports(name, path, cls.trees[name], cls.modules) for name, path in cls.modules.items()}

    def back_up(self, top: str, rooms: tuple) -> list[str]:
        def room(name):
            return name.removeprefix(top + ".").partition(".")[0]

        inside = {n for n in self.modules if n.startswith(top + ".") and room(n) in rooms}
        return [f"{one} -> {other}" for one in sorted(inside) for other in sorted(self.arrows[one] & inside)
                if rooms.index(room(other)) > rooms.index(room(one))]

    def test_no_arrow_runs_back_up(self):
        for top, rooms in PLANS.items():
            self.assertEqual(self.back_up(top, rooms), [])
        self.assertEqual([n for n in self.modules if n.startswith("bendcore")
                          and any(o.startswith("dorvan") for o in self.arrows[n])], [])

    def test_every_room_is_on_the_plan(self):
        for top in ("bendcore", "bendcore.order", "dorvan"):
            own = {n.split(".")[top.count(".") + 1] for n in self.modules if n.startswith(top + ".")}
            rooms = PLANS[top]
            self.assertEqual(own - set(rooms), set())

    def test_no_circle(self):
        TopologicalSorter(self.arrows).prepare()  # raises CycleError with the circle

    def test_what_is_imported_is_there(self):
        """Also where a function imports it when it is called."""
        named = {name: set(bound(tree)) for name, tree in self.trees.items()}
        for name, path in self.modules.items():
            for node in ast.walk(self.trees[name]):
                if isinstance(node, ast.ImportFrom):
                    base = base_of(node, name, path)
                    if base.startswith(("bendcore", "dorvan")) and "migrations" not in base:
                        self.assertIn(base, named, f"{name} line {node.lineno}")
                        self.assertEqual([a.name for a in node.names if a.name not in named[base]
                                          and f"{base}.{a.name}" not in named], [], f"{name} line {node.lineno}")

    def test_a_family_is_known_by_what_it_says_and_not_by_its_name(self):
        """Elsewhere no part is asked which family it is of, by its kind, its class, or an attribute that may be
        missing."""
        classes = {FAMILIES[kind].made.__name__ for kind in OWN}
        found = []
        for name in self.modules:
            if name.startswith(("bendcore.families", "dorvan.tickets.families")):
                continue
            for node in ast.walk(self.trees[name]):
                if isinstance(node, ast.Compare):
                    words = {c.value for c in ast.walk(node) if isinstance(c, ast.Constant) and c.value in OWN}
                    kinds = {w.value if isinstance(w, ast.Constant) else getattr(w, "attr", getattr(w, "id", ""))
                             for w in ast.walk(node)}
                    if words and "kind" in kinds:
                        found.append(f"{name}:{node.lineno} compares a kind")
                if isinstance(node, ast.Call) and isinstance(node.func, ast.Name):
                    asked = ast.unparse(node.args[0]) if node.args else ""
                    if node.func.id in ("getattr", "hasattr") and asked.endswith("part.shape"):
                        found.append(f"{name}:{node.lineno} probes a shape")
                    if node.func.id == "isinstance" and {n.id for n in ast.walk(node.args[1])
                                                         if isinstance(n, ast.Name)} & classes:
                        found.append(f"{name}:{node.lineno} asks for a family's class")
        self.assertEqual(found, [])

    def test_lines_of_templates_can_be_read(self):
        for path in sorted((ROOT / "dorvan").rglob("*.html")):
            longest = max(map(len, path.read_text("utf-8").splitlines()), default=0)
            self.assertLessEqual(longest, LONGEST_LINE, path)

    def test_public_functions_of_the_core_say_what_they_take(self):
        """Ruff holds what they return and their words; of arguments it knows only all or none."""
        def functions(node, public=True):
            for inner in ast.iter_child_nodes(node):
                if isinstance(inner, ast.ClassDef):
                    yield from functions(inner, not inner.name.startswith("_"))
                elif isinstance(inner, ast.FunctionDef) and public and not inner.name.startswith("_"):
                    yield inner

        for name in self.modules:
            for function in functions(self.trees[name]) if name.startswith("bendcore") else ():
                takes = function.args
                bare = [a.arg for a in (*takes.posonlyargs, *takes.args, *takes.kwonlyargs, takes.vararg, takes.kwarg)
                        if a and not a.annotation and a.arg not in ("self", "cls")]
                self.assertEqual(bare, [], f"{name}.{function.name}")

    def test_nothing_grows_too_long(self):
        for name, path in self.modules.items():
            text = path.read_text("utf-8")
            self.assertLessEqual(len(text.splitlines()), LONGEST_MODULE, name)
            for node in ast.walk(self.trees[name]):
                if isinstance(node, ast.FunctionDef):
                    self.assertLessEqual(node.end_lineno - node.lineno + 1, LONGEST_FUNCTION, f"{name}.{node.name}")
