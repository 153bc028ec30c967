from __future__ import annotations

from django.db import models


class Batch(models.Model):
    """What was dropped together: named, checked and taken as one. `token` is what the page called the drop."""

    course = models.ForeignKey("courses.Course", on_delete=models.CASCADE, related_name="batches")
    token = models.CharField(max_length=64)
    name = models.CharField(max_length=200, blank=True)
    created = models.DateTimeField(auto_now_add=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["course", "token"], name="batch_once_per_drop")]


class Source(models.Model):
    """A file, an archive or a paste that questions are read from; its bytes lie in the data folder."""

    class Kind(models.TextChoices):
        UPLOAD = "upload"
        PASTE = "paste"

    course = models.ForeignKey("courses.Course", on_delete=models.CASCADE, related_name="sources")
    name = models.CharField(max_length=300)
    kind = models.CharField(max_length=10, choices=Kind.choices)
    sha256 = models.CharField(max_length=64)
    size = models.PositiveBigIntegerField()
    expected = models.PositiveIntegerField(null=True)
    problem = models.JSONField(null=True)
    batch = models.ForeignKey(Batch, on_delete=models.SET_NULL, null=True, related_name="sources")
    # Set aside: kept, and neither counted as waiting nor taken with others.
    aside = models.BooleanField(default=False)
    # Put away: nobody sees it any more, and undo brings it back for as long as what was deleted is kept.
    put_away = models.DateTimeField(null=True)
    # How it is to be read, where a person said so: `core.sources.ReadOptions` as JSON.
    options = models.JSONField(default=dict)
    created = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["-id"]


class Reading(models.Model):
    """The result of reading a source, not yet in any pool. Only the newest of a source is current."""

    source = models.ForeignKey(Source, on_delete=models.CASCADE, related_name="readings")
    current = models.BooleanField(default=True)
    format = models.CharField(max_length=40)
    title = models.CharField(max_length=300)
    findings = models.JSONField(default=list)
    accounting = models.JSONField(default=dict)
    stimuli = models.JSONField(default=dict)
    # What was read of the passages that were changed by hand, by their keys; nothing of one that a person added.
    passages_read = models.JSONField(default=dict)
    # The tests of the source as the core's quizzes, their items by position.
    quizzes = models.JSONField(default=list)
    columns = models.JSONField(default=list)
    habits = models.JSONField(default=list)
    lines = models.PositiveIntegerField(default=0)
    # What was looked at as a proof of the rest: `core.checks.sampling.Sample` as JSON.
    sample = models.JSONField(null=True)
    created = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["-id"]


class ReadingItem(models.Model):
    """An item as it was read, or as it was mended since. Findings lie with it, so that one undo restores both."""

    reading = models.ForeignKey(Reading, on_delete=models.CASCADE, related_name="items")
    position = models.PositiveIntegerField()
    type = models.CharField(max_length=20)
    text = models.TextField()
    points = models.FloatField(null=True)
    body = models.JSONField()
    read_digest = models.CharField(max_length=32)
    path = models.JSONField(default=list)
    # The names at the end of its path that a person put it into.
    put_into = models.JSONField(default=list)
    place = models.JSONField(default=dict)
    findings = models.JSONField(default=list)
    # Advice on the writing of the item, apart from what is said of its reading.
    advice = models.JSONField(default=list)
    # What lists and filters ask of the body: what is in it, and where its key stands.
    traits = models.JSONField(default=dict)
    # What the source's own marking was found to give, in words, as it was read.
    marked = models.JSONField(default=list)
    worst = models.CharField(max_length=10, blank=True)
    edited = models.BooleanField(default=False)
    dropped = models.BooleanField(default=False)
    taken = models.ForeignKey("pools.Item", on_delete=models.SET_NULL, null=True, related_name="read_from")

    class Meta:
        ordering = ["position"]
        constraints = [models.UniqueConstraint(fields=["reading", "position"], name="position_once_per_reading")]
        indexes = [models.Index(fields=["reading", "worst"])]


class ViewChunk(models.Model):
    """A stretch of a source's lines as they are shown, so that a long source is loaded by the screenful."""

    reading = models.ForeignKey(Reading, on_delete=models.CASCADE, related_name="chunks")
    number = models.PositiveIntegerField()
    lines = models.JSONField()

    class Meta:
        ordering = ["number"]
        constraints = [models.UniqueConstraint(fields=["reading", "number"], name="chunk_once_per_reading")]


class Comparison(models.Model):
    """The ledger between two readings of one test, with which arrived more whole."""

    course = models.ForeignKey("courses.Course", on_delete=models.CASCADE, related_name="comparisons")
    a = models.ForeignKey(Reading, on_delete=models.CASCADE, related_name="+")
    b = models.ForeignKey(Reading, on_delete=models.CASCADE, related_name="+")
    ledger = models.JSONField()
    created = models.DateTimeField(auto_now_add=True)
