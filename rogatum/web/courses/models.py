from __future__ import annotations

from django.conf import settings
from django.db import models

from rogatum.core.sources.media import media_address


class Course(models.Model):
    """What is taught, and the border of what an account may see: all else hangs on a course."""

    owner = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="courses")
    name = models.CharField(max_length=200)
    # What headings of sheets mean in this course, where a person said so.
    columns = models.JSONField(default=dict)
    # The course's outcomes, as {"code", "text"}, in order; and the kinds of advice that are put off.
    outcomes = models.JSONField(default=list)
    advice_off = models.JSONField(default=list)
    # By whose clocks the moments of its quizzes are told: a name of the IANA time zone database.
    time_zone = models.CharField(max_length=64, default="UTC")
    # A deleted course is kept for a while, and can be brought back.
    deleted = models.DateTimeField(null=True)
    # The job that still fills it from a saved one: until that is done, nobody sees it.
    job = models.UUIDField(null=True, db_index=True)
    created = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["name"]

    def __str__(self) -> str:
        return self.name


class Section(models.Model):
    """One running of the course with its students."""

    course = models.ForeignKey(Course, on_delete=models.CASCADE, related_name="sections")
    name = models.CharField(max_length=200)
    students = models.PositiveIntegerField(default=0)

    class Meta:
        ordering = ["name"]
        constraints = [models.UniqueConstraint(fields=["course", "name"], name="section_once_per_course")]


class Membership(models.Model):
    """Somebody with whom a course is shared: an editor changes what lies in it, a reader looks at it and copies from it."""

    class Role(models.TextChoices):
        EDITOR = "editor"
        READER = "reader"

    course = models.ForeignKey(Course, on_delete=models.CASCADE, related_name="members")
    user = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="memberships")
    role = models.CharField(max_length=10, choices=Role.choices)
    created = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["user__username"]
        constraints = [models.UniqueConstraint(fields=["course", "user"], name="member_once_per_course")]


class CourseMedia(models.Model):
    """A picture, sound or film that items of a course use; the bytes lie in the data folder by their SHA-256."""

    course = models.ForeignKey(Course, on_delete=models.CASCADE, related_name="media")
    sha256 = models.CharField(max_length=64)
    name = models.CharField(max_length=200)
    type = models.CharField(max_length=100)
    size = models.PositiveBigIntegerField()

    class Meta:
        constraints = [models.UniqueConstraint(fields=["course", "sha256"], name="media_once_per_course")]

    @property
    def ref(self) -> str:
        """The address that item content uses."""
        return media_address(self.sha256, self.name)


class Operation(models.Model):
    """Something that an account did to pools, items or quizzes, which can be undone."""

    course = models.ForeignKey(Course, on_delete=models.CASCADE, related_name="operations")
    user = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE)
    label = models.CharField(max_length=300)
    # Who did it where it was done, for what came with a saved course: it is history, and cannot be undone here.
    by = models.CharField(max_length=150, blank=True)
    created = models.DateTimeField(auto_now_add=True)
    undone = models.BooleanField(default=False)
    # The job that still writes it: until it is finished nobody can undo it, and what a job leaves unfinished is put back.
    job = models.UUIDField(null=True, db_index=True)

    class Meta:
        ordering = ["-id"]


class Change(models.Model):
    """One row's change within an operation: the changed fields before and after; null where the row was not there.

    Changes are numbered in the order in which they were made, whichever operations they belong to.
    """

    operation = models.ForeignKey(Operation, on_delete=models.CASCADE, related_name="changes")
    table = models.CharField(max_length=20)
    row = models.PositiveBigIntegerField()
    before = models.JSONField(null=True)
    after = models.JSONField(null=True)
    # An operation may be undone in part: what others built on stays.
    undone = models.BooleanField(default=False)

    class Meta:
        indexes = [models.Index(fields=["table", "row"])]
        ordering = ["id"]
