from __future__ import annotations

from django.db import models


class FailedSignIn(models.Model):
    """A name and a password that did not belong together: for how many of late, by account and by address (`throttling.py`)."""

    account = models.CharField(max_length=150)
    address = models.CharField(max_length=64)
    at = models.DateTimeField()

    class Meta:
        indexes = [models.Index(fields=["account", "at"]), models.Index(fields=["address", "at"])]
