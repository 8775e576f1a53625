"""The brake from the front: blocks, pieces and dimensions, on the page."""

from bendcore.floor.front import Front, Piece
from bendcore.units import show_length

from .fit import Fit, spread

WIDTH, SIDE, TOP, LINE, FOOT = 860, 14, 28, 22, 58
"""Of the picture, its margins, of a row of labels, and what stands below it all, pixels."""
MOST_HIGH = 190.0
BESIDE, LEAST = 160.0, 0.4
"""So much beside the pieces is always seen, mm, and at least so much of the machine."""
LETTER = 6.6
"""Wide as a letter, pixels."""
THICK = 3.0
"""A sheet is drawn no thinner, pixels."""


def front_view(seen: Front, thickness: float, units: str) -> dict:
    """Rectangles of machine, frames, stops and pieces. A piece's length stands in it where it fits, else beyond the
    machine, in rows where labels would meet."""
    scale, reach = _scaled(seen)
    low, high = -reach, reach
    shown = [(max(b.x0, low), b.z0, min(b.x1, high), b.z1, b) for b in seen.blocks if b.x1 > low and b.x0 < high]
    bottom, top = min(row[1] for row in shown), max(row[3] for row in shown)
    labels = [_label(piece, scale, units) for piece in seen.pieces]
    above, below = (_rows([label for label in labels if label["below"] is side]) for side in (False, True))
    fit = Fit(scale, WIDTH / 2, TOP + LINE * above + scale * top)
    (middle, roof), (_, floor) = fit((0, top)), fit((0, bottom))

    def box(x0, z0, x1, z1, least=0.0):
        (left, lower), (right, upper) = fit((x0, z0)), fit((x1, z1))
        high = max(lower - upper, least)
        return {"x": left, "y": round(lower - high, 1), "w": round(right - left, 1), "h": round(high, 1)}

    def piece_of(piece, label):
        drawn = box(piece.at.start, piece.z0, piece.at.end, piece.z1)
        at = drawn["y"] + drawn["h"] / 2 + 5
        if "row" in label:
            at = floor + LINE * label["row"] + 16 if label["below"] else roof - LINE * label["row"] - 6
        return drawn | label | {"id": f"{piece.group}-{piece.n}", "piece": piece, "at": round(at, 1),
                                "from": drawn["y"] + drawn["h"] if label["below"] else drawn["y"]}

    height = round(floor + LINE * below + FOOT, 1)
    return {"first": seen.first, "tools": seen.tools, "width": WIDTH, "height": height,
            "middle": middle, "roof": TOP - 8, "floor": floor,
            "blocks": [box(*row[:4]) | {"kind": row[4].kind, "name": row[4].name} for row in shown],
            "pieces": [piece_of(*row) for row in zip(seen.pieces, labels, strict=True)],
            "sheet": box(seen.blank[0], 0.0, seen.blank[1], thickness, THICK),
            "bend": box(seen.bend[0], 0.0, seen.bend[1], thickness, THICK),
            "long": show_length(seen.bend[1] - seen.bend[0], units), "bar": fit.bar(units) | {"y": height - 12},
            "datum": _datum(seen, fit, low, height - 34, units)}


def _scaled(seen: Front) -> tuple[float, float]:
    """Pixels a mm, and how far is seen to either side of the middle: the tools and what is beside them, and as much
    more of the machine as there is room for."""
    half = seen.length / 2
    edge = max([half, *(block.x1 for block in seen.blocks)])
    ends = [*seen.blank, *(x for piece in seen.pieces for x in (piece.at.start, piece.at.end))]
    reach = min(max(max(map(abs, ends)) + BESIDE, LEAST * half), edge)
    tall = max(block.z1 for block in seen.blocks) - min(block.z0 for block in seen.blocks)
    scale = min((WIDTH - 2 * SIDE) / (2 * reach), MOST_HIGH / tall)
    return scale, min((WIDTH - 2 * SIDE) / (2 * scale), edge)


def _label(piece: Piece, scale: float, units: str) -> dict:
    words = show_length(piece.at.length, units)
    wide = LETTER * (len(words) + 1)
    return {"words": words, "below": piece.z1 <= 0, "x_label": round(WIDTH / 2 + scale * (
        piece.at.start + piece.at.end) / 2, 1), "wide": wide, "inside": wide <= scale * piece.at.length}


def _rows(labels: list[dict]) -> int:
    """Give each label that does not fit into its piece a row; how many rows there are."""
    outside = [{"x": label["x_label"], "w": label["wide"], "of": label} for label in labels if not label["inside"]]
    for one in spread(outside, 4):
        one["of"]["row"] = one["row"]
    return 1 + max((one["row"] for one in outside), default=-1)


def _datum(seen: Front, fit: Fit, low: float, y: float, units: str) -> dict | None:
    """From the machine's left end to the first piece."""
    if seen.datum is None:
        return None
    end = -seen.length / 2
    return {"x0": fit((max(low, end), 0))[0], "x1": fit((seen.datum + end, 0))[0], "y": y,
            "words": show_length(seen.datum, units), "is_cut": low > end}
