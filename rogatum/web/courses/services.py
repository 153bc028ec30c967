"""Courses: what an account may see, and its media."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from django.shortcuts import get_object_or_404

from rogatum.core.items import Media
from rogatum.core.sources import MediaBox
from rogatum.web.courses.models import Course, CourseMedia
from rogatum.web.courses.rules import courses_for
from rogatum.web.files import MEDIA


def course_for(user: Any, course_id: int) -> Course:
    """The course, or a 404 for a stranger as for a course that is not there."""
    return get_object_or_404(courses_for(user), pk=course_id)


def create_course(user: Any, name: str) -> Course:
    return Course.objects.create(owner=user, name=name.strip() or "New course")


def store_media(course: Course, box: MediaBox) -> dict[str, str]:
    """Keeps a bank's media for a course; returns the address in items for each ref of the bank.

    The hash by which the course gets to see a file is found from the bytes that came along: knowing a hash shows nothing.
    """
    refs: dict[str, str] = {}
    for entry in box.entries():
        with box.open(entry.ref) as stream:
            stored = MEDIA.put(stream)
        row, _ = CourseMedia.objects.get_or_create(
            course=course,
            sha256=stored.sha256,
            defaults={"name": entry.ref.rsplit("/", 1)[-1][:200], "type": entry.type, "size": stored.size},
        )
        refs[entry.ref] = row.ref
    return refs


def own_media(course: Course) -> set[str]:
    """The addresses of a course's media, as its items use them."""
    return {row.ref for row in CourseMedia.objects.filter(course=course)}


def media_files(course: Course, shas: set[str]) -> tuple[dict[str, tuple[Media, Path]], dict[str, str]]:
    """The course's media of these hashes under their own names, by ref; and the new ref for each address in items."""
    files: dict[str, tuple[Media, Path]] = {}
    refs: dict[str, str] = {}
    for row in CourseMedia.objects.filter(course=course, sha256__in=shas).order_by("name", "sha256"):
        ref = f"media/{row.name}"
        if ref in files:
            ref = f"media/{row.sha256[:8]}-{row.name}"
        files[ref] = Media(ref=ref, sha256=row.sha256, size=row.size, type=row.type), MEDIA.path(row.sha256)
        refs[row.ref] = ref
    return files, refs
