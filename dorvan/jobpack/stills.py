"""The steps of an order on paper: the part before and after as it lies before the operator, and the section it is set
by, black on white."""

from collections.abc import Callable

from bendcore.formats.jobpack import Figure, Pane, Picture
from bendcore.order.plan import Plan
from bendcore.part import Part
from dorvan.drawings.machine import set_picture
from dorvan.drawings.scene import scene_png
from dorvan.tickets.models import Ticket
from dorvan.tickets.results import derived

WHEN = {"before": 0, "after": -1}
"""Which frame of a step shows it."""
SHARE = 0.32
"""Of three pictures side by side each takes so much of the paper's width."""


class PaperSteps:
    """Draws the steps of a ticket's ``plan``, as released or as it is known; a length is written with ``mm``."""

    def __init__(self, piece: Ticket, part: Part, plan: Plan, mm: Callable[[float], str]):
        revision = piece.revision
        released = revision is not None and revision.is_current
        self.file = revision.part if released else piece.joined
        self.brakes = revision.brake_files if released else piece.brake_files
        self.part, self.plan, self.mm = part, plan, mm

    @property
    def legend(self) -> str:
        """What the greys say."""
        stock = self.part.stock
        return "Dark is bent, mid grey is held, light are the tools" + (
            f", hatched is the {stock.good_called}." if stock.good else ".")

    def figures(self, n: int) -> list[Figure | Picture]:
        """Step ``n``, from 1: before, after, set."""
        return [*(self._scene(n - 1, when) for when in WHEN), self._set(n - 1)]

    def _scene(self, index: int, when: str) -> Picture:
        bodies = derived.scene(self.file, self.brakes, self.plan.steps, index, WHEN[when])
        return Picture(scene_png(bodies, self.part.stock.good), f"{when.capitalize()}, from where you stand", SHARE)

    def _set(self, index: int) -> Figure:
        """The section as the sheet is set, the stop dimensioned."""
        step = self.plan.steps[index]
        frames = derived.frames(self.file, self.brakes, self.plan.steps, index)
        drawn = set_picture(frames, self.part, step.held, step.gauge.stop)
        panes = [Pane(tool["points"].tolist(), 0.92) for tool in drawn["tools"]]
        panes += [Pane(piece["points"].tolist(), 0.55) for piece in drawn["part"] if piece["cut"]]
        lines, texts = [], [(8, 16, "front", "start"), (drawn["width"] - 8, 16, "back", "end")]
        if stop := drawn.get("stop"):
            line, face, y = stop["line"], stop["face"], stop["y"]
            lines = [(line, stop["from"], line, y + 4), (face, stop["from"], face, y + 4), (line, y, face, y)]
            texts.append((line + 8, y - 6, f"stop {self.mm(step.gauge.stop)}", "start"))
        return Figure(drawn["width"], drawn["height"], (), lines, texts, "Set, from the right end", panes, SHARE)
