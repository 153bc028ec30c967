from __future__ import annotations

from django.db import models


class Pool(models.Model):
    """A named set of items in a course; pools form a tree."""

    course = models.ForeignKey("courses.Course", on_delete=models.CASCADE, related_name="pools")
    parent = models.ForeignKey("self", on_delete=models.CASCADE, null=True, related_name="children")
    name = models.CharField(max_length=300)
    created = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["name", "id"]
        indexes = [models.Index(fields=["course", "parent"])]


class Item(models.Model):
    """An item in a pool: its body as the core's JSON, and beside it the columns that are searched and sorted."""

    course = models.ForeignKey("courses.Course", on_delete=models.CASCADE, related_name="items")
    pool = models.ForeignKey(Pool, on_delete=models.CASCADE, related_name="items")
    position = models.PositiveIntegerField(default=0)
    type = models.CharField(max_length=20)
    text = models.TextField()
    title = models.CharField(max_length=300, blank=True)
    points = models.FloatField(null=True)
    outcome = models.CharField(max_length=300, blank=True)
    difficulty = models.CharField(max_length=60, blank=True)
    digest = models.CharField(max_length=32)
    body = models.JSONField()
    stimulus = models.JSONField(null=True)
    origin = models.CharField(max_length=400, blank=True)
    created = models.DateTimeField(auto_now_add=True)
    updated = models.DateTimeField(auto_now=True)

    class Meta:
        ordering = ["position", "id"]
        indexes = [
            models.Index(fields=["course", "position", "id"]),
            models.Index(fields=["pool", "position", "id"]),
            models.Index(fields=["course", "type", "position"]),
            models.Index(fields=["course", "digest"]),
        ]
