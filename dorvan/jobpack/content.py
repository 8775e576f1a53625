"""What stands in a job pack, section by section, from the records as they are."""

from collections.abc import Callable, Iterator
from itertools import pairwise

from django.urls import reverse

from bendcore.brakes.brake import Brake
from bendcore.errors import Refusal
from bendcore.floor.front import Front, fronts
from bendcore.floor.good_side import GoodSide, good_side
from bendcore.floor.hazards import hazards as at_the_brake
from bendcore.floor.setup import set_ups
from bendcore.formats.jobpack import Blank, Code, Figure, Pane, Photograph, Rows, Section, Stroke, Words
from bendcore.joining.assembly import hazards, steps
from bendcore.layout.marks import X, Y, diagonal, running_marks
from bendcore.layout.marks import steps as marking_steps
from bendcore.order.plan import Plan, Step
from bendcore.order.proof.gauge import LINE
from bendcore.part import Part
from bendcore.quality.checklist import checklist
from bendcore.quality.checksheet import TRIED
from bendcore.said import Said, in_units
from bendcore.units import read_off, show_angle, writer
from dorvan.brakes.models import parsed
from dorvan.drawings.checked import checked_view
from dorvan.drawings.front import front_view
from dorvan.drawings.joint import joint_view
from dorvan.joining.listing import counted, kit_of, rows_of
from dorvan.longwork.desk import Working
from dorvan.site.models import Visit
from dorvan.tickets import gate
from dorvan.tickets.models import Ticket
from dorvan.tickets.models.bought import LINING
from dorvan.tickets.pages.order import making_card
from dorvan.tickets.templatetags.shop import gauged

from .stills import PaperSteps

SECTIONS = {"tag": "Tag", "site": "Site sheet", "cut": "Cut list", "marking": "Marking out", "order": "Bend order",
            "set-up": "Set-up", "cards": "Cards", "check": "Check sheet", "joins": "Join list"}
"""What a pack may hold, by its word."""
MOST_JOINTS = 12
"""So many are drawn."""
JOINT = 0.8
"""A joint takes so much of the paper's width."""
SEEN = 0.7
"""The part with its dimensions takes so much of the paper's width."""


class Writer:
    """Writes for one reader's ``units``, a length with ``mm``; ``address`` makes the address of a page."""

    def __init__(self, units: str, address: Callable[[str], str]):
        self.units, self.address, self.mm = units, address, writer(units)

    def said(self, words: str) -> str:
        """Anything said, in the reader's units."""
        return in_units(words, self.units)

    def sections(self, lead: Ticket, chosen: set[str]) -> Iterator[Section]:
        """The sections chosen of a kit, its lead first."""
        pieces = kit_of(lead)
        orders = {piece.number: _ordered(piece) for piece in pieces}  # first, so that the tag says what is true
        if "tag" in chosen:
            yield self._tag(lead, pieces)
        if "site" in chosen:
            yield from self._site(pieces)
        if "cut" in chosen:
            yield self._cut(pieces)
        for piece in pieces:
            yield from self._piece(piece, *orders[piece.number], chosen)
        if "joins" in chosen and (rows := rows_of(lead)):
            yield self._joins(lead, rows)

    def _tag(self, lead, pieces) -> Section:
        part = lead.figures.part
        lines = [f"{lead.quantity} off. {part.stock.material.title}, {self.mm(part.stock.thickness)}."
                 + (f" Lot {lead.lot.code}." if lead.lot else ""),
                 f"Due {lead.due:%Y-%m-%d}." if lead.due else "No due date.",
                 f"Brake: {lead.brake.name}." if lead.brake else f"Bent by {lead.supplier}." if lead.supplier else ""]
        open_ = [f"OPEN: {point.title}: {self.said(words)}." for point in gate.shut(lead) for words in point.wanted]
        rows = [[one.tag, one.name, str(one.quantity), one.figures.part.stock.material.title] for one in pieces]
        return Section(f"{lead.tag} {lead.name}", [
            Words([line for line in lines if line] + open_),
            Code(self.address(lead.get_absolute_url()), "opens the ticket"),
            Rows(["Ticket", "Piece", "Pieces", "Stock"], rows)])

    def _site(self, pieces) -> Iterator[Section]:
        numbers = {piece.pk for piece in pieces}
        for visit in Visit.objects.filter(rules__uses__ticket__in=numbers).distinct():
            core = visit.sheet()
            values = core.values
            rows = [[thing.name, thing.sort.title + (f", to the {thing.to}" if thing.to else ""),
                     self.said(values[thing.name].told if thing.name in values
                               else Said("OPEN: {what}", what=thing.measured.lacks)),
                     "; ".join(f"{one.typed} ({one.who})" for one in thing.kept)]
                    for thing in visit.things.prefetch_related("readings")]
            rules = [[rule.name, self.said(core.working(rule.name)) if rule.name in values else f"{rule.text} (open)",
                      ", ".join(f"{use.ticket.tag} {use.field}" for use in rule.uses.all()
                                if use.ticket_id in numbers)]
                     for rule in visit.rules.prefetch_related("uses__ticket")]
            pictures = [Photograph(bytes(one.jpeg), one.caption) for one in visit.pictures.all()[:4]]
            yield Section(f"{visit} {visit.name}, {visit.on:%Y-%m-%d}", [
                Rows(["Measured", "What", "Value", "Readings"], rows),
                Rows(["Size", "Working", "Sets"], rules), *pictures])

    def _cut(self, pieces) -> Section:
        rows = []
        for piece in pieces:
            part = piece.figures.part
            long, wide = part.flat.size
            rows.append([piece.tag, piece.name, str(piece.quantity), f"{self.mm(long)} x {self.mm(wide)}",
                         f"{part.stock.material.title} {self.mm(part.stock.thickness)}",
                         f"diagonal {self.mm(diagonal(part.flat))}"])
        return Section("Cut list", [Rows(["Ticket", "Piece", "Blanks", "Size", "Stock", "Square by"], rows), Words(
            ["Dress the edges. Write number, face and grain on each blank before it leaves the sheet."])])

    def _piece(self, piece: Ticket, plan: Plan | None, brakes: list[Brake], chosen) -> Iterator[Section]:
        part = piece.figures.part
        name = f"{piece.tag} {piece.name}"
        if "marking" in chosen:
            yield Section(f"Marking out {name}", self._marking(part))
        if "order" in chosen and plan:
            yield Section(f"Bend order {name}", [self._order(part, plan, brakes)], page="marking" not in chosen)
        if "set-up" in chosen and plan:
            yield Section(f"Set-up {name}", self._set_up(part, plan, brakes))
        if "cards" in chosen and (plan or (card := making_card(part, piece.making).get("card", ()))):
            blocks = self._strokes(piece, part, plan, brakes) if plan else self._making(card)
            code = Code(self.address(reverse("floor:bend", args=[piece.number])), "opens the run cards")
            yield Section(f"Cards {name}", [code, *blocks])
        if "check" in chosen:
            yield Section(f"Check sheet {name}", [self._checked(part), self._check(part)])

    def _marking(self, part: Part) -> list:
        along, up = (self._marks(part, axis) for axis in (X, Y))
        found: list = [Blank(part.flat, along, up, part.shape.is_strip and not part.flat.holes)]
        for n, step in enumerate(marking_steps(part), 1):
            found.append(Words([f"{n}. {step.title}. {self.said(step.do)}"]))
            if step.marks:
                found.append(Rows(["Edge", "Bend", "Line", "On the tape", "Exact"], [
                    [mark.edge, mark.bend and part.shape.called(mark.bend), mark.kind, read_off(mark.at, self.units),
                     self.mm(mark.at)]
                    for mark in step.marks]))
        return found

    def _order(self, part: Part, plan: Plan, brakes: list[Brake]) -> Rows:
        called = part.shape.called
        rows = []
        for n, step in enumerate(plan.steps, 1):
            rows.append([str(n), ", ".join(map(called, step.bends)), show_angle(step.bend_to, self.units, 1),
                         f"{step.face_up} up{_spared(good_side(part, step, brakes))}, {called(step.held)} held",
                         self._located(part, step), " on ".join(filter(None, step.tools.key)) or step.brake])
        return Rows(["Step", "Bends", "To", "Lies", "Located by", "Tools"], rows)

    def _marks(self, part: Part, axis: str) -> list[tuple[float, str]]:
        """What is read off along an edge of the blank, each once; of a strip with its bend."""
        found = {}
        for mark in running_marks(part.flat, axis) if not part.shape.making else ():
            words = self._read_off(mark.at)
            found.setdefault(words, (mark.at, f"{mark.bend} {words}" if mark.bend and part.shape.is_strip else words))
        return list(found.values())

    def _located(self, part: Part, step: Step) -> str:
        """What a step is located by, and how far that is from the bend."""
        if step.sight is not None:
            return f"sight line {self.mm(step.sight)}"
        gauge = step.gauge
        return "scribed line" if gauge.kind == LINE else f"{gauged(gauge, part)}, {self.mm(gauge.stop)}"

    def _set_up(self, part: Part, plan: Plan, brakes: list[Brake]) -> list:
        found: list = []
        for sheet in set_ups(part, plan.steps, brakes):
            rows = [[item.what, self.said(item.how)] for item in sheet.rows]
            found += [self._front(seen, part) for seen in fronts(part, plan.steps, sheet, brakes)]
            found.append(Rows([sheet.brake, "How it is set"], rows))
            found.append(Words([*sheet.checks], numbered=True))
            found.append(Words([sheet.care]))
        return found

    def _front(self, seen: Front, part: Part) -> Figure:
        """The brake from the front, black on white."""
        drawn = front_view(seen, part.stock.thickness, self.units)
        greys = {"machine": 0.93, "frame": 0.85, "clamp": 0.7}
        boxes = [(b["x"], b["y"], b["w"], b["h"], greys[b["kind"]]) for b in drawn["blocks"] if b["kind"] in greys]
        boxes += [(p["x"], p["y"], p["w"], p["h"], 1.0) for p in drawn["pieces"]]
        boxes += [(b["x"], b["y"], b["w"], b["h"], 0.0) for b in (drawn["bend"],)]
        lines = [(p["x_label"], p["from"], p["x_label"], p["at"]) for p in drawn["pieces"] if not p["inside"]]
        lines.append((drawn["middle"], drawn["roof"], drawn["middle"], drawn["floor"]))
        texts = [(p["x_label"], p["at"], p["words"], "middle") for p in drawn["pieces"]]
        texts.append((drawn["middle"] + 6, drawn["roof"] + 4, "middle of the machine", "start"))
        texts += [(b["x"] + 6, b["y"] + 14, b["name"], "start") for b in drawn["blocks"] if b["kind"] == "machine"]
        if datum := drawn["datum"]:
            lines.append((datum["x0"], datum["y"], datum["x1"], datum["y"]))
            texts.append((datum["x1"] + 6, datum["y"] + 4, f"{datum['words']} {self.units} from the left end", "start"))
        words = f"{seen.tools or 'As it stands'}, from step {seen.first}. Bend {drawn['long']} {self.units}."
        return Figure(drawn["width"], drawn["height"] - 24, boxes, lines, texts, words)

    def _read_off(self, at: float) -> str:
        """A place as a tape or rule has it."""
        return read_off(at, self.units) if self.units == "in" else self.mm(at).removesuffix(" mm")

    def _making(self, card) -> Iterator[Words]:
        """How it is made at the rolls, over a block or bars."""
        yield Words([f"{step.title}. {self.said(step.words)}" for step in card], numbered=True)

    def _strokes(self, piece: Ticket, part: Part, plan: Plan, brakes: list[Brake]) -> Iterator[Stroke | Words]:
        """Every step as it is before, as it is after, and set; what lies where, what to mind."""
        seen = PaperSteps(piece, part, plan, self.mm)
        depths = {one.step: one.depth for sheet in set_ups(part, plan.steps, brakes) for one in sheet.strokes}
        for n, step in enumerate(plan.steps, 1):
            dangers = at_the_brake(part, plan.steps, n, step.on(brakes))
            good = good_side(part, step, brakes)
            bends = ", ".join(map(part.shape.called, step.bends))
            where = f"{step.face_up.capitalize()} face up{_spared(good)}; " \
                    f"{part.shape.called(step.held)} {'to the stop' if step.tools.die else 'under the clamp'}; " \
                    f"{self._located(part, step)}"
            if depths.get(n):
                where += f"; {self.mm(depths[n])} down from touch"
            minds = " ".join(map(self.said, [*([good.mind] if good else []), *step.notes, *dangers]))
            yield Stroke(f"{n}. {bends} to {show_angle(step.bend_to, self.units, 1)}", seen.figures(n),
                         [f"{where}. {' on '.join(filter(None, step.tools.key)) or step.brake}.", minds])
        yield Words([seen.legend])

    def _checked(self, part: Part) -> Figure:
        """The finished part and where its dimensions are measured, black on white."""
        drawn = checked_view(part)
        lines = [(*one, *other) for place in drawn["places"] for stroke in place["strokes"]
                 for one, other in pairwise(stroke)]
        texts = [(name["x"], name["y"], name["text"], "middle") for name in drawn["names"]]
        return Figure(drawn["width"], drawn["height"], (), lines, texts, "Where its dimensions are measured.",
                      [Pane(ring) for ring in drawn["rings"]], SEEN)

    def _check(self, part: Part) -> Rows:
        rows = []
        for one in checklist(part):
            if one.unit == TRIED:
                rows.append([one.title, "yes", "", "", "", ""])
            else:
                shown = self.mm if one.unit == "mm" else lambda size: show_angle(size, self.units, 2)
                tolerance = self.mm(one.tolerance) if one.unit == "mm" else f"{one.tolerance:g}°"
                rows.append([one.title, shown(one.nominal), f"± {tolerance}", "", "", ""])
        return Rows(["Dimension", "Nominal", "Tolerance", "First", "Between", "Last"], rows)

    def _joins(self, lead: Ticket, rows: list) -> Section:
        part, kinds, sealed = lead.figures.part, [row.kind for row in rows], any(row.sealed for row in rows)
        lined = lead.bought_in.filter(kind=LINING).exists()
        places = [[row.joint.place, row.ticket.tag, f"{row.each} to each", self.mm(row.joint.length),
                   _counted(row), self._places(row.spaced)] for row in rows]
        return Section(f"Join list {lead.tag} {lead.name}", [
            Rows(["Where", "Ticket", "How often", "Length", "How", "Places"], places),
            *(self._joint(row) for row in rows[:MOST_JOINTS] if row.spaced.pitch),
            Words([self.said(words) for words in steps(part, [(row.joint, row.kind) for row in rows], lined, sealed)],
                  numbered=True),
            Rows(["Counted", "Each", f"For {lead.quantity}"],
                 [[self.said(text) for text in (one.what, one.each, one.total)] for one in counted(lead, rows)]),
            Words(list(hazards(part, kinds, sealed)))])

    def _joint(self, row) -> Figure:
        """A joint as a rule, with its places on it."""
        drawn = joint_view(row.joint.length, row.spaced, self.units)
        base = drawn["height"] - 16
        low, high = drawn["ends"]
        lines = [(low, base, high, base), *((x, base - 8, x, base + 8) for x in (low, high)),
                 *((x, base - 4, x, base + 4) for x in drawn["marks"])]
        return Figure(drawn["width"], drawn["height"], (), lines, [(low, 10, f"{row.joint.place}: {drawn['words']}",
                                                                   "start")], "", (), JOINT)

    def _places(self, spaced) -> str:
        return f"{self.mm(spaced.end)} from the end, {self.mm(spaced.pitch)} apart" if spaced.pitch else "in the middle"


def _counted(row) -> str:
    """How many of what join it: *1 rivet*, *4 rivets*."""
    return f"{row.spaced.count} {row.title if row.spaced.count != 1 else row.title.removesuffix('s')}"


def _spared(good: GoodSide | None) -> str:
    """Which way the side to be spared lies, after which face is up."""
    return f", {good.way}" if good else ""


def _ordered(piece: Ticket) -> tuple[Plan | None, list[Brake]]:
    """The order of a piece as released, or as it is known, and the brakes it is for."""
    try:
        plan, files = piece.in_force
    except (Working, Refusal):
        return None, []
    if piece.can_be_ordered and not piece.is_released:
        piece.note_order(plan)
    return (plan, [parsed(file) for file in files]) if plan and plan.steps else (None, [])
