"""Who works here. Two roles: the bench does the work, a lead also decides."""

from django.contrib.auth.models import AbstractUser
from django.db import models


class User(AbstractUser):
    class Role(models.TextChoices):
        BENCH = "bench", "Bench"
        LEAD = "lead", "Lead"

    role = models.CharField(max_length=10, choices=Role.choices, default=Role.BENCH)
    units = models.CharField(max_length=2, choices=[("mm", "mm"), ("in", "inch")], default="mm",
                             help_text="Units figures are shown in.")

    @property
    def is_lead(self) -> bool:
        return self.role == self.Role.LEAD
