"""How figures are set in type: lengths in the reader's units, fractions, workings."""

from functools import lru_cache

from django import template
from django.template.defaultfilters import floatformat
from django.template.loader import render_to_string
from django.utils.html import format_html
from django.utils.safestring import mark_safe

from bendcore.order.gauge import EDGE
from bendcore.said import in_units
from bendcore.stock import called as metal_called
from bendcore.units import MM_PER, PLACES, on_tape, read_off, show_angle, show_length

from ..families.rows import ARROWS, ENTRY, PICK, TAKE, TOGGLE, TURN

register = template.Library()
INCHES = {"mm": ("in", MM_PER["in"]), "mm²": ("in²", MM_PER["in"] ** 2)}
"""What inch readers read instead, and how many mm are one."""
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


@register.filter
def fine(mm, units):
    """A length that no tape shows (a radius, a thickness, a depth): in decimals with its unit."""
    return "–" if mm is None else format_html("{}<u>{}</u>", show_length(mm, units), units)


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
def edge(end, part):
    """The edge of a strip that goes to the stop, as people call it."""
    return part.shape.edge_called(end)


@register.filter
def gauged(gauge, part):
    """What the stop touches, as people call it."""
    return part.shape.edge_called(gauge.of) if gauge.kind == EDGE else f"face of {gauge.of}"


@register.filter
def placed(notice, part):
    """Where a notice is, as people call it."""
    return notice.placed(part.shape.called)


@register.filter
def plain(mm, units):
    """A length without its unit."""
    return "–" if mm is None else show_length(mm, units)


@register.filter
def area(mm2):
    """An area, always in square metres."""
    return format_html("{}<u>m²</u>", f"{mm2 / 1e6:.3f}")


@register.filter
def plus(number, more):
    """A sum of two numbers of the drawing."""
    return number + more


@register.filter
def mark(severity):
    return MARKS[severity]


def _error_of(context, *fields):
    """The error that belongs to one of these fields, if there is one."""
    error = context.get("error")
    here = error and any(f in (error["field"], error.get("asked")) or error["field"].startswith(f + ".") or
                         error["field"].startswith(f + "[") for f in fields)
    return error if here else None


@register.inclusion_tag("tickets/_error.html", takes_context=True)
def error_at(context, *fields):
    """The error that belongs to one of these fields, if there is one."""
    return _told(context, _error_of(context, *fields))


def _told(context, error) -> dict:
    return {"error": error, "units": context["user"].units}


@register.simple_tag(takes_context=True)
def field(context, name, label, value, unit="", full_name=""):
    """An input of one field of the part, sent when it is changed; the error stands under it. ``full_name``
    says what a short label does not. Written here rather than in a template of its own, and kept: a page
    has up to two hundred, of which an edit changes few."""
    error = context.get("error")
    if not error:
        return _input(name, label, value, unit, full_name)
    told, asked = _error_of(context, name), error.get("asked") == name
    html = _input(name, label, error["value"] if asked else value, unit, full_name, asked)
    return html + render_to_string("tickets/_error.html", _told(context, told)) if told else html


@register.simple_tag(takes_context=True)
def fields(context, entries):
    """An input of every entry, one under the other."""
    return mark_safe("".join(field(context, e["field"], e["label"], e["value"], e.get("unit", ""), e.get("name", ""))
                             for e in entries))


@lru_cache(maxsize=2048)
def _input(name, label, value, unit, full_name, invalid=False):
    """The label lies about its input, so that neither needs an id: htmx compares all ids at each redraw."""
    more = mark_safe(' aria-invalid="true" aria-describedby="said"') if invalid else ""
    if full_name:
        more = format_html('{} aria-label="{}"', more, full_name)
    return format_html(
        '<label class="row field"><span>{}</span><span class="in"><input data-field="{}" data-next{} value="{}" '
        'autocomplete="off">{}</span></label>', label, name, more, value,
        format_html("<u>{}</u>", unit) if unit else "")


@register.simple_tag(takes_context=True)
def rows(context, rows):
    """Rows of the bench sheet, one under the other."""
    return _rows(rows) if not context.get("error") else mark_safe("".join(
        field(context, *row[1:3], row.value, row.unit, row.name) if row.kind == ENTRY else _row(row) for row in rows))


@lru_cache(maxsize=4096)
def _rows(rows):
    return mark_safe("".join(_input(row.field, row.label, row.value, row.unit, row.name) if row.kind == ENTRY
                             else _row(row) for row in rows))


@lru_cache(maxsize=4096)
def _row(row):
    """A row that is no input: a choice, a turn, what comes and goes. Kept, as inputs are."""
    label = format_html('<div class="row"><span>{}</span>', row.label)
    if row.kind == PICK:
        options = "".join(format_html('<option value="{}"{}>{}</option>', o, mark_safe(" selected") if o == row.value
                                      else "", o or "not said") for o in row.options)
        inner = format_html('<select data-field="{}" aria-label="{}">{}</select>', row.field, row.name,
                            mark_safe(options))
    elif row.kind == TURN:
        other = next(o for o in row.options if o != row.value)
        words = ARROWS.get(row.value, row.value) or "Do it"
        name = f"{row.name}: {row.value}, turn it {other}" if row.value else row.name
        inner = format_html('<button type="button" data-field="{}" value="{}" class="small" '
                            'aria-label="{}">{}</button>',
                            row.field, other, name, words)
    elif row.kind == TOGGLE:
        verb = "Take off" if row.value else "Add"
        inner = format_html('<button type="button" data-action="toggle" data-field="{}" class="small" '
                            'aria-label="{}: {}">{}</button>', row.field, verb, row.name, verb)
    elif row.kind == TAKE:
        inner = format_html('<button type="button" data-action="remove" data-field="{}" class="small" '
                            'aria-label="Take out: {}">Take out</button>', row.field, row.name)
    else:
        place = format_html(' data-index="{}"', row.index) if row.index else format_html(
            ' id="add-{}"', row.field.rpartition(".")[2])
        inner = format_html('<button type="button" data-action="add" data-field="{}"{} class="small" '
                            'aria-label="{}">Add</button>', row.field, place, row.name)
    return format_html("{}{}</div>", label, inner)


@register.simple_tag
def picks(picks):
    """What can be tapped on a drawing."""
    return mark_safe("".join(_pick(pick) for pick in picks or ()))


@lru_cache(maxsize=4096)
def _pick(pick):
    goes = format_html(' data-focus="{}"', pick.field) if pick.field else ""
    return format_html('<path class="pick-{}" d="{}" tabindex="0" role="button" data-pick="{}"{} '
                       'aria-label="{}: {}"/>', pick.kind, pick.d, pick.name, goes,
                       "To the size of" if pick.field else "Take in hand", pick.title)


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
def within(items, key):
    """The entry of a mapping, for keys that are figures' titles."""
    return items.get(key)


@register.simple_tag(takes_context=True)
def hands(context, things):
    """All that can be taken in hand but the whole: one thing's rows on the bench sheet, the others put away meanwhile.
    Written here and kept, as inputs are: a part has up to two hundred, of which an edit changes few."""
    error = context.get("error")
    return mark_safe("".join(_hand(thing) if not error else _hand_told(context, thing) for thing in things[1:]))


@lru_cache(maxsize=4096)
def _hand(thing):
    return _folded(thing, _rows(thing.common), _rows(thing.rare), "")


def _hand_told(context, thing):
    """A thing while something was refused: open where the error belongs to it."""
    is_open = mark_safe(" open") if context["error"].get("thing") == thing.name else ""
    return _folded(thing, rows(context, thing.common), rows(context, thing.rare), is_open)


def _folded(thing, common, rare, is_open):
    more = format_html('<details class="rare"><summary>More</summary>{}</details>', rare) if rare else ""
    return format_html('<details class="hand" data-hand="{}"{}{}><summary><span>{}</span> <small>{}</small>'
                       '<i aria-hidden="true">back to the whole</i></summary>{}{}</details>', thing.name,
                       "" if thing.listed else mark_safe(" data-unlisted"), is_open, thing.title, thing.said, common,
                       more)


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
    """A large size as people say it: without needless decimals."""
    return f"{mm / MM_PER[units]:.5g}"


@register.filter
def tape(mm, units):
    """A length as it is read off: the nearest 1/32 in or half millimetre, with what is left over."""
    return read_off(mm, units)
