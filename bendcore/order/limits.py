"""What keeps a bend off a pair of tools whatever stands around it.

Angle, force, tool length, and the shortest leg on the die. Each reason is a
sentence with the figure that is short.
"""

from dataclasses import dataclass

from ..bending import bend as bends
from ..brakes.press import Die, choose_lengths
from ..said import Deg, Mm, Said
from .gauge import flat_to
from .moves import FLAT, LEAST_CREASE, MADE, Job, Levels, Tools
from .poses import daylight

HEM_FORCE = 4.0
"""Closing a hem takes about this many times the air-bending force (*start*)."""


@dataclass(frozen=True)
class Reason:
    """Why a bend cannot be made with a pair of tools: a code, and the words with their figures."""

    code: str
    message: str


def tool_reasons(job: Job, i: int, to: int, tools: Tools) -> tuple[Reason, ...]:
    """Reasons that hold in every state."""
    bend, width = job.strip.bends[i], job.strip.width
    closing = bend.is_hem and to == MADE
    found = []
    if width > job.brake.length + 1e-9:
        found.append(Reason("machine-length", Said("{wide} wide; the brake is {brake}", wide=Mm(width),
                                                    brake=Mm(job.brake.length))))
    for tool in filter(None, (tools.punch, tools.die)):
        if choose_lengths(tool.lengths, width) is None:
            found.append(Reason("tool-length", Said("{tool}: {owned} owned, {needed} needed", tool=tool.name,
                                                     owned=Mm(sum(tool.lengths)), needed=Mm(width))))
    gap = daylight(job.brake, tools.punch, tools.die)
    if gap <= job.strip.thickness:
        found.append(Reason("open-height", Said("{gap} are left between the tools with the ram up", gap=Mm(gap))))
    if not closing:
        angle = job.overbent(job.angle(i, to))
        for tool in (tools.punch, tools.die):
            if tool.angle > 180 - angle + 1e-6:
                found.append(Reason("tool-angle", Said(
                    "{tool} is {own}°; bending to {angle} needs {needed}° or sharper", tool=tool.name,
                    own=f"{tool.angle:g}", angle=Deg(round(angle, 1)), needed=f"{180 - angle:.1f}")))
        if bend.is_hem and job.overbent(LEAST_CREASE) > 180 - max(tools.punch.angle, tools.die.angle) + 1e-6:
            found.append(Reason("acute-pair", f"{bend.id} needs an acute pair to crease the hem"))
    found += _force(job, tools, closing)
    return tuple(found)


def _force(job, tools, closing):
    strip, tensile = job.strip, job.part.stock.material.tensile_mpa
    opening = 6 * strip.thickness if closing else tools.die.v
    factor = HEM_FORCE if closing else 1.0
    per_metre = factor * bends.tonnage(tensile, strip.thickness, opening)
    force = per_metre * strip.width / 1000
    if force > job.brake.tonnage_kn:
        yield Reason("force", Said("{force} kN over V {v}; the brake gives {most} kN", force=f"{force:.0f}",
                                   v=Mm(opening), most=f"{job.brake.tonnage_kn:.0f}"))
    for tool in filter(None, (tools.punch, tools.die)):
        if tool.max_kn_per_m and per_metre > tool.max_kn_per_m:
            yield Reason("tool-force", f"{per_metre:.0f} kN/m; {tool.name} is rated {tool.max_kn_per_m:.0f} kN/m")


def short_leg(job: Job, own: Levels, i: int, to: int, end: str, tools: Tools) -> Reason | None:
    """The shortest leg on the die, on one side, to the edge or the next made bend.

    ``own`` are the levels of the bends on that side, nearest first.
    """
    bend = job.strip.bends[i]
    if bend.is_hem and to == MADE:
        return None
    need = flat_needed(job, i, to, tools.die) + bends.LEG_MARGIN
    passed = next((n for n, level in enumerate(own) if level != FLAT), len(own))
    have = flat_to(job, i, end, passed)
    if have >= need - 1e-9:
        return None
    return Reason("short-leg", Said("{have} lie flat towards the {end} of {bend}; {die} needs {need}", have=Mm(have),
                                    end=end, bend=bend.id, die=tools.die.name, need=Mm(need)))


def flat_needed(job: Job, i: int, to: int, die: Die) -> float:
    """Least flat from the bend line on this die, for a hem at its crease."""
    figures = job.strip.bends[i].figures
    if job.strip.bends[i].is_hem:
        angle = job.angle(i, to)
        figures = bends.BendFigures(angle, figures.radius_at(angle), figures.thickness, figures.allowance)
    return bends.shortest_flat(figures, die.v, die.shoulder_radius)
