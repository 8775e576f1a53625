"""The steps of an order on paper: the part before and after as it lies before the operator, and the section it is set
by, black on white."""

import json
from collections.abc import Callable

from bendcore.formats.jobpack import Figure, Pane, Picture
from bendcore.order.plan import Plan
from bendcore.part import Part
from dorvan.longwork.desks import plans
from dorvan.tickets.models import Ticket
from dorvan.tickets.results import in_brake
from dorvan.tickets.results.text import canonical

from .drawn import draw_steps

SHARE = 0.32
"""Of three pictures side by side each takes so much of the paper's width."""
plans.takes(draw_steps, 3)


class PaperSteps:
    """The steps of a ticket's ``plan``, as released or as it is known, drawn; a length is written with ``mm``. Raises
    Working while they are being drawn."""

    def __init__(self, piece: Ticket, part: Part, plan: Plan, mm: Callable[[float], str]):
        revision = piece.revision
        released = revision is not None and revision.is_current
        file, brakes = (revision.part, revision.brake_files) if released else (piece.joined, piece.brake_files)
        self.part, self.plan, self.mm = part, plan, mm
        self.drawn = plans.ask(draw_steps, canonical(file), brakes, json.dumps(plan.written("mm")))

    @property
    def legend(self) -> str:
        """What the greys say."""
        stock = self.part.stock
        return "Dark is bent, mid grey is held, light are the tools" + (
            f", hatched is the {stock.good_called}." if stock.good else ".")

    def figures(self, n: int) -> list[Figure | Picture]:
        """Step ``n``, from 1: before, after, set."""
        pictures, section = self.drawn[n - 1]
        return [*(Picture(data, f"{when.capitalize()}, from where you stand", SHARE)
                  for when, data in zip(in_brake.VIEWS, pictures, strict=True)),
                self._section(section, self.plan.steps[n - 1].gauge.stop)]

    def _section(self, drawn: dict, at: float | None) -> Figure:
        """As the sheet is set, the stop dimensioned."""
        panes = [Pane(tool["points"].tolist(), 0.92) for tool in drawn["tools"]]
        panes += [Pane(piece["points"].tolist(), 0.55) for piece in drawn["part"] if piece["cut"]]
        lines, texts = [], [(8, 16, "front", "start"), (drawn["width"] - 8, 16, "back", "end")]
        if stop := drawn.get("stop"):
            line, face, y = stop["line"], stop["face"], stop["y"]
            lines = [(line, stop["from"], line, y + 4), (face, stop["from"], face, y + 4), (line, y, face, y)]
            texts.append((line + 8, y - 6, f"stop {self.mm(at)}", "start"))
        return Figure(drawn["width"], drawn["height"], (), lines, texts, "Set, from the right end", panes, SHARE)
