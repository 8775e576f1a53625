"""Results as plain data, in the units of the input: flat and fold.

The keys are those of the open files; ``docs/part-file.md`` lists them.
"""

from ..checks.rules import check_part
from ..errors import Refusal
from ..part import Part
from ..sheet import Folded, fold

_EDGE = {"x": "front", "y": "left"}
"""The edge along which a line's place is measured."""


def flat_result(part: Part) -> dict:
    """The flat pattern of a part."""
    flat, per = part.flat, part.per_unit

    def points(edge):
        return [[x / per, y / per] for x, y in edge]

    length, width = flat.size
    return {
        "format": "dorvan-flat", "version": 1, "units": part.units,
        "blank": {"length": length / per, "width": width / per,
                  "area": flat.area / per ** 2, "mass_kg": part.mass_kg},
        "outline": points(flat.outline),
        "holes": [points(h.outline()) if h.is_slot or h.ring else
                  {"centre": points([h.centre])[0], "diameter": h.diameter / per} for h in flat.holes],
        "bends": [{
            "id": b.bend.id, "line": points(b.line), "angle": b.bend.angle,
            "direction": b.bend.direction, "inside_radius": b.bend.figures.inside_radius / per,
            "allowance": b.bend.figures.allowance / per, "deduction": b.bend.figures.deduction / per,
            "tangents": [points(t) for t in b.tangents],
        } for b in flat.bends],
        "marks": [{"edge": _EDGE[b.at[0]] if not part.shape.is_strip else "start", "at": b.at[1] / per,
                   "bend": b.bend.id, "line": "centre"} for b in flat.bends if b.at],
        "notices": [n.as_dict() for n in check_part(part)],
    } | ({"development": told} if (told := part.shape.development(per)) else {})


def fold_result(part: Part, made: list[str] | None = None) -> dict:
    """The part folded; with ``made``, only those bends made."""
    if made is not None:
        for name in made:
            if name not in part.sheet.bend:
                raise Refusal("made", f"there is no bend {name[:20]}; there are "
                                      + (", ".join(part.sheet.bend) or "none"))
    folded: Folded = fold(part.sheet, made, flat=part.flat)
    per = part.per_unit
    return {
        "format": "dorvan-fold", "version": 1, "units": part.units,
        "faces": [{"id": f.id, "corners": (f.corners / per).tolist(), "normal": f.normal.tolist()}
                  for f in folded.faces],
        "bends": [{"id": b.id, "angle": b.angle, "made": b.angle > 0,
                   "tangents": [(b.arc[0] / per).tolist(), (b.arc[-1] / per).tolist()]}
                  for b in folded.bends],
    }
