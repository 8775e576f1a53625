"""The ledger: every proof bend measured, what was adopted from them, and the shop's own schools.

Records are added, never changed: dropping a sample is a mark with a reason, adopting a
fit is a new adoption, and the newest of each holds.
"""

from contextlib import contextmanager
from contextvars import ContextVar

from django.conf import settings
from django.db import models

from bendcore.quality import ledger as core
from bendcore.quality.proof import NAMES, ProofBend, Uncertainty
from bendcore.said import Mm, Said
from bendcore.schools.charts import Chart as ChartRows
from bendcore.schools.charts import read_chart
from bendcore.stock import alike, called
from dorvan.stockroom.models import Lot


class Rules(models.Model):
    """What the shop decided once: one row."""

    default = models.JSONField(default=dict, help_text="Allowance block used until the ledger has enough.")
    enough = models.PositiveIntegerField(default=core.ENOUGH)

    @classmethod
    def now(cls) -> "Rules":
        return cls.objects.first() or cls(default={"method": "generic"})


class Chart(models.Model):
    """A deduction or allowance chart as pasted."""

    name = models.CharField(max_length=60, unique=True)
    text = models.TextField()
    units = models.CharField(max_length=2, default="mm")
    by = models.ForeignKey(settings.AUTH_USER_MODEL, models.PROTECT, related_name="+")
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["name"]

    def __str__(self) -> str:
        return self.name

    @property
    def rows(self) -> ChartRows:
        return read_chart(self.text, self.units)


class Pair(models.Model):
    """One stock under one tool: what a fit is for. ``thickness`` is the nominal, mm."""

    material = models.CharField(max_length=60)
    thickness = models.FloatField()
    tool = models.CharField(max_length=120)
    hem = models.BooleanField(default=False)

    class Meta:
        ordering = ["material", "thickness", "tool"]
        constraints = [models.UniqueConstraint(fields=["material", "thickness", "tool", "hem"], name="one_pair")]

    def __str__(self) -> str:
        return str(self.said)

    @property
    def said(self) -> Said:
        """What it is for, in a reader's units."""
        return Said("{metal} {t}, {hem}{tool}", metal=called(self.material), t=Mm(self.thickness),
                    hem="hem, " if self.hem else "", tool=self.tool)

    @classmethod
    def near(cls, material: str, thickness: float, tool: str, hem: bool = False) -> "Pair | None":
        """The pair of this stock and tool, the nearest in thickness."""
        pairs = [p for p in cls.objects.filter(material=material, tool=tool, hem=hem)
                 if alike(p.thickness, thickness)]
        return min(pairs, key=lambda p: abs(p.thickness - thickness), default=None)

    @property
    def is_measured(self) -> bool:
        """Whether a sample of it is kept."""
        return self.samples.kept().exists()

    @property
    def adopted(self) -> "Adoption | None":
        """The adoption in force, or meant to be (:func:`meant`); None before the first, or when the last was
        withdrawn."""
        last = _meant.get()
        if last is None or last.pair_id != self.pk:
            last = self.adoptions.last()
        return last if last and last.k is not None else None


class Proof(models.Model):
    """A proof bend being made: which strips to cut, and what was typed so far."""

    number = models.PositiveIntegerField(unique=True)
    pair = models.ForeignKey(Pair, models.PROTECT, related_name="proofs")
    ticket = models.ForeignKey("tickets.Ticket", models.SET_NULL, null=True, blank=True, related_name="proofs")
    lot = models.ForeignKey(Lot, models.PROTECT, null=True, blank=True, related_name="+")
    plan = models.JSONField(help_text="Strip length, width, line and so on, mm; the angle; the radius expected")
    strips = models.PositiveIntegerField(default=3)
    drafts = models.JSONField(default=dict, blank=True, help_text="Strip number → fields as typed")
    tries = models.JSONField(default=dict, blank=True, help_text="Strip number → shanks tried")
    sets = models.JSONField(default=list, help_text="Sets of drills at hand")
    by = models.ForeignKey(settings.AUTH_USER_MODEL, models.PROTECT, related_name="+")
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["-number"]

    @property
    def tag(self) -> str:
        return f"P-{self.number:03d}"


class Samples(models.QuerySet):
    def kept(self):
        """Those whose last mark, if they have one, did not drop them."""
        last = Mark.objects.filter(sample=models.OuterRef("pk")).order_by("-pk").values("drop")[:1]
        return self.annotate(gone=models.Subquery(last)).filter(models.Q(gone=None) | models.Q(gone=False))


class Sample(models.Model):
    """One strip or finished part, measured. ``readings`` in mm and degrees, as the core names them."""

    class Kind(models.TextChoices):
        PROOF = "proof", "proof bend"
        PART = "part", "finished part"

    pair = models.ForeignKey(Pair, models.PROTECT, related_name="samples")
    proof = models.ForeignKey(Proof, models.PROTECT, null=True, blank=True, related_name="samples")
    strip = models.PositiveIntegerField(default=1)
    ticket = models.ForeignKey("tickets.Ticket", models.SET_NULL, null=True, blank=True, related_name="samples")
    lot = models.ForeignKey(Lot, models.PROTECT, null=True, blank=True, related_name="+")
    kind = models.CharField(max_length=5, choices=Kind.choices, default=Kind.PROOF)
    readings = models.JSONField()
    radius_by = models.CharField(max_length=80, blank=True, help_text="Gauge, or the shanks that bracket it")
    who = models.CharField(max_length=60)
    on = models.DateField()
    note = models.CharField(max_length=200, blank=True)

    objects = Samples.as_manager()

    class Meta:
        ordering = ["on", "id"]

    @property
    def core(self) -> core.Sample:
        read = self.readings
        proof = ProofBend(**{n: read[n] for n in NAMES}, convention=read.get("convention", "apex"),
                          u=Uncertainty(**read.get("u", {})))
        return core.Sample(proof, read.get("bent_to"))

    @property
    def dropped(self) -> "Mark | None":
        """The mark that dropped it, unless it was taken back since."""
        marks = list(self.marks.all())
        return marks[-1] if marks and marks[-1].drop else None


class Mark(models.Model):
    """A person dropped a sample, or took it back, and said why."""

    sample = models.ForeignKey(Sample, models.CASCADE, related_name="marks")
    drop = models.BooleanField()
    reason = models.CharField(max_length=200)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, models.PROTECT, related_name="+")
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["id"]


class Adoption(models.Model):
    """A lead took a fit as the shop's figure; with ``k`` None, took it back."""

    pair = models.ForeignKey(Pair, models.PROTECT, related_name="adoptions")
    k = models.FloatField(null=True)
    u_k = models.FloatField(null=True)
    springback = models.FloatField(null=True)
    samples = models.JSONField(default=list)
    reason = models.CharField(max_length=200, blank=True)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, models.PROTECT, related_name="+")
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["id"]

    @property
    def n(self) -> int:
        return len(self.samples)


_meant: ContextVar[Adoption | None] = ContextVar("meant", default=None)


@contextmanager
def meant(adoption: Adoption):
    """Within, tickets are worked out as if this were in force: what follows is known before anything is written."""
    token = _meant.set(adoption)
    try:
        yield
    finally:
        _meant.reset(token)
