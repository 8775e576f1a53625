"""Every limit of a part, once: what stops it, what to mind, and ways out."""

from ..notices import CAUTION, NOTE, STOP, Notice, merged, worst_first
from .rules import check_part

__all__ = ["CAUTION", "NOTE", "STOP", "Notice", "check_part", "merged", "worst_first"]
