"""A ticket carries one part from a description to a checked piece.

The part file is the truth; every change is an :class:`Edit`, and undo only moves
the ticket's place among them. Release freezes a :class:`Revision`.

What follows from a change is worked out first and written then, in one short transaction
that makes sure nobody changed the ticket meanwhile (:class:`Moved`).
"""

import copy

from django.conf import settings
from django.db import models, transaction
from django.urls import reverse
from django.utils import timezone

from bendcore.edits import is_begun_stock
from bendcore.errors import Refusal
from bendcore.families import FAMILIES
from bendcore.families.shape import BARS
from bendcore.order.plan import WISHES, Plan
from bendcore.part import holding
from dorvan.brakes.models import Brake, Tooling
from dorvan.ledger.schools import shop_allowance
from dorvan.stockroom.models import Lot
from dorvan.suppliers.models import Supplier
from dorvan.versions.doing import Moved

from .. import kits
from ..file.joined import joined, tool_of
from ..results import derived
from ..results.text import digest
from .gate import PLAIN
from .history import CHOICES, STATE, Edit, still_there, write
from .kept import KeptOrder
from .revision import Override, Revision
from .tags import tag_of

STAGES = ("shape", "stock", "proof", "layout", "order", "set-up", "bend", "check")


class Ticket(models.Model):
    number = models.PositiveIntegerField(unique=True)
    part = models.JSONField()
    quantity = models.PositiveIntegerField(default=1)
    brake = models.ForeignKey(Brake, models.PROTECT, null=True, blank=True)
    also = models.ForeignKey(Brake, models.PROTECT, null=True, blank=True, related_name="+",
                             help_text="The brake that a part may go on to from the first.")
    punch = models.CharField(max_length=80, blank=True)
    die = models.CharField(max_length=80, blank=True)
    lot = models.ForeignKey(Lot, models.SET_NULL, null=True, blank=True, related_name="tickets")
    nose = models.ForeignKey(Tooling, models.SET_NULL, null=True, blank=True, related_name="+")
    shim = models.ForeignKey(Tooling, models.SET_NULL, null=True, blank=True, related_name="+")
    slip = models.ForeignKey(Tooling, models.SET_NULL, null=True, blank=True, related_name="+")
    follows_shop = models.BooleanField(default=False, help_text="Allowance by the ledger, or the shop's default.")
    bend_order = models.JSONField(default=list, blank=True)
    important = models.JSONField(default=list, blank=True, help_text="Legs to be gauged directly, wishes to be kept.")
    place = models.PositiveIntegerField(default=0)
    order_key = models.CharField(max_length=64, blank=True, help_text="What order_found was found for.")
    order_found = models.BooleanField(default=False)
    seen_layout = models.BooleanField(default=False)
    lead = models.ForeignKey("self", models.SET_NULL, null=True, blank=True, related_name="pieces",
                             help_text="The ticket whose kit this piece belongs to.")
    per_assembly = models.PositiveIntegerField(default=1)
    sizes = models.JSONField(default=dict, blank=True, help_text="Of a size of its lead: fields below shape, as typed.")
    role = models.CharField(max_length=20, blank=True, help_text="Drawn from the lead, as this mate of it.")
    clearance = models.FloatField(null=True, blank=True, help_text="To its mate at either side, mm.")
    made = models.JSONField(default=dict, blank=True, help_text="Sizes measured on the finished piece.")
    job = models.CharField(max_length=20, default=PLAIN, help_text="What the gate before cutting asks for.")
    supplier = models.ForeignKey(Supplier, models.SET_NULL, null=True, blank=True, related_name="tickets",
                                 help_text="Who bends it, if that is not this shop.")
    structural = models.BooleanField(default=False, help_text="A structural or safety part.")
    due = models.DateField(null=True, blank=True)
    archived = models.BooleanField(default=False, help_text="Off the rack, its record kept.")
    made_by = models.ForeignKey(settings.AUTH_USER_MODEL, models.PROTECT, related_name="+")
    changed_at = models.DateTimeField(auto_now=True)
    version = models.PositiveIntegerField(default=0, help_text="Counts what was written.")
    card = models.JSONField(default=dict, blank=True, help_text="What the rack shows of it.")
    card_key = models.CharField(max_length=64, blank=True, help_text="What the card was made for.")

    told: list[str] = []
    """What the last change had to say of the kit's pieces."""
    last_edit: "Edit | None" = None
    """The change just made to it."""
    members: tuple["Ticket", ...] = ()
    """Its kit as a change leaves it, while that is worked out."""

    class Meta:
        ordering = ["-number"]

    def __str__(self) -> str:
        return f"{self.tag} {self.name}"

    def get_absolute_url(self) -> str:
        return reverse("tickets:shape", args=[self.number])

    @classmethod
    def next_number(cls) -> int:
        return (cls.objects.aggregate(last=models.Max("number"))["last"] or 100) + 1

    @property
    def tag(self) -> str:
        return tag_of(self.number)

    @property
    def name(self) -> str:
        return self.part.get("name", "")

    @property
    def is_released(self) -> bool:
        """Whether it stands as its last revision froze it."""
        revision = self.revision  # asks the database each time
        return bool(revision and revision.is_current)

    @property
    def choices(self) -> dict:
        return {name: getattr(self, name) for name in CHOICES}

    @property
    def joined(self) -> dict:
        """The part file with the shop's tools and metal values in it."""
        return self._kept("joined", lambda: joined(self))

    def part_for(self, brake) -> dict:
        """The complete part file as it would be on another of the shop's brakes, with no tools chosen there."""
        if brake == self.brake:
            return self.joined
        return joined(Ticket(part=self.part, brake=brake, nose=None if brake.press else self.nose, shim=self.shim,
                             slip=self.slip))

    def _kept(self, name: str, make):
        """What was made of the part and the choices, until either is another. The part is never
        changed in place, so that it is known by which it is: writing it out takes longer than this."""
        choices = list(self.choices.values())
        part, seen, kept = self.__dict__.get("_keeps", (None, None, {}))
        if part is not self.part or seen != choices:
            kept = {}
            self._keeps = (self.part, choices, kept)
        if name not in kept:
            kept[name] = make()
        return kept[name]

    @property
    def kind(self) -> str:
        """The family of the part."""
        return self.part["shape"]["kind"]

    @property
    def figures(self) -> derived.Figures:
        return self._kept("figures", lambda: derived.figures(self.joined))

    @property
    def tool(self) -> str:
        """The tool as the ledger names it."""
        return tool_of(self, self.figures.part)

    @property
    def stamp(self) -> str:
        """Tells one state of the ticket from another, for two people at one ticket."""
        return self._kept("stamp", lambda: digest([self.part, self.choices])[:16])

    @property
    def revision(self) -> "Revision | None":
        return next((one for one in reversed(self.revisions.all()) if not one.elsewhere), None)

    @property
    def mounted(self):
        """The brake with only the tools chosen for this ticket on it."""
        if not self.brake:
            return None
        press = self.brake.press
        if not press:
            return self.brake.machine
        return press.with_tools([self.punch] if self.punch else None, [self.die] if self.die else None)

    @property
    def content_key(self) -> str:
        """Names the state of the part, with what the shop joins to it."""
        return self._kept("content_key", lambda: digest(self.joined))

    @property
    def card_is_fresh(self) -> bool:
        return self.card_key == self.content_key and "blank" in self.card

    @property
    def order_asked(self) -> derived.Asked:
        """All that the order depends on."""
        return self._kept("order_asked", lambda: derived.Asked(
            self.joined, self.brake.file if self.brake else "", self.punch, self.die, tuple(self.bend_order) or None,
            tuple(self.important), self.also.file if self.also else ""))

    @property
    def brake_files(self) -> tuple[str, ...]:
        """Of the brakes it is bent on."""
        return tuple(brake.file for brake in (self.brake, self.also) if brake)

    @property
    def order_name(self) -> str:
        """Names what the order is looked for, as it has been named since orders were first noted."""
        asked = [self.joined, self.brake.file if self.brake else "", self.punch, self.die, self.bend_order or None]
        more = [self.important, self.also.file if self.also else ""]
        return self._kept("order_name", lambda: digest(asked + (more if any(more) else [])))

    @property
    def ordered(self) -> Plan | None:
        """The order in force: the one chosen, or the best; None for a part that none is worked out for.
        Raises Working while it is being worked out, and Refusal for a strip it cannot be worked out for."""
        return KeptOrder.ordered(self.order_asked) if self.can_be_ordered else None

    @property
    def in_force(self) -> tuple[Plan | None, tuple[str, ...]]:
        """The order as released, while that is current, else as ``ordered`` gives or refuses it; and the files of the
        brakes it is for."""
        revision = self.revision
        if revision and revision.is_current:
            return revision.plan, revision.brake_files
        return self.ordered, self.brake_files

    @property
    def clamped(self) -> dict[str, tuple[str, float]]:
        """By bend the face that the order clamps on a hand brake, and how far the sight line lies from its tangent
        line; nothing where no order is worked out."""
        found = KeptOrder.known(self.order_asked) if self.can_be_ordered else None
        return {name: (step.held, step.sight) for step in (found.steps if found else ()) if step.sight is not None
                for name in step.bends}

    @property
    def making(self) -> str:
        """Where it is made by its card: at the rolls, over a block or bars; empty where it is bent in steps."""
        family, at_bench = FAMILIES[self.kind], self.brake and self.brake.machine.kind == "bench"
        return family.made.making or (BARS if family.by_hand and at_bench else "")

    @property
    def can_be_ordered(self) -> bool:
        """Whether bend orders are worked out for it."""
        return bool(self.brake) and not self.making and not self.part_has_no_bends

    def note_order(self, found: Plan | None) -> None:
        """Keep whether there is an order for the ticket as it stands, so that the rack need not search."""
        if not found:
            return
        key = self.order_name
        if (self.order_key, self.order_found) != (key, found.feasible):
            self.order_key, self.order_found = key, found.feasible
            Ticket.objects.filter(pk=self.pk).update(order_key=key, order_found=found.feasible)

    @property
    def order_is_known(self) -> bool:
        """Whether an order was found for the ticket as it stands."""
        return self.order_found and self.order_key == self.order_name

    @property
    def order_is_missing(self) -> bool:
        """Whether it was looked for, for the ticket as it stands, and there is none."""
        return not self.order_found and self.order_key == self.order_name

    @property
    def part_has_no_bends(self) -> bool:
        return not self.figures.part.shape.all_bends

    @property
    def allowance_is_known(self) -> bool:
        """Whether the allowance rests on this shop's own measuring: the ledger, a chart or a given K."""
        return self.part["allowance"]["method"] in ("k_factor", "deduction_chart")

    @property
    def stock_is_chosen(self) -> bool:
        """Whether anybody chose a stock or a tool; a new ticket begins with mild steel."""
        chosen = self.lot_id or self.die or self.punch or self.nose_id or self.revision
        return bool(chosen) or not is_begun_stock(self.part["stock"])

    def reached(self, card: dict | None = None) -> dict[str, bool]:
        """Which stages are filled in; of a list of tickets by what their ``card`` says."""
        revision = self.revision
        bends, tool = (card["has_bends"], card["tool"]) if card else (not self.part_has_no_bends, self.tool)
        if self.making:  # no tool, no allowance, no order: the making card
            return dict.fromkeys(STAGES, True) | {
                "layout": self.seen_layout, "set-up": bool(revision and revision.is_current),
                "bend": bool(revision and revision.runs.all()),
                "check": bool(revision and revision.tally and revision.tally.is_done)}
        return {
            "shape": bends or not FAMILIES[self.kind].made.is_strip,
            "stock": bends and self.stock_is_chosen and bool(tool or revision),
            "proof": self.allowance_is_known or bool(revision), "layout": self.seen_layout,
            "order": self.order_is_known or bool(revision and revision.is_current),
            "set-up": bool(revision and revision.is_current), "bend": bool(revision and revision.runs.all()),
            "check": bool(revision and revision.tally and revision.tally.is_done)}

    def change(self, part: dict | None, note: str, by, follows: bool = False, **choices) -> None:
        """Take a new part file, new choices, or both, dropping what had been undone.

        The pieces of its kit are drawn anew; a piece whose shape a person changes no longer
        ``follows`` its lead. Raises Refusal, with nothing changed, when the part cannot be
        read with them; Moved when somebody else was quicker.
        """
        draft = self.drafted(part, note, by, follows, **choices)
        if draft is None:
            return
        pieces, self.told = kits.drafts(kits.lead_of(self), by, self) if not follows else ([], [])
        write(draft, *pieces)
        self.last_edit = draft

    def drafted(self, part: dict | None, note: str, by, follows: bool = False, **choices) -> "Edit | None":
        """The ticket as the change leaves it, and the edit to be written with it; None if it changes nothing."""
        before, bends = (self.part, self.choices), self.bend_names if self.bend_order else None
        if part and not follows:
            part = kits.fitted(self, part)
            if self.role and part["shape"] != self.part["shape"]:
                choices["role"] = self.role if kits.still_follows(self.part["shape"], part["shape"]) else ""
        try:
            for name, value in choices.items():
                setattr(self, name, value)
            self.part = holding(self.by_the_shop(part or self.part))
            if bends is not None and self.bend_names != bends:
                self.bend_order = []
            self._trim_order()
        except Refusal:
            self.part = before[0]
            for name, value in before[1].items():
                setattr(self, name, value)
            raise
        if (self.part, self.choices) == before:
            return None
        self.place += 1
        edit = Edit(ticket=self, place=self.place, part=self.part, choices=self.choices, note=note[:120], by=by,
                    stamp=self.stamp)
        if self.place == 1:
            edit.begun = Edit(ticket=self, place=0, part=before[0], choices=before[1], note="begun", by=self.made_by,
                              stamp=digest([*before])[:16])
        return edit

    def keep(self, *fields: str) -> None:
        """Write these fields; raises Moved if the ticket was written by anybody since it was read."""
        values = {name: getattr(self, name) for name in fields} | {"changed_at": timezone.now()}
        same = Ticket.objects.filter(pk=self.pk, version=self.version)
        if not same.update(version=self.version + 1, **values):
            raise Moved
        self.version += 1

    def by_the_shop(self, part: dict) -> dict:
        """The part with the ledger's figures, or the shop's default school, if it follows them."""
        if not self.follows_shop:
            return part
        self.part = part
        shop = shop_allowance(self.figures.part, self.tool)
        part = copy.deepcopy(part) | {"allowance": shop.block}
        if shop.springback is not None:
            part["stock"]["springback"] = shop.springback
        for end in ("start_hem", "end_hem"):
            if shop.hem_k is not None and end in part["shape"]:
                part["shape"][end]["k"] = round(shop.hem_k, 4)
        return part

    def move_to(self, place: int) -> bool:
        """Undo or redo to another edit; False when there is none."""
        edit = self.edits.filter(place=place).select_related("by").first()
        if edit is None:
            return False
        self.part, self.place, self.last_edit = edit.part, place, None
        for name, value in edit.choices.items():
            setattr(self, name, value if not name.endswith("_id") or still_there(name, value) else None)
        self._trim_order()
        pieces, self.told = kits.drafts(self, edit.by, self)
        with transaction.atomic():
            self.keep(*STATE)
            write(*pieces)
        return True

    @property
    def bend_names(self) -> list[str]:
        """The bends of the part."""
        return [bend.id for bend in self.figures.part.shape.all_bends]

    def _trim_order(self):
        """An order of one's own, or how it begins, lasts while it names this part's bends; what is gauged directly
        while there are such legs; a wish as long as it is wished."""
        shape = self.figures.part.shape
        if self.bend_order and not set(self.bend_order) <= set(self.bend_names):
            self.bend_order = []
        if self.important:
            self.important = [name for name in self.important if name in {*WISHES, *(leg.id for leg in shape.legs)}]

    def override_of(self, notice) -> "Override | None":
        """The lead's override of a stop; it holds while the part's figures say the same."""
        said = next((n.message for n in self.figures.notices if (n.code, n.where) == (notice.code, notice.where)), None)
        return self.override_for(notice.code, notice.where, said)

    def override_for(self, code: str, where: str, message: str | None) -> "Override | None":
        """The override of a stop that says this."""
        return next((o for o in self.overrides.all() if (o.code, o.where, o.message) == (code, where, message)), None)

    @property
    def open_stops(self) -> list:
        """Stops on the part that no lead has overridden as they stand now."""
        return [n for n in self.figures.notices if n.severity == "stop" and not self.override_of(n)]

    @property
    def can_undo(self) -> bool:
        return self.place > 0

