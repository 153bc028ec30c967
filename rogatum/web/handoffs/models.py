from __future__ import annotations

from django.db import models


class HandOff(models.Model):
    """One export, kept with its ledger: it is never offered without."""

    course = models.ForeignKey("courses.Course", on_delete=models.CASCADE, related_name="handoffs")
    title = models.CharField(max_length=300)
    format = models.CharField(max_length=40)
    scope = models.JSONField(default=dict)
    sha256 = models.CharField(max_length=64)
    suffix = models.CharField(max_length=10)
    size = models.PositiveBigIntegerField()
    items = models.PositiveIntegerField()
    ledger = models.JSONField()
    created = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["-id"]
