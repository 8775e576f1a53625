"""Small charts as SVG: K against r/t, what a sample is off by, blanks by school, a proof strip."""

import math
from dataclasses import dataclass

import numpy as np

from bendcore.bending.bend import BendFigures
from bendcore.quality.comparison import Comparison
from bendcore.quality.ledger import Learnt, book_curves

from .fit import Fit

WIDTH, HEIGHT = 560, 330
LEFT, RIGHT, TOP, BOTTOM = 46, 14, 14, 40


@dataclass(frozen=True)
class Axes:
    x0: float
    x1: float
    y0: float
    y1: float

    def __call__(self, x: float, y: float) -> tuple[float, float]:
        return (round(LEFT + (x - self.x0) / (self.x1 - self.x0) * (WIDTH - LEFT - RIGHT), 1),
                round(HEIGHT - BOTTOM - (y - self.y0) / (self.y1 - self.y0) * (HEIGHT - TOP - BOTTOM), 1))


def k_chart(samples, learnt: Learnt | None, adopted, group: str, places: list[dict]) -> dict:
    """K against r/t: the books' curves, each sample with its uncertainty, fit and adoption.

    ``places`` say of each sample its number and whether it is dropped or proposed.
    """
    proofs = [s.proof for s in samples]
    ratios = [p.inside_radius / p.thickness for p in proofs]
    ks = [p.k for p in proofs]
    top = max([0.6, *(k + 0.04 for k in ks if k < 0.95)])
    axes = Axes(0, max([4.0, *(r * 1.1 for r in ratios)]), min([0.2, *(max(k - 0.04, 0.0) for k in ks)]), top)
    curves = []
    for title, points in book_curves(group=group).items():
        seen = [(x, y) for x, y in points if x <= axes.x1 and y >= axes.y0]
        if seen:
            curves.append({"title": title, "d": "M" + "L".join("{:g},{:g}".format(*axes(x, y)) for x, y in seen)})
    for i, curve in enumerate(curves):
        curve["style"] = i
    dots = []
    for proof, ratio, place in zip(proofs, ratios, places, strict=True):
        k = min(max(proof.k, axes.y0), axes.y1)
        x, y = axes(ratio, k)
        dots.append(place | {"x": x, "y": y, "low": axes(ratio, max(k - 2 * proof.u_k, axes.y0))[1],
                             "high": axes(ratio, min(k + 2 * proof.u_k, axes.y1))[1]})
    lines = [{"kind": kind, "y": axes(0, value)[1], "title": f"{words} {value:.3f}"}
             for kind, value, words in (("fit", learnt and learnt.k.value, "fit"),
                                        ("adopted", adopted and adopted.k, "adopted")) if value]
    steps = [v / 20 for v in range(math.ceil(axes.y0 * 20), int(axes.y1 * 20 + 1e-9) + 1)]
    return {"width": WIDTH, "height": HEIGHT, "curves": curves, "dots": dots, "lines": lines,
            "left": LEFT, "right": WIDTH - RIGHT, "bottom": HEIGHT - BOTTOM, "top": TOP,
            "ys": [(f"{v:.2f}", axes(0, v)[1]) for v in steps],
            "xs": [(f"{r:g}", axes(r, axes.y0)[0]) for r in range(int(axes.x1) + 1)],
            "band": _band(axes, learnt)}


def _band(axes, learnt):
    if not learnt:
        return None
    low, high = axes(0, max(learnt.k.low, axes.y0))[1], axes(0, min(learnt.k.high, axes.y1))[1]
    return {"y": high, "height": max(round(low - high, 1), 1)}


def residuals(samples, learnt: Learnt, places: list[dict]) -> list[dict]:
    """How many of its own uncertainties each sample lies off the fit, as a bar from the middle."""
    rows = []
    for sample, place in zip(samples, places, strict=True):
        off = (sample.proof.k - learnt.k.value) / max(math.hypot(sample.proof.u_k, learnt.k.scatter), 1e-9)
        shown = max(-6.0, min(6.0, off))
        rows.append(place | {"off": off, "x": round(100 + min(shown, 0) * 15, 1), "wide": round(abs(shown) * 15, 1)})
    return rows


def school_bars(compared: Comparison) -> dict[str, dict]:
    """Each school's blank against the ticket's own, as a bar from the middle; by title."""
    reach = max([abs(r.longer) for r in compared.speaking] + [1e-6])
    bars = {}
    for row in compared.speaking:
        wide = round(54 * abs(row.longer) / reach, 1)
        bars[row.title] = {"x": 60 if row.longer >= 0 else round(60 - wide, 1), "wide": max(wide, 1)}
    return bars


def strip_picture(bent: BendFigures, strip: float, leg_a: float, leg_b: float, line: float) -> dict:
    """The strip flat with its line, and bent with the legs to be measured."""
    angle, r, t = math.radians(min(bent.angle, 179.9)), bent.inside_radius, bent.thickness
    flat_a, flat_b = leg_a - bent.outside_setback, leg_b - bent.outside_setback
    arc = np.linspace(0, angle, 24)
    inner = [(0.0, t), (flat_a, t), *((flat_a + r * math.sin(a), t + r - r * math.cos(a)) for a in arc)]
    outer = [(0.0, 0.0), (flat_a, 0.0), *((flat_a + (r + t) * math.sin(a), t + r - (r + t) * math.cos(a)) for a in arc)]
    along = np.array([math.cos(angle), math.sin(angle)])
    inner.append(tuple(np.array(inner[-1]) + flat_b * along))
    outer.append(tuple(np.array(outer[-1]) + flat_b * along))
    points = [*outer, *inner[::-1]]
    fit = Fit.into(points, 60, 96, 300, 190)
    ends = {"a": _beside(fit, outer[0], outer[1], 20), "b": _beside(fit, outer[-2], outer[-1], 26)}
    corner = fit((flat_a, t + r))
    scale = 330 / strip
    return {"d": fit.path(points), "a": ends["a"], "b": ends["b"], "corner": corner, "radius": fit(inner[13]),
            "strip": {"x": 40, "y": 24, "wide": 330, "line": round(40 + line * scale, 1),
                      "near": round(40 + (line - bent.allowance / 2) * scale, 1),
                      "zone": round(bent.allowance * scale, 1)}, "width": 410, "height": 320}


def _beside(fit, start, end, away):
    """Where the label of a leg stands: outside the middle of its outer face."""
    (x0, y0), (x1, y1) = fit(start), fit(end)
    long = math.hypot(x1 - x0, y1 - y0) or 1.0
    return {"x": round((x0 + x1) / 2 - (y1 - y0) / long * away, 1),
            "y": round((y0 + y1) / 2 + (x1 - x0) / long * away + 4, 1)}


DRIFT_WIDTH, DRIFT_HEIGHT, WIDEST = 300, 64, 3.0


def drift(readings: list[tuple[str, float]], tolerance: float = 1.0) -> dict | None:
    """How far a dimension was off from piece to piece, beside its tolerance: the last dozen readings, in what is
    tolerated at most three times as far off."""
    shown = [(piece, off / tolerance) for piece, off in readings[-12:]]
    if not shown:
        return None
    span = max(1.5, min(WIDEST, max(abs(off) for _, off in shown) * 1.2))
    step = (DRIFT_WIDTH - 40) / max(len(shown) - 1, 1)

    def y(off):
        return round(DRIFT_HEIGHT / 2 - max(-span, min(span, off)) / span * (DRIFT_HEIGHT / 2 - 8), 1)

    dots = [{"x": round(20 + n * step, 1), "y": y(off), "piece": piece, "off": off * tolerance}
            for n, (piece, off) in enumerate(shown)]
    return {"width": DRIFT_WIDTH, "height": DRIFT_HEIGHT, "dots": dots, "zero": y(0), "high": y(1), "low": y(-1),
            "d": "M" + "L".join(f"{dot['x']:g},{dot['y']:g}" for dot in dots)}
