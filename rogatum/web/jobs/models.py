from __future__ import annotations

import uuid

from django.conf import settings
from django.db import models


class Job(models.Model):
    """Long work with its progress. `work` names what runs, `arguments` with what; the row is the queue as well.

    `worker` is the mark of the process that runs it: as long as that one lives, the job does (`liveness.py`).
    """

    class State(models.TextChoices):
        WAITING = "waiting"
        RUNNING = "running"
        DONE = "done"
        FAILED = "failed"

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    # None for what makes a course, which is there when it is done.
    course = models.ForeignKey("courses.Course", on_delete=models.CASCADE, null=True, related_name="jobs")
    user = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE)
    work = models.CharField(max_length=40)
    label = models.CharField(max_length=300)
    arguments = models.JSONField(default=dict)
    state = models.CharField(max_length=10, choices=State.choices, default=State.WAITING)
    worker = models.CharField(max_length=32, blank=True)
    done = models.PositiveIntegerField(default=0)
    total = models.PositiveIntegerField(default=0)
    result = models.JSONField(null=True)
    problem = models.JSONField(null=True)
    seen = models.BooleanField(default=False)
    created = models.DateTimeField(auto_now_add=True)
    started = models.DateTimeField(null=True)
    finished = models.DateTimeField(null=True)

    class Meta:
        ordering = ["-created"]
        indexes = [models.Index(fields=["state", "created"])]
