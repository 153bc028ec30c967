from __future__ import annotations

from django.db import models


class Quiz(models.Model):
    """What students take: parts in order, and settings."""

    course = models.ForeignKey("courses.Course", on_delete=models.CASCADE, related_name="quizzes")
    title = models.CharField(max_length=300)
    settings = models.JSONField(default=dict)
    created = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["title", "id"]


class Part(models.Model):
    """Fixed items, or a draw from a pool (with its sub-pools)."""

    class Kind(models.TextChoices):
        FIXED = "fixed"
        DRAW = "draw"

    quiz = models.ForeignKey(Quiz, on_delete=models.CASCADE, related_name="parts")
    kind = models.CharField(max_length=10, choices=Kind.choices)
    position = models.PositiveIntegerField()
    title = models.CharField(max_length=300, blank=True)
    pool = models.ForeignKey("pools.Pool", on_delete=models.CASCADE, null=True, related_name="drawn_by")
    pick = models.PositiveIntegerField(default=0)
    points_each = models.FloatField(null=True)
    # What single items are worth, by their numbers, where that is not the same for all.
    points = models.JSONField(default=dict)

    class Meta:
        ordering = ["position", "id"]


class PartItem(models.Model):
    part = models.ForeignKey(Part, on_delete=models.CASCADE, related_name="entries")
    item = models.ForeignKey("pools.Item", on_delete=models.CASCADE, related_name="in_parts")
    position = models.PositiveIntegerField()

    class Meta:
        ordering = ["position", "id"]
        constraints = [models.UniqueConstraint(fields=["part", "item"], name="item_once_per_part")]
