from __future__ import annotations

from django.conf import settings as site
from django.db import models


class Receiver(models.Model):
    """A receiver sheet of somebody's own, beside those that ship."""

    owner = models.ForeignKey(site.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="receivers")
    name = models.CharField(max_length=60)
    title = models.CharField(max_length=80)
    sheet = models.JSONField()
    created = models.DateTimeField(auto_now_add=True)
    updated = models.DateTimeField(auto_now=True)

    class Meta:
        ordering = ["title", "id"]
        constraints = [models.UniqueConstraint(fields=["owner", "name"], name="receiver_once_per_name")]
