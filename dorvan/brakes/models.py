"""The shop's brakes, each kept as its open file."""

from functools import lru_cache

from django.db import models

from bendcore.brakes.press import PressBrake, read_press
from bendcore.files import read_json

from .tooling import Tooling

__all__ = ["Brake", "Tooling", "parsed"]


@lru_cache(maxsize=32)
def parsed(text: str) -> PressBrake:
    return read_press(read_json(text))


class Brake(models.Model):
    name = models.CharField(max_length=80, unique=True)
    file = models.TextField(help_text="A dorvan-brake file, as text.")

    class Meta:
        ordering = ["name"]

    def __str__(self) -> str:
        return self.name

    @property
    def press(self) -> PressBrake:
        return parsed(self.file)
