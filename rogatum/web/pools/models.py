from __future__ import annotations

from django.conf import settings
from django.db import models


class Pool(models.Model):
    """A named set of items in a course; pools form a tree, and those of one parent have an order."""

    course = models.ForeignKey("courses.Course", on_delete=models.CASCADE, related_name="pools")
    parent = models.ForeignKey("self", on_delete=models.CASCADE, null=True, related_name="children")
    name = models.CharField(max_length=300)
    # By hand; pools that were never moved have all the same place, and stand by name.
    position = models.PositiveIntegerField(default=0)
    created = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["position", "name", "id"]
        indexes = [models.Index(fields=["course", "parent"])]


# What lists are sorted by, and what a filter counts: kept together in one index, so that counting reads no bodies.
COUNTED = (
    "pool",
    "type",
    "difficulty",
    "points",
    "picture",
    "formula",
    "feedback",
    "source",
    "outcome",
    "findings",
    "advice",
    "handed",
    "updated",
    "position",
    "seconds",
    "words",
    "key_place",
)
SORTED = ("text", "type", "points", "difficulty", "updated")


class Item(models.Model):
    """An item in a pool: its body as the core's JSON, and beside it the columns that are searched, counted and sorted."""

    course = models.ForeignKey("courses.Course", on_delete=models.CASCADE, related_name="items")
    pool = models.ForeignKey(Pool, on_delete=models.CASCADE, related_name="items")
    position = models.PositiveIntegerField(default=0)
    type = models.CharField(max_length=20)
    text = models.TextField()
    title = models.CharField(max_length=300, blank=True)
    points = models.FloatField(null=True)
    outcome = models.CharField(max_length=300, blank=True)
    difficulty = models.CharField(max_length=60, blank=True)
    picture = models.BooleanField(default=False)
    formula = models.BooleanField(default=False)
    feedback = models.BooleanField(default=False)
    # The codes of what checks find and of what is advised, parted by spaces.
    findings = models.CharField(max_length=300, blank=True)
    advice = models.CharField(max_length=300, blank=True)
    # What answering takes, how much there is to read, and the letter of the key where one of several choices is right.
    seconds = models.FloatField(default=0)
    words = models.PositiveIntegerField(default=0)
    key_place = models.CharField(max_length=3, blank=True)
    digest = models.CharField(max_length=32)
    body = models.JSONField()
    stimulus = models.JSONField(null=True)
    # Where it came from: the source and the place in it, and the source alone.
    origin = models.CharField(max_length=400, blank=True)
    source = models.CharField(max_length=300, blank=True)
    # When it was handed on last.
    handed = models.DateTimeField(null=True)
    created = models.DateTimeField(auto_now_add=True)
    updated = models.DateTimeField(auto_now=True)

    class Meta:
        ordering = ["position", "id"]
        indexes = [
            models.Index(fields=["course", "position", "id"]),
            models.Index(fields=["pool", "position", "id"]),
            models.Index(fields=["course", "digest"]),
            models.Index(fields=["course", *COUNTED], name="item_counted"),
            *(models.Index(fields=["course", name, "position"], name=f"item_by_{name}") for name in SORTED if name != "text"),
        ]


class KeptFilter(models.Model):
    """A filter that somebody kept under a name, for a course."""

    course = models.ForeignKey("courses.Course", on_delete=models.CASCADE, related_name="kept_filters")
    user = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE)
    name = models.CharField(max_length=100)
    filter = models.JSONField()

    class Meta:
        ordering = ["name"]
        constraints = [models.UniqueConstraint(fields=["course", "user", "name"], name="filter_once_per_name")]


class LikePair(models.Model):
    """Two items that read alike, found for an account among all that it may see, and what was decided about them.

    `a` is the older one. A decision is kept, so that the pair is not asked about again while both are as they were.
    """

    class Decision(models.TextChoices):
        OPEN = ""
        BOTH = "both"

    user = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="like_pairs")
    a = models.ForeignKey(Item, on_delete=models.CASCADE, related_name="+")
    b = models.ForeignKey(Item, on_delete=models.CASCADE, related_name="+")
    percent = models.FloatField()
    # What both were when they were looked at.
    digests = models.CharField(max_length=65)
    decision = models.CharField(max_length=10, choices=Decision.choices, default=Decision.OPEN, blank=True)
    created = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["-percent", "id"]
        constraints = [models.UniqueConstraint(fields=["user", "a", "b"], name="pair_once_per_account")]
