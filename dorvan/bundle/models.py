"""Where rows came from that were read in."""

from django.db import models


class Origin(models.Model):
    """Row ``ours`` of a table is row ``theirs`` of the ``shop`` it was made in, read in as its ``digest`` tells."""

    shop = models.UUIDField()
    table = models.CharField(max_length=40)
    theirs = models.PositiveBigIntegerField()
    ours = models.PositiveBigIntegerField()
    digest = models.CharField(max_length=64)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["shop", "table", "theirs"], name="one_row_of_an_origin"),
                       models.UniqueConstraint(fields=["table", "ours"], name="one_origin_of_a_row")]
