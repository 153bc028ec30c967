from __future__ import annotations

from django.conf import settings
from django.db import models


class Offer(models.Model):
    """A copy of pools that somebody sent to a colleague, as a file with its ledger: nothing of theirs is touched by it."""

    class State(models.TextChoices):
        WAITING = "waiting"
        LOOKED_AT = "looked at"
        TAKEN = "taken"
        DECLINED = "declined"
        WITHDRAWN = "withdrawn"

    course = models.ForeignKey("courses.Course", on_delete=models.SET_NULL, null=True, related_name="offers")
    # What the course was called and who sent it, as it was then.
    course_name = models.CharField(max_length=200)
    sender = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="offers_sent")
    recipient = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="offers_received")
    title = models.CharField(max_length=300)
    note = models.CharField(max_length=1000, blank=True)
    pools = models.PositiveIntegerField()
    items = models.PositiveIntegerField()
    sha256 = models.CharField(max_length=64)
    suffix = models.CharField(max_length=10)
    ledger = models.JSONField()
    state = models.CharField(max_length=10, choices=State.choices, default=State.WAITING)
    # The source that was made of it, by who looked at it.
    source = models.ForeignKey("sources.Source", on_delete=models.SET_NULL, null=True, related_name="offers")
    created = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["-id"]
