from __future__ import annotations

from django.db import models


class HandOff(models.Model):
    """One export, kept with its ledger: it is never offered without.

    What goes to a receiver is a folder; `sheet` is what the receiver did then, whatever becomes of it, `group` the hand-offs of one
    job, `meant` the bank that was handed on, `states` the digests of its items, and `arrived` what was found over there.
    """

    course = models.ForeignKey("courses.Course", on_delete=models.CASCADE, related_name="handoffs")
    title = models.CharField(max_length=300)
    format = models.CharField(max_length=40)
    scope = models.JSONField(default=dict)
    sha256 = models.CharField(max_length=64)
    suffix = models.CharField(max_length=10)
    size = models.PositiveBigIntegerField()
    items = models.PositiveIntegerField()
    ledger = models.JSONField()
    receiver = models.CharField(max_length=80, blank=True)
    sheet = models.JSONField(null=True)
    section = models.CharField(max_length=200, blank=True)
    group = models.CharField(max_length=40, blank=True)
    forecast = models.JSONField(null=True)
    meant = models.CharField(max_length=64, blank=True)
    states = models.JSONField(default=dict)
    repairs = models.JSONField(default=dict)
    arrived = models.JSONField(null=True)
    created = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["-id"]
        indexes = [models.Index(fields=["course", "receiver"])]


class Wording(models.Model):
    """An item as it is written for one receiver; the pool's item stays. `digest` is the item's state that it was written of."""

    course = models.ForeignKey("courses.Course", on_delete=models.CASCADE, related_name="wordings")
    item = models.ForeignKey("pools.Item", on_delete=models.CASCADE, related_name="wordings")
    receiver = models.CharField(max_length=80)
    body = models.JSONField()
    digest = models.CharField(max_length=32)
    # What was done to it, in words, in order.
    done = models.JSONField(default=list)
    created = models.DateTimeField(auto_now_add=True)
    updated = models.DateTimeField(auto_now=True)

    class Meta:
        ordering = ["id"]
        constraints = [models.UniqueConstraint(fields=["item", "receiver"], name="wording_once_per_receiver")]
