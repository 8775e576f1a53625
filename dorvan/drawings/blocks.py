"""Both blocks of a rib over each other as they are pinned, as a picture for its card."""

from bendcore.layout.blocks import Block

from .fit import Fit

WIDTH, HEIGHT = 760, 300


def blocks_view(form: Block, backing: Block) -> dict:
    """Paths of the form block's face on the web and its far face, of the backing block, of pins, lips and the arrow."""
    fit = Fit.into([*form.outline, *form.under], 20, 20, WIDTH - 40, HEIGHT - 40)
    (x, y0), (_, y1) = fit(form.arrow[0]), fit(form.arrow[1])
    head = (y0 - y1) / 6
    return {"width": WIDTH, "height": HEIGHT, "form": fit.path(form.outline),
            "under": fit.path(form.under) if form.under else "", "backing": fit.path(backing.outline),
            "pins": "".join(fit.path(pin.outline(12)) for pin in form.pins),
            "lips": "".join(fit.path(hole.outline(12)) for hole in (*form.openings, *backing.openings)),
            "arrow": f"M{x:g},{y0:g}V{y1:g}l{-head:.1f},{head:.1f}M{x:g},{y1:g}l{head:.1f},{head:.1f}",
            "top": (x + head + 6, (y0 + y1) / 2)}
