"""How figures are set in type: lengths in the reader's units, fractions, workings."""

from django import template
from django.utils.html import format_html

from bendcore.units import MM_PER, show_length, to_fraction

register = template.Library()
MARKS = {"stop": "■", "caution": "▲", "note": "●"}


@register.filter
def size(mm, units):
    """A length with its unit; inches also as the nearest 1/32 with what is left over."""
    if mm is None:
        return "–"
    if units == "in":
        return format_html('{}<u>in</u> <span class="tape">{}</span>', show_length(mm, units), to_fraction(mm))
    return format_html("{}<u>mm</u>", show_length(mm, units))


@register.filter
def plain(mm, units):
    """A length without its unit."""
    return "–" if mm is None else show_length(mm, units)


@register.filter
def from_file(value, part):
    """A length in the part file's units → mm."""
    return None if value is None else value * MM_PER[part.units]


@register.filter
def mark(severity):
    return MARKS[severity]


@register.inclusion_tag("tickets/_error.html", takes_context=True)
def error_at(context, *fields):
    """The error that belongs to one of these fields, if there is one."""
    error = context.get("error")
    here = error and any(f in (error["field"], error.get("asked")) or error["field"].startswith(f + ".") or
                         error["field"].startswith(f + "[") for f in fields)
    return {"error": error if here else None}
