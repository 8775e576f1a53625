"""The folded part written as a solid: long work, nothing of the web application."""

from bendcore.formats.export import export

from .files import part_of


def solid_of(part: str) -> bytes:
    """The folded part of a part file as STEP."""
    return export(part_of(part), "step")
