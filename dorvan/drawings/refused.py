"""A drawing or a solid that could not be read, shown again with the places that are wrong ringed."""

from bendcore.formats.drawing import Unreadable
from bendcore.said import at

from .fit import Fit


def refused_view(refusal: Unreadable, width=760, height=460) -> dict | None:
    """Paths of what was read and a numbered ring at each place; None when there is nothing to show."""
    points = [p for line in refusal.lines for p in line]
    if not points:
        return None
    fit = Fit.into([*points, *refusal.places], 40, 40, width - 80, height - 80)
    rings = []
    for n, place in enumerate(refusal.places, 1):
        x, y = fit(place)
        rings.append({"n": n, "x": x, "y": y, "at": refusal.told[n - 1] if refusal.told else at(place)})
    lines = "".join(fit.path(line).removesuffix("Z") for line in refusal.lines)
    return {"width": width, "height": height, "lines": lines, "rings": rings}
