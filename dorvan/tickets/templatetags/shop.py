"""How figures are set in type: lengths in the reader's units, fractions, workings."""

from functools import lru_cache

from django import template
from django.template.defaultfilters import floatformat
from django.template.loader import render_to_string
from django.utils.html import format_html
from django.utils.safestring import mark_safe

from bendcore.said import in_units
from bendcore.stock import called
from bendcore.units import MM_PER, PLACES, on_tape, read_off, show_length

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
def holes_in(count):
    """How many holes there are, in words."""
    return {0: "no holes", 1: "1 hole"}.get(count, f"{count} holes")


@register.filter
def metal(name):
    """A metal as people say it."""
    return called(name)


@register.filter
def lead(mm, units):
    """A length without its unit, as its reader looks for it first: on his tape, else in decimals."""
    return "–" if mm is None else _unbroken(on_tape(mm, units) or show_length(mm, units))


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


@register.simple_tag
@lru_cache(maxsize=2048)
def bend_buttons(name, direction, index, sign, words):
    """What can be done with a bend: turned the other way, or taken out."""
    way, other = {"up": ("▲ up", "down"), "down": ("▼ down", "up")}[direction]
    return format_html(
        '<button type="button" data-field="shape.bends[{}].direction" value="{}" class="small" '
        'aria-label="{} bends {}: turn it the other way">{}</button><button type="button" data-action="remove" '
        'data-field="shape.bends[{}]" class="small" aria-label="{}">{}</button>',
        index, other, name, direction, way, index, words.format(name), sign)


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
def hand(context, name, title, said, *fields):
    """The head of what can be taken in hand: one thing's fields on the bench sheet, the others put away meanwhile.
    It is open where one of its ``fields`` has an error."""
    return format_html('<details class="hand" data-hand="{}"{}><summary><span>{}</span> <small>{}</small>'
                       '<i aria-hidden="true">back to the whole</i></summary>', name,
                       mark_safe(" open") if _error_of(context, *fields) else "", title, said)


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
