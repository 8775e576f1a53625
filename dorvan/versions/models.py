"""The version of a document and its changes, each with the things it touched."""

from collections.abc import Collection, Mapping

from django.conf import settings
from django.db import models
from django.utils import timezone

from dorvan.fields import number

from .doing import Clash, Moved


class Change(models.Model):
    """A ``document`` came to a ``version``: the ``things`` of it that were touched, and what was done in words."""

    document = models.CharField(max_length=60)
    version = models.PositiveIntegerField()
    things = models.JSONField(default=list)
    said = models.CharField(max_length=200)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, models.PROTECT, related_name="+")
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["version"]
        constraints = [models.UniqueConstraint(fields=["document", "version"], name="one_change_a_version")]

    @property
    def told(self) -> str:
        """Who did what, when."""
        return f"{self.by} {self.said} at {timezone.localtime(self.at):%H:%M}"


class Versioned(models.Model):
    """A document with a version: forms show it, changes move it on."""

    ALL = "*"
    """The thing that stands for all of a document."""
    version = models.PositiveIntegerField(default=0)

    class Meta:
        abstract = True

    @property
    def document(self) -> str:
        """Its name among all documents."""
        return f"{self._meta.label_lower}:{self.pk}"

    def refuse_clash(self, form: Mapping[str, str], things: Collection[str]) -> None:
        """Raise Clash when any of the ``things`` was touched since the version that a form was ``seen`` beside; one
        that says none is of before."""
        seen = number(form.get("seen"))
        if seen is None or seen >= self.version:
            return
        since = Change.objects.filter(document=self.document, version__gt=seen).select_related("by")
        others = [one for one in since if self.ALL in things or self.ALL in one.things or {*one.things} & {*things}]
        if others:
            raise Clash(one.told for one in others[-3:])

    def move_on(self, by, things: Collection[str], said: str, **values) -> None:
        """Within a transaction, write these ``values`` and the change; raises Moved where somebody else wrote since
        this was read."""
        same = type(self)._default_manager.filter(pk=self.pk, version=self.version)
        if not same.update(version=self.version + 1, **values):
            raise Moved
        self.version += 1
        for name, value in values.items():
            setattr(self, name, value)
        Change.objects.create(document=self.document, version=self.version, things=sorted(things), said=said[:200],
                              by=by)
