"""Lengths and angles as people write them.

Reads decimals, fractions, mixed numbers, feet and inches, with or without a
unit; writes millimetres, decimal inches, or the nearest fraction of an inch with
the sign of what is left over. Sheet thickness may also be a gauge number, which
only means something together with a material (:mod:`bendcore.stock`).
"""

import math
import re
from collections.abc import Callable
from dataclasses import dataclass

from .errors import Refusal

MM_PER = {"mm": 1.0, "in": 25.4}
PLACES = {"mm": 2, "in": 3}
"""Decimals of a length as it is shown."""
LONGEST = 100_000.0
"""No length in this trade is longer than 100 m; more is a slip of the keyboard."""

_NUMBER = r"(?:\d{1,12}(?:[.,]\d{0,20})?|[.,]\d{1,20})"
_FEET, _UNIT, _OVER = r"(?:'|′|ft\b)", r'(?:(?:mm|cm|m|inches|inch|in)\b|"|″)', "[/⁄]"
_LENGTH = re.compile(
    rf"""^\s*(?P<sign>[-+−])?\s*
    (?:(?P<feet>{_NUMBER})\s*{_FEET}\s*-?\s*)?
    (?:(?P<decimal>{_NUMBER})
      |(?:(?P<whole>\d{{1,9}})(?:\s+|\s*-\s*))?(?P<num>\d{{1,6}})\s*{_OVER}\s*(?P<den>\d{{1,6}}))?
    \s*(?P<unit>{_UNIT})?\s*$""",
    re.VERBOSE | re.IGNORECASE,
)
_AMOUNT = rf"(?:\d{{1,9}}[ -]\d{{1,6}}{_OVER}\d{{1,6}}|\d{{1,6}}{_OVER}\d{{1,6}}|{_NUMBER})"
WITHIN = re.compile(rf"(?:(?P<feet>{_NUMBER}\s*{_FEET}(?:(?:-|\s*){_AMOUNT})?)|{_AMOUNT})\s*(?P<unit>{_UNIT}|°)?",
                    re.IGNORECASE)
"""A size at the beginning of a text that goes on: as :func:`read_length` reads it, but without a sign, and a hyphen
with spaces about it is none of it. ``feet`` and ``unit`` say that it is no bare number."""
_ANGLE = re.compile(
    rf"^\s*(?P<sign>[-+−])?\s*(?P<deg>{_NUMBER})\s*(?:°|deg|degrees)?\s*(?P<inc>incl?\.?|included|open)?(?P<bent>bent)?\s*$",
    re.IGNORECASE,
)
_MM_PER_WORD = {"mm": 1.0, "cm": 10.0, "m": 1000.0}


def read_length(value: object, units: str = "mm", path: str = "") -> float:
    """A length in mm from a number in ``units`` or from a string.

    >>> round(read_length("7 3/8", "in"), 3)
    187.325
    >>> read_length("40 mm", "in")
    40.0

    Raises :class:`Refusal` for anything else, and beyond 100 m.
    """
    if isinstance(value, bool) or value is None:
        raise Refusal(path, "must be a length, such as 40, 7 3/8 or 187.3 mm")
    if isinstance(value, (int, float)):
        mm = _finite(value, path) * MM_PER[units]
    elif isinstance(value, str):
        mm = _parse(value, units, path)
    else:
        raise Refusal(path, "must be a length, such as 40, 7 3/8 or 187.3 mm")
    if abs(mm) > LONGEST:
        raise Refusal(path, "must not be longer than 100 m")
    return mm


def _finite(value, path: str) -> float:
    try:
        number = float(value)
    except OverflowError:
        number = math.inf
    if not math.isfinite(number):
        raise Refusal(path, "must be a finite number")
    return number


def _parse(text: str, units: str, path: str) -> float:
    if len(text) > 60:
        raise Refusal(path, "is too long to be a length")
    if not text.strip():
        raise Refusal(path, "is empty: give a length, such as 40, 7 3/8 or 187.3 mm")
    match = _LENGTH.match(text)
    shown = text.strip()[:24]
    if not match or not any(match[k] for k in ("feet", "decimal", "num")):
        raise Refusal(path, f"“{shown}” is not a length; write 40, 7 3/8 or 187.3 mm")
    if match["num"]:
        if int(match["den"]) == 0:
            raise Refusal(path, f"“{shown}” divides by nothing")
        amount = int(match["whole"] or 0) + int(match["num"]) / int(match["den"])
    else:
        amount = _decimal(match["decimal"] or "0")
    unit = (match["unit"] or "").lower()
    if match["feet"]:
        mm = (_decimal(match["feet"]) * 12 + amount) * MM_PER["in"]
    elif unit:
        mm = amount * _MM_PER_WORD.get(unit, MM_PER["in"])
    else:
        mm = amount * MM_PER[units]
    return -mm if match["sign"] in ("-", "−") else mm


def _decimal(text: str) -> float:
    return float(text.replace(",", "."))


def read_angle(value: object, path: str = "", units: str = "mm") -> float:
    """A bend angle in degrees from a number or a string.

    ``"105 included"`` (or ``"105 open"``) is the angle left between the legs and becomes 75. A text that does not say
    is the bend angle, unless its reader (``units``) measures angles included; ``"75 bent"`` says that it is.

    >>> between = Reading("mm", included=True)
    >>> read_angle("105 incl."), read_angle("105", units=between), read_angle("75 bent", units=between)
    (75.0, 75.0, 75.0)
    """
    if isinstance(value, bool) or not isinstance(value, (int, float, str)):
        raise Refusal(path, "must be an angle in degrees, such as 90")
    if isinstance(value, (int, float)):
        return _finite(value, path)
    match = _ANGLE.match(value) if len(value) <= 40 else None
    if not match:
        raise Refusal(path, f"“{value.strip()[:24]}” is not an angle; write 90, or 105 included")
    degrees = _decimal(match["deg"]) * (-1 if match["sign"] in ("-", "−") else 1)
    return 180 - degrees if match["inc"] or (_between(units) and not match["bent"]) else degrees


KN_PER = {"kn": 1.0, "t": 9.80665, "tonne": 9.80665, "tonnes": 9.80665, "ton": 8.896443, "tons": 8.896443}
"""Units of force on plates: kN, metric tonnes (1000 kg · 9.80665 m/s²), US tons (2000 lb)."""
_FORCE = re.compile(rf"^\s*({_NUMBER})\s*(?:(us)\s+)?(kn|tonnes?|t|tons?)?\s*$", re.IGNORECASE)


def read_force(value: object, units: str = "mm", path: str = "") -> float:
    """A force in kN as a maker's plate says it; a bare number is kN to a reader of mm and US tons to one of inches.

    >>> read_force("60 t"), round(read_force("66 tons"), 1), read_force("600")
    (588.399, 587.2, 600.0)

    Raises :class:`Refusal` for anything else.
    """
    match = _FORCE.match(str(value)[:40])
    if not match:
        raise Refusal(path, f"“{str(value).strip()[:24]}” is not a force; write 600 kN, 60 t or 66 tons")
    unit = (match[3] or ("tons" if units == "in" else "kN")).lower()
    if match[2] and not unit.startswith("ton"):
        raise Refusal(path, "is in US tons or in kN, not both")
    return _decimal(match[1]) * KN_PER[unit]


def kept_angle(text: str, units: str) -> str:
    """An angle as typed, ``included`` named where its reader measures so and did not say.

    >>> kept_angle("105°", Reading("mm", included=True)), kept_angle("105", "mm")
    ('105 included', '105')
    """
    match = _ANGLE.match(text) if _between(units) and len(text) <= 40 else None
    if not match or match["inc"] or match["bent"]:
        return text
    return f"{match['sign'] or ''}{match['deg']} included"


def _between(units: str) -> bool:
    """Whether this reader measures angles between the legs."""
    return getattr(units, "included", False)


def show_angle(degrees: float, units: str, places: int | None = None, fixed: bool = False) -> str:
    """A bend angle as its reader measures angles: bent from flat, or the one included between the legs; to so many
    ``places``, all of them written where ``fixed``.

    >>> show_angle(75.0, "mm"), show_angle(75.0, Reading("mm", included=True)), show_angle(91.0, "mm", 1, fixed=True)
    ('75°', '105° incl.', '91.0°')
    """
    included = _between(units)
    shown = 180 - degrees if included else degrees
    text = f"{shown:.{places}f}" if fixed else f"{shown if places is None else round(shown, places):.10g}"
    return f"{text}° incl." if included else f"{text}°"


@dataclass(frozen=True)
class Fraction:
    """A length on a tape: ``whole numerator/denominator`` and the side left over.

    ``left_over`` is ``"+"`` when the true length is a little more than the mark,
    ``"−"`` when a little less, empty when it is on it.
    """

    whole: int
    numerator: int
    denominator: int
    left_over: str = ""

    def __str__(self) -> str:
        text = str(self.whole) if self.whole or not self.numerator else ""
        if self.numerator:
            text = f"{text} {self.numerator}/{self.denominator}".strip()
        return f"{text} {self.left_over}".strip()


def to_fraction(mm: float, step: int = 32) -> Fraction:
    """The nearest 1/``step`` inch, in lowest terms.

    >>> str(to_fraction(187.325)), str(to_fraction(187.5))
    ('7 3/8', '7 3/8 +')
    """
    inches = mm / MM_PER["in"]
    ticks = round(inches * step)
    rest = inches - ticks / step
    sign = "" if abs(rest) < 0.0005 else "+" if rest > 0 else "−"
    whole, numerator = divmod(ticks, step)
    shared = math.gcd(numerator, step) if numerator else step
    return Fraction(whole, numerator // shared, step // shared, sign)


def to_half_mm(mm: float) -> str:
    """The nearest half millimetre with the side left over: ``"41.5 +"``."""
    mark = round(mm * 2) / 2
    rest = mm - mark
    sign = "" if abs(rest) < 0.025 else "+" if rest > 0 else "−"
    return f"{mark:g} {sign}".strip()


def in_mm(mm: float) -> str:
    """A length as a file in any units may tell it.

    >>> in_mm(0.1 + 0.2)
    '0.3 mm'
    """
    return f"{mm:.10g} mm"


def show_length(mm: float, units: str = "mm", places: int | None = None) -> str:
    """Decimal figure without the unit: to :data:`PLACES`, or as many as told."""
    places = PLACES[units] if places is None else places
    text = f"{mm / MM_PER[units]:.{places}f}"
    whole, _, rest = text.partition(".")
    rest = rest.rstrip("0").ljust(1, "0")
    return f"{whole}.{rest}"


class Reading(str):
    """Units as somebody reads them: ``mm`` or ``in``, the smallest division of his tape (``tape`` 32 is 1/32 in; 0 for
    decimals), and whether his angles are the ones ``included`` between the legs.

    >>> Reading("in", 16) == "in", Reading("in", 16).tape, Reading("mm").tape
    (True, 16, 0)
    """

    tape: int
    included: bool

    def __new__(cls, units: str, tape: int = 0, included: bool = False) -> "Reading":
        """``mm`` or ``in``, the tape, of which millimetres have none, and how angles are measured."""
        self = super().__new__(cls, units)
        self.tape, self.included = tape if units == "in" else 0, included
        return self

    @property
    def degrees(self) -> str:
        """What stands behind an angle's input."""
        return "° incl." if self.included else "°"

    def __reduce__(self):
        return Reading, (str(self), self.tape, self.included)


def on_tape(mm: float, units: str) -> "Fraction | None":
    """A length as its reader finds it on his tape; None where he reads decimals, or where the tape would show nothing
    of it.

    >>> str(on_tape(200.0, Reading("in", 16))), on_tape(0.03, Reading("in", 16)), on_tape(200.0, Reading("in"))
    ('7 7/8 −', None, None)
    """
    step = getattr(units, "tape", 0)
    found = to_fraction(mm, step) if step else None
    return found if found and (found.whole or found.numerator) else None


def read_off(mm: float, units: str) -> str:
    """A length on the nearest mark of a tape (thirty-seconds, unless the reader's is another) or of a rule's half
    millimetres, with what is left over."""
    return str(to_fraction(mm, getattr(units, "tape", 0) or 32)) if units == "in" else to_half_mm(mm)


def as_typed(mm: float, units: str) -> str:
    """A length as its reader would type it, without a unit: a fraction where it lies on his tape, else decimals.

    >>> as_typed(200.025, Reading("in", 32)), as_typed(200.0, Reading("in", 32)), as_typed(200.0, "mm")
    ('7 7/8', '7.874', '200.0')
    """
    mark = on_tape(mm, units)
    return str(mark) if mark and not mark.left_over else show_length(mm, units)


def writer(units: str) -> Callable[[float], str]:
    """A function that writes a length in mm with its unit: ``writer("in")(25.4) == "1.0 in"``."""
    return lambda mm: f"{show_length(mm, units)} {units}"
