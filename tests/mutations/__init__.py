"""Small changes of the code, each with the test that must see it (``make mutants``)."""

from .core import CORE
from .mutant import Mutant
from .web import WEB

MUTANTS = (*CORE, *WEB)
__all__ = ["MUTANTS", "Mutant"]
