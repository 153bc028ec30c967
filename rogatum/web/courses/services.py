"""Courses: what an account may see, and its media."""

from __future__ import annotations

import shutil
import tempfile
from pathlib import Path
from typing import Any

from django.conf import settings
from django.db.models import QuerySet
from django.shortcuts import get_object_or_404

from rogatum.core.items import Media
from rogatum.core.sources import MediaBox
from rogatum.web.courses.models import Course, CourseMedia


def courses_for(user: Any) -> QuerySet[Course]:
    """The courses that an account may see and change."""
    return Course.objects.filter(owner=user)


def course_for(user: Any, course_id: int) -> Course:
    """The course, or a 404 for a stranger as for a course that is not there."""
    return get_object_or_404(courses_for(user), pk=course_id)


def create_course(user: Any, name: str) -> Course:
    return Course.objects.create(owner=user, name=name.strip() or "New course")


def media_path(sha256: str) -> Path:
    return Path(settings.MEDIA_STORE) / sha256[:2] / sha256


def store_media(course: Course, box: MediaBox) -> dict[str, str]:
    """Keeps a bank's media for a course; returns the address in items for each ref of the bank."""
    refs: dict[str, str] = {}
    for entry in box.entries():
        path = media_path(entry.sha256)
        if not path.exists():
            _keep(box, entry, path)
        row, _ = CourseMedia.objects.get_or_create(
            course=course,
            sha256=entry.sha256,
            defaults={"name": entry.ref.rsplit("/", 1)[-1][:200], "type": entry.type, "size": entry.size},
        )
        refs[entry.ref] = row.ref
    return refs


def own_media(course: Course) -> set[str]:
    """The addresses of a course's media, as its items use them."""
    return {row.ref for row in CourseMedia.objects.filter(course=course)}


def _keep(box: MediaBox, entry: Media, path: Path) -> None:
    """Writes beside the place and moves into it, so that a broken write leaves nothing half."""
    path.parent.mkdir(parents=True, exist_ok=True)
    with box.open(entry.ref) as stream, tempfile.NamedTemporaryFile(dir=path.parent, delete=False) as target:
        shutil.copyfileobj(stream, target)
    Path(target.name).replace(path)


def media_box(course: Course, shas: set[str]) -> tuple[MediaBox, dict[str, str]]:
    """A box with the course's media of these hashes, under their own names; and the new ref for each address in items."""
    box, refs = MediaBox(), {}
    for row in CourseMedia.objects.filter(course=course, sha256__in=shas).order_by("name", "sha256"):
        ref = f"media/{row.name}"
        if ref in box:
            ref = f"media/{row.sha256[:8]}-{row.name}"
        path = media_path(row.sha256)
        box.add_known(Media(ref=ref, sha256=row.sha256, size=row.size, type=row.type), lambda path=path: path.open("rb"))
        refs[row.ref] = ref
    return box, refs
