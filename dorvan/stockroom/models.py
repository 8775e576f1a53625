"""What lies in the stockroom: materials as this shop knows them, and lots of sheet."""

from django.conf import settings
from django.db import models

from bendcore.errors import Refusal
from bendcore.stock import VALUES, Material, material, materials

from .memo import held

UNITS = {"density_kg_m3": "kg/m³", "yield_mpa": "MPa", "tensile_mpa": "MPa", "modulus_gpa": "GPa",
         "natural_radius_factor": "× V", "min_radius_over_t_across": "× t", "min_radius_over_t_along": "× t",
         "springback_at_90_deg": "°", "handbook_group": "", "gauge_table": "", "edge_stretch": "", "edge_shrink": ""}
TITLES = {"density_kg_m3": "Density", "yield_mpa": "Yield", "tensile_mpa": "Tensile", "modulus_gpa": "Modulus",
          "natural_radius_factor": "Radius of V", "min_radius_over_t_across": "Least radius across the grain",
          "min_radius_over_t_along": "Least radius along the grain", "springback_at_90_deg": "Springback at 90°",
          "handbook_group": "Hardness group", "gauge_table": "Gauge table", "edge_stretch": "An edge stretches by",
          "edge_shrink": "An edge shrinks by"}
WORDS = ("handbook_group", "gauge_table")
START = "start value of the program"


class MaterialValue(models.Model):
    """One value the shop puts in place of a start value. Never changed: the newest holds."""

    class Status(models.TextChoices):
        START = "start", "start"
        MEASURED = "measured", "measured"

    material = models.CharField(max_length=60)
    key = models.CharField(max_length=40)
    value = models.JSONField()
    status = models.CharField(max_length=10, choices=Status.choices)
    source = models.CharField(max_length=200)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, models.PROTECT, related_name="+")
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["id"]
        indexes = [models.Index(fields=["material", "key"])]

    @classmethod
    def of(cls, name: str) -> dict:
        """The shop's own values of one material: key → value."""
        return dict(cls._own().get(name, {}))

    @classmethod
    def _own(cls) -> dict[str, dict]:
        """Those of all, looked up once a request."""
        known = held.get()
        if known is not None and "own" in known:
            return known["own"]
        own: dict[str, dict] = {}
        for name, key, value in cls.objects.values_list("material", "key", "value"):
            own.setdefault(name, {})[key] = value
        if known is not None:
            known["own"] = own
        return own

    @classmethod
    def known(cls) -> dict[str, Material]:
        """Every material the shop can name, its own values in place."""
        own = cls._own()
        names = [*materials(), *sorted(set(own) - set(materials()))]
        return {name: material(name, values=own.get(name)) for name in names}

    @classmethod
    def table(cls, name: str) -> list[dict]:
        """Every value of a material with its unit, status, source and history."""
        rows = list(cls.objects.filter(material=name).select_related("by"))
        alloy = material(name, values={r.key: r.value for r in rows})
        book = materials().get(name)
        table = []
        for key in VALUES:
            own = [r for r in rows if r.key == key]
            table.append({"key": key, "title": TITLES[key], "unit": UNITS[key], "value": getattr(alloy, key),
                          "status": own[-1].status if own else "start", "source": own[-1].source if own else START,
                          "start": getattr(book, key) if book else None, "history": own[::-1]})
        return table


class Lot(models.Model):
    """Sheets that came together, or what was left of one. ``thickness`` is the nominal, mm."""

    class Grain(models.TextChoices):
        LENGTH = "length", "along the length"
        WIDTH = "width", "along the width"
        UNKNOWN = "unknown", "not known"

    class Surface(models.TextChoices):
        BARE = "bare", "bare"
        FILM = "film", "film on one side"
        GALVANISED = "galvanised", "galvanised"
        PAINTED = "painted", "painted on one side"
        BRUSHED = "brushed", "brushed on one side"

    code = models.CharField(max_length=20, unique=True)
    material = models.CharField(max_length=60)
    thickness = models.FloatField()
    readings = models.JSONField(default=list, blank=True, help_text="Caliper readings, mm")
    supplier = models.CharField(max_length=80, blank=True)
    length = models.FloatField()
    width = models.FloatField()
    count = models.PositiveIntegerField(default=1)
    grain = models.CharField(max_length=10, choices=Grain.choices, default=Grain.LENGTH)
    surface = models.CharField(max_length=12, choices=Surface.choices, default=Surface.BARE)
    cut_from = models.ForeignKey("self", models.PROTECT, null=True, blank=True, related_name="leftovers")
    note = models.CharField(max_length=200, blank=True)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, models.PROTECT, related_name="+")
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["-id"]

    def __str__(self) -> str:
        return self.code

    def moved(self, change: int, why: str, by) -> None:
        """So many sheets come (or go, less than 0), kept in the stockroom's own ledger; refuses to give what is not
        there. Within a transaction of the caller's."""
        taken = Lot.objects.filter(pk=self.pk, count__gte=-change).update(count=models.F("count") + change)
        if not taken:
            raise Refusal("count", f"has no sheet of {self.code} left")
        StockMove.objects.create(lot=self, change=change, why=why[:120], by=by)

    def code_under(self) -> str:
        """The next free code for what is left of it, shortened in its own part where that is long."""
        n = self.leftovers.count() + 1
        while Lot.objects.filter(code=(code := f"{self.code[:19 - len(str(n))]}/{n}")).exists():
            n += 1
        return code

    @property
    def measured(self) -> float | None:
        """Mean of the caliper readings, mm."""
        return sum(self.readings) / len(self.readings) if self.readings else None

    @property
    def best(self) -> float:
        """The thickness to reckon with: measured when it is, else the nominal."""
        return self.measured or self.thickness

    @property
    def spread(self) -> float | None:
        return max(self.readings) - min(self.readings) if self.readings else None


class StockMove(models.Model):
    """Sheets of a lot that came or went, and why. Only added to: a lot's count is the sum of its moves."""

    lot = models.ForeignKey(Lot, models.PROTECT, related_name="moves")
    change = models.IntegerField()
    why = models.CharField(max_length=120)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, models.PROTECT, related_name="+")
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["id"]


def put_in(lot: Lot, why: str) -> Lot:
    """A new lot with its sheets on the stockroom's ledger. Within a transaction of the caller's."""
    count, lot.count = lot.count, 0
    lot.save()
    if count:
        lot.moved(count, why, lot.by)
        lot.count = count
    return lot
