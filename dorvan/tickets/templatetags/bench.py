"""The bench sheet and what is picked on its drawing: inputs, rows, things in hand.

Written here rather than in templates of their own, and kept: a page has up to two hundred of each, of which an edit
changes few.
"""

from functools import lru_cache
from html import escape
from itertools import groupby

from django import template
from django.template.loader import render_to_string
from django.utils.html import format_html
from django.utils.safestring import mark_safe

from ..families.rows import ADD, ARROWS, COPY, ENTRY, PICK, TAKE, TOGGLE, TURN
from ..gate import shut
from ..models.history import undo_redo

register = template.Library()


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


@register.inclusion_tag("tickets/_undo.html")
def undo_and_redo(ticket):
    """What undo takes ``back``: the last change, and the pieces that are drawn anew with it; whether anything can be
    done again."""
    done, again = undo_redo(ticket)
    followers = [piece.tag for piece in ticket.pieces.all() if piece.role] if done and not ticket.lead_id else []
    return {"ticket": ticket, "again": again, "back": done + (f", also in {', '.join(followers)}" if followers else "")}


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
    more = ' aria-invalid="true" aria-describedby="said"' if invalid else ""
    called = f' aria-label="{escape(full_name)}"' if full_name else ""
    return mark_safe(
        f'<label class="row field"><span>{escape(label)}</span><span class="in"><input data-field="{escape(name)}" '
        f'data-next{more}{called} value="{escape(str(value))}" autocomplete="off">'
        + (f"<u>{escape(unit)}</u>" if unit else "") + "</span></label>")


@register.simple_tag(takes_context=True)
def rows(context, rows):
    """Rows of the bench sheet, one under the other."""
    return _rows(rows) if not context.get("error") else _written(rows, lambda row: field(context, *_entry(row)))


@lru_cache(maxsize=4096)
def _rows(rows):
    return _written(rows, lambda row: _input(*_entry(row)))


def _entry(row):
    return row.field, row.label, row.value, row.unit, row.name


def _written(rows, entry):
    """The rows, what can be added together in one of them; ``entry`` writes an input."""
    found = []
    for adds, some in groupby(rows, lambda row: row.kind == ADD and not row.index):
        if adds:
            found.append(format_html('<div class="row adds">{}</div>', mark_safe("".join(map(_add, some)))))
            continue
        for row in some:
            html = entry(row) if row.kind == ENTRY else _row(row)
            found.append(f'<div class="drawn">{html}</div>' if row.drawn else html)
    return mark_safe("".join(found))


@lru_cache(maxsize=1024)
def _add(row):
    own = "" if "[" in row.field else format_html(' id="add-{}"', row.field.rpartition(".")[2])
    return format_html('<button type="button" data-action="add" data-field="{}"{} class="small" '
                       'aria-label="{}">{}</button>', row.field, own, row.name, row.label)


@lru_cache(maxsize=4096)
def _row(row):
    """A row that is no input: a choice, a turn, what comes and goes."""
    return format_html('<div class="row"><span>{}</span>{}</div>', row.label, WRITTEN[row.kind](row))


def _picked(row):
    options = "".join(format_html('<option value="{}"{}>{}</option>', o, mark_safe(" selected") if o == row.value
                                  else "", o or "not said") for o in row.options)
    return format_html('<select data-field="{}" aria-label="{}">{}</select>', row.field, row.name, mark_safe(options))


def _turned(row):
    other = next(o for o in row.options if o != row.value)
    name = f"{row.name}: {row.value}, turn it {other}" if row.value else row.name
    return format_html('<button type="button" data-field="{}" value="{}" class="small" aria-label="{}">{}</button>',
                       row.field, other, name, ARROWS.get(row.value, row.value) or "Do it")


def _toggled(row):
    verb = "Take off" if row.value else "Add"
    return format_html('<button type="button" data-action="toggle" data-field="{}" class="small" '
                       'aria-label="{}: {}">{}</button>', row.field, verb, row.name, verb)


def _taken(row):
    return format_html('<button type="button" data-action="remove" data-field="{}" class="small" '
                       'aria-label="Take out: {}">Take out</button>', row.field, row.name)


def _copied(row):
    return format_html('<button type="button" data-action="copy" data-field="{}" class="small" '
                       'aria-label="Copy: {}">Copy</button>', row.field, row.name)


def _added(row):
    return format_html('<button type="button" data-action="add" data-field="{}" data-index="{}" class="small" '
                       'aria-label="{}">Add</button>', row.field, row.index, row.name)


WRITTEN = {PICK: _picked, TURN: _turned, TOGGLE: _toggled, TAKE: _taken, ADD: _added, COPY: _copied}


@register.simple_tag
def picks(picks):
    """What can be tapped on a drawing."""
    return mark_safe("".join(_pick(pick) for pick in picks or ()))


@lru_cache(maxsize=4096)
def _pick(pick):
    goes, does = (f' data-focus="{escape(pick.field)}"', "To the size of") if pick.field else ("", "Take in hand")
    return (f'<path class="pick-{pick.kind}" d="{pick.d}" tabindex="0" role="button" data-pick="{escape(pick.name)}"'
            f'{goes} aria-label="{does}: {escape(pick.title)}"/>')


@register.simple_tag
def named(names):
    """What things of a drawing are called, where they stand."""
    return mark_safe("".join(
        f'<text class="edge-no" x="{one["x"]}" y="{one["y"]}" dy="5" text-anchor="middle">{escape(one["text"])}</text>'
        for one in names or ()))


@register.simple_tag
def words_along(bends):
    """What is written along bend lines."""
    return mark_safe("".join(
        f'<text class="edge-no" transform="{bend["place"]}" dy="{bend["dy"]}">{escape(bend["text"])}</text>'
        for bend in bends))


@register.simple_tag(takes_context=True)
def hands(context, things):
    """All that can be taken in hand but the whole: one thing's rows on the bench sheet, the others put away meanwhile.
    Written here and kept, as inputs are: a part has up to two hundred, of which an edit changes few."""
    if context.get("error"):
        return mark_safe("".join(_hand_told(context, thing) for thing in things[1:]))
    known = context.get("known", {})
    return mark_safe("".join(_same(thing.name) if known.get(thing.name) == thing else _hand(thing)
                             for thing in things[1:]))


def _same(name):
    """One that the page shows already, as it is: it stays."""
    return f'<details class="hand" id="hand-{escape(name)}" data-same></details>'


@lru_cache(maxsize=4096)
def _hand(thing):
    return _folded(thing, _rows(thing.common), _rows(thing.rare), "")


def _hand_told(context, thing):
    """A thing while something was refused: open where the error belongs to it."""
    is_open = " open" if context["error"].get("thing") == thing.name else ""
    return _folded(thing, rows(context, thing.common), rows(context, thing.rare), is_open)


def _folded(thing, common, rare, is_open):
    more = f'<details class="rare"><summary>More</summary>{rare}</details>' if rare else ""
    hidden = "" if thing.listed else " data-unlisted"
    name = escape(thing.name)
    return (f'<details class="hand" id="hand-{name}" data-hand="{name}"{hidden}{is_open}><summary>'
            f"<span>{escape(thing.title)}</span> <small>{escape(thing.said)}</small>"
            f'<i aria-hidden="true">back to the whole</i></summary>{common}{more}</details>')


@register.simple_tag
def held(ticket):
    """The points that shut the ticket's gate."""
    return shut(ticket)
