"""How figures are set in type: lengths in the reader's units, fractions, workings."""


from django import template
from django.template.defaultfilters import floatformat
from django.utils.html import format_html

from bendcore.errors import Refusal
from bendcore.families import FAMILIES
from bendcore.order.plan import ONE_SETTING
from bendcore.order.proof.gauge import EDGE
from bendcore.quality import spreads
from bendcore.quality.checksheet import TRIED
from bendcore.said import in_units
from bendcore.sheet.model import DOWN, UP
from bendcore.stock import called as metal_called
from bendcore.units import KN_PER, MM_PER, PLACES, on_tape, read_off, show_angle, show_length
from dorvan.drawings.tools import pieces_view

from ..families import PAGES
from ..models.cut import blank_key

register = template.Library()
INCHES = {"mm": ("in", MM_PER["in"]), "mm²": ("in²", MM_PER["in"] ** 2), "kg": ("lb", 0.45359237),
          "kN": ("US tons", KN_PER["ton"]), "kN/m": ("US tons/ft", KN_PER["ton"] / 0.3048), "MPa": ("ksi", 6.894757),
          "l": ("US gal", 3.785412), "m²": ("ft²", 0.09290304)}
"""What inch readers read instead, and how many of the metric unit are one."""
MARKS = {"stop": "■", "caution": "▲", "note": "●"}


@register.filter
def size(mm, units):
    """A length with its unit; on a tape its fraction first, then the decimals."""
    mark = None if mm is None else on_tape(mm, units)
    if mark is None:
        return fine(mm, units)
    return format_html('{}<u>in</u> <span class="tape">{}</span>', _unbroken(mark), show_length(mm, units))


def _unbroken(mark) -> str:
    """A fraction that no line breaks apart."""
    return str(mark).replace(" ", "\u00a0")


@register.simple_tag
def to_begin():
    """Families that a part can begin as: their kind, title and icon."""
    return [{"kind": kind, "title": family.title, "icon": PAGES[kind].icon}
            for kind, family in FAMILIES.items() if family.start]


@register.filter
def fine(mm, units):
    """A length that no tape shows (a radius, a thickness, a depth): in decimals with its unit."""
    return "–" if mm is None else format_html("{}<u>{}</u>", show_length(mm, units), units)


@register.simple_tag
def reading(one, value, units):
    """What was measured of a dimension, or is to be."""
    if one.unit == TRIED:
        return "yes" if value else "no"
    return angle(value, units) if one.unit == "°" else size(value, units)


@register.simple_tag
def blanks_cut(ticket):
    """Blanks of a ticket that are cut: ``open`` where it is another part by now and nothing was decided, else
    ``kept``."""
    cut = ticket.blanks_cut
    rows = list(cut.select_related("by", "decided_by")) if cut.exists() else []  # joining two people costs five times
    try:
        now = blank_key(ticket) if rows else ""
    except Refusal:  # as it stands there is no blank: its own page says why
        now = ""
    return {"open": [row for row in rows if row.is_open(now)], "kept": [row for row in rows if not row.is_open(now)]}


@register.filter
def unit_of(one, units):
    """The unit that a reading of a dimension is typed in."""
    return units.degrees if one.unit == "°" else units


@register.simple_tag
def as_read(value, unit, units):
    """A value in mm or degrees as its reader reads it."""
    return angle(value, units) if unit == "°" else size(value, units)


@register.simple_tag
def tolerated(one, units):
    """By how much it may be off; nothing of what is tried."""
    if one.unit == TRIED:
        return ""
    if one.unit == "°":
        return f"± {floatformat(one.tolerance, -2)}°"
    step = getattr(units, "tape", 0)
    if step and one.tolerance < MM_PER["in"] / step / 2:
        return format_html("± {}<small>by caliper</small>", fine(one.tolerance, units))
    return format_html("± {}", fine(one.tolerance, units))


@register.filter
def column(mm, units):
    """A length in a column of them, without its unit: all with as many decimals."""
    return "–" if mm is None else f"{mm / MM_PER[units]:.{PLACES[units]}f}"


@register.filter
def said(text, units):
    """What the core has to say, in the reader's units."""
    return in_units(text, units)


@register.filter
def metal(name):
    """A metal as people say it."""
    return metal_called(name)


@register.filter
def lead(mm, units):
    """A length without its unit, as its reader looks for it first: on his tape, else in decimals."""
    return "–" if mm is None else _unbroken(on_tape(mm, units) or show_length(mm, units))


@register.filter
def angle(degrees, units):
    """A bend angle as its reader measures angles."""
    return "–" if degrees is None else _unbroken(show_angle(degrees, units, 2))


@register.filter
def aim(degrees, units):
    """An angle to aim at, to the tenth of a degree."""
    return _unbroken(show_angle(degrees, units, 1, fixed=True))


@register.filter
def called(name, part):
    """A face or bend as people call it."""
    return part.shape.called(name)


@register.filter
def gauged(gauge, part):
    """What the stop touches, as people call it."""
    called = part.shape.called(gauge.of)
    return f"edge of {called}" if gauge.kind == EDGE else f"face of {called}"


@register.filter
def lies(part):
    """How the blank lies in a drawing of it: which side is up, and where the cut's burr then is."""
    stock = part.stock
    side = f"{stock.good_called} {'up ○' if stock.good == UP else 'down ●'}" if stock.good else "either side good"
    return f"{side}, burr {'above' if stock.good == DOWN else 'below'}"


@register.filter
def pieces_row(step, part):
    """Fingers or punch pieces of a step drawn along its bend; None where there are none."""
    return pieces_view(step, part)


@register.filter
def placed(notice, part):
    """Where a notice is, as people call it."""
    words = notice.placed(part.shape.called, [bend.id for bend in part.sheet.bends])
    return words[:1].upper() + words[1:]


@register.filter
def plain(mm, units):
    """A length without its unit."""
    return "–" if mm is None else show_length(mm, units)


@register.simple_tag
def amount(value, unit, units, places=3):
    """A mass, force, stress, volume or area, given in this metric unit, as its reader knows it.

    >>> str(amount(8.896443, "kN", "in", 1)), str(amount(2.0, "kg", "mm", 1))
    ('1.00<u>US tons</u>', '2.0<u>kg</u>')
    """
    if value is None:
        return "–"
    own, per = INCHES[unit] if units == "in" else (unit, 1.0)
    more = 1 if units == "in" and per > 2 else 0  # a larger unit wants a place more
    return format_html("{}<u>{}</u>", f"{value / per:.{places + more}f}", own)


@register.filter
def area(mm2, units="mm"):
    """An area of metal."""
    return amount(mm2 / 1e6, "m²", units)


@register.filter
def plus(number, more):
    """A sum of two numbers of the drawing."""
    return number + more


@register.filter
def mark(severity):
    return MARKS[severity]


@register.filter
def value(figure):
    """A figure as it is kept: a number without needless noughts, a word as it is."""
    return f"{figure:g}" if isinstance(figure, (int, float)) else figure


@register.filter
def signed(mm, units):
    """A difference in words, never a bare signed number: ``0.3 mm longer``."""
    if abs(mm) < 0.005:
        return "the same"
    return f"{show_length(abs(mm), units)} {units} {'longer' if mm > 0 else 'shorter'}"


@register.filter
def positive(number):
    """How much, whichever way."""
    return abs(number)


@register.filter
def off_angle(degrees):
    """How far an angle is off, in words."""
    return f"{abs(degrees):.1f}° {'further' if degrees > 0 else 'less'}" if abs(degrees) >= 0.05 else "as wanted"


@register.filter
def within(items, key):
    """The entry of a mapping, for keys that are figures' titles."""
    return items.get(key)


@register.simple_tag(takes_context=True)
def worked(context, value, unit, metric=False):
    """A figure of a working: lengths in the reader's units, unless its formula holds only for mm."""
    if context["user"].units == "in" and unit in INCHES and not metric:
        unit, per = INCHES[unit]
        value /= per
    return f"{floatformat(value, -4)} {unit}"


@register.filter
def override_of(ticket, notice):
    """The override that lets this stop pass as it stands, or None."""
    return ticket.override_of(notice)


@register.filter
def percent(share):
    return f"{100 * share:.0f} %"


@register.filter
def likely(chance):
    """How sure something is; nothing is ever certain."""
    return "over 99 %" if chance > 0.99 else percent(chance)


@register.filter
def depth(mm, units):
    """A depth that is set, with a place more than a length."""
    return "–" if mm is None else format_html("{}<u>{}</u>", show_length(mm, units, PLACES[units] + 1), units)


SPENT_ON = {"stroke": "Strokes", "turn": "Turned round", "flip": "Turned over", "stop_move": "Stop moved",
            "tool_change": "Tools changed", "scribed_line": "Lines scribed", "finger_change": "Fingers changed",
            "swing": "Free sides swung up", "move": "Gone to another brake"}


@register.filter
def spent_on(cost):
    """What the seconds of an order go on, from the name of the cost."""
    return SPENT_ON[cost]


@register.filter
def wished(name, press):
    """A wish for an order in words."""
    if name == ONE_SETTING:
        return f"One setting of {'tools' if press else 'the clamp'} for all bends"
    return "The smaller side at the stop, at every bend" if press else "The larger side clamped, at every bend"


@register.filter
def less(number, other):
    return number - other


@register.filter
def source(name):
    """A source of error in words."""
    return spreads.WORDS[name]


@register.filter
def cost(value):
    """A plain number as it is typed."""
    return f"{value:g}" if isinstance(value, int | float) else value


@register.filter
def ratio(proof):
    """Inside radius over thickness of a proof bend."""
    return f"{proof.inside_radius / proof.thickness:.2f}"


@register.filter
def words(text):
    return text.split()


@register.filter
def odd_ones(reasons):
    """How many samples are proposed as outliers."""
    return sum(1 for reason in reasons if reason)


@register.filter
def round(mm, units):
    """A large size as people say it: a fraction on a tape where it lies on one, else without needless decimals."""
    mark = on_tape(mm, units) if units == "in" else None
    return _unbroken(mark) if mark and not mark.left_over else f"{mm / MM_PER[units]:.5g}"


@register.filter
def tape(mm, units):
    """A length as it is read off: the nearest 1/32 in or half millimetre, with what is left over."""
    return read_off(mm, units)


@register.filter
def deeper(degrees, degree):
    """What so many degrees are worth in depth, as learnt here or computed, mm."""
    learnt = degree["learnt"]
    return abs(degrees) * (learnt.per_degree if learnt else degree["computed"])


@register.filter
def about_middle(piece, units):
    """Where a piece of a tool stands, from the middle of the machine."""
    def side(mm):
        return f"{show_length(abs(mm), units)} {'left' if mm < 0 else 'right'}"

    return f"{side(piece.start)} to {side(piece.end)}"
