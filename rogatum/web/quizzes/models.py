from __future__ import annotations

from django.conf import settings as site
from django.db import models


class Quiz(models.Model):
    """What students take: parts in order, and settings."""

    course = models.ForeignKey("courses.Course", on_delete=models.CASCADE, related_name="quizzes")
    title = models.CharField(max_length=300)
    settings = models.JSONField(default=dict)
    # How it was picked, with pools and quizzes by their numbers.
    plan = models.JSONField(null=True)
    created = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["title", "id"]


class Pattern(models.Model):
    """Settings that are kept under a name, for other quizzes of the course."""

    course = models.ForeignKey("courses.Course", on_delete=models.CASCADE, related_name="patterns")
    name = models.CharField(max_length=100)
    settings = models.JSONField(default=dict)

    class Meta:
        ordering = ["name"]
        constraints = [models.UniqueConstraint(fields=["course", "name"], name="pattern_once_per_name")]


class Rehearsal(models.Model):
    """A quiz tried as a student: one for each account and quiz, as the core's trial."""

    quiz = models.ForeignKey(Quiz, on_delete=models.CASCADE, related_name="rehearsals")
    user = models.ForeignKey(site.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="rehearsals")
    state = models.JSONField(default=dict)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["quiz", "user"], name="rehearsal_once_per_account")]


class Part(models.Model):
    """Fixed items, or a draw from a pool (with its sub-pools); without a pool, it is from the whole course."""

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
    instructions = models.TextField(blank=True)
    page_break = models.BooleanField(default=False)
    # Of a draw: whether it leaves out what lies below its pool, its conditions, and the numbers of items that it never gives.
    alone = models.BooleanField(default=False)
    where = models.JSONField(default=list)
    without = models.JSONField(default=list)
    # What a plan picked it from, with the pool by its number.
    picked_from = models.JSONField(null=True)

    class Meta:
        ordering = ["position", "id"]


class PartItem(models.Model):
    part = models.ForeignKey(Part, on_delete=models.CASCADE, related_name="entries")
    item = models.ForeignKey("pools.Item", on_delete=models.CASCADE, related_name="in_parts")
    position = models.PositiveIntegerField()

    class Meta:
        ordering = ["position", "id"]
        constraints = [models.UniqueConstraint(fields=["part", "item"], name="item_once_per_part")]
