"""Courses: what an account may see, and its media."""

from __future__ import annotations

import io
import re
from collections.abc import Iterable, Sequence
from datetime import timedelta
from pathlib import Path
from typing import Any, BinaryIO
from uuid import uuid4
from zoneinfo import available_timezones

from django.apps import apps
from django.db import transaction
from django.http import Http404
from django.shortcuts import get_object_or_404
from django.utils import timezone

from rogatum import apart
from rogatum.core.findings.catalogue import CATALOGUE
from rogatum.core.items import Media
from rogatum.core.items.content import media_refs
from rogatum.core.items.outcomes import Outcome
from rogatum.core.sources import MediaBox, is_what_it_says
from rogatum.web.courses.history import refuse_unseen, version_of_values
from rogatum.web.courses.models import Course, CourseMedia
from rogatum.web.courses.rules import courses_for, deleted_for, must_edit, must_own
from rogatum.web.errors import NotPossible
from rogatum.web.files import MEDIA, SOURCES

LARGEST_MEDIA = 25_000_000
# How long what was deleted can be brought back.
KEPT_FOR = timedelta(days=30)
_SHA = re.compile(r"media/([0-9a-f]{64})")
# Kinds of files that a browser may show in place; anything else is only offered for download.
SHOWN = ("image/png", "image/jpeg", "image/gif", "image/webp", "image/svg+xml", "audio/", "video/")


def course_for(user: Any, course_id: int) -> Course:
    """The course, or a 404 for a stranger as for a course that is not there."""
    return get_object_or_404(courses_for(user), pk=course_id)


def create_course(user: Any, name: str, time_zone: str | None = None) -> Course:
    zone = time_zone if time_zone in available_timezones() else "UTC"
    return Course.objects.create(owner=user, name=name.strip() or "New course", time_zone=zone)


def known_zone(name: str) -> str:
    """A time zone by its name. Raises NotPossible for what is none."""
    if name not in available_timezones():
        raise NotPossible(f"There is no time zone {name[:64]}.", "Choose one of the list.", status=422)
    return name


def rename_course(course: Course, user: Any, name: str) -> Course:
    must_edit(user, course)
    if not name.strip():
        raise NotPossible("A course needs a name.", "Type one in.", status=422)
    course.name = name.strip()[:200]
    course.save(update_fields=["name"])
    return course


def delete_course(course: Course, user: Any) -> None:
    """Puts a course away: nobody sees it any more, and its owner can bring it back for `KEPT_FOR`."""
    must_own(user, course)
    course.deleted = timezone.now()
    course.save(update_fields=["deleted"])


def bring_back_course(user: Any, course_id: int) -> Course:
    """A deleted course as it was. Raises a 404 for anybody but its owner."""
    if not deleted_for(user).filter(pk=course_id).update(deleted=None):
        raise Http404
    return course_for(user, course_id)


def purge_courses() -> int:
    """Removes for good what was deleted longer ago than it is kept; returns how many courses."""
    # Marked in one query: one that is brought back just now stays. One whose removal is cut off is there for nobody, and goes as
    # what a job left unfinished.
    mark = uuid4()
    count = Course.objects.filter(deleted__lt=timezone.now() - KEPT_FOR, job__isnull=True).update(job=mark)
    for course in Course.objects.filter(job=mark):
        remove_course(course)
    return count


# What is many in a course, innermost first, and by what it is of the course.
_MANY = (
    ("courses.Change", "operation__course"),
    ("courses.Operation", "course"),
    ("quizzes.PartItem", "part__quiz__course"),
    ("quizzes.Part", "quiz__course"),
    ("sources.ViewChunk", "reading__source__course"),
    ("sources.ReadingItem", "reading__source__course"),
    ("pools.Item", "course"),
)
AT_A_TIME = 300


def remove_course(course: Course) -> None:
    """Removes a course for good, in short transactions."""
    for label, path in _MANY:
        model = apps.get_model(label)
        rows = model.objects.filter(**{path: course}).order_by("pk").values_list("pk", flat=True)
        while keys := list(rows[:AT_A_TIME]):
            model.objects.filter(pk__in=keys).delete()
    course.delete()


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


def add_media(course: Course, user: Any, name: str, stream: BinaryIO, size: int) -> CourseMedia:
    """Keeps a picture or sound that somebody adds to an item. Raises NotPossible for another kind of file, or one too large."""
    must_edit(user, course)
    if size > LARGEST_MEDIA:
        raise NotPossible(f"{name} is too large for an item.", f"Make it smaller than {LARGEST_MEDIA // 1_000_000} MB.", status=413)
    box, data = MediaBox(), stream.read(LARGEST_MEDIA + 1)
    ref = box.add_bytes(name or "picture.png", data)
    if not box.entry(ref).type.startswith(SHOWN) or not is_what_it_says(box.entry(ref).type, data):
        raise NotPossible(f"{name} is no picture, sound or film.", "Choose a PNG, JPEG, GIF, WebP or SVG file.", status=422)
    sha256 = box.entry(ref).sha256
    with MEDIA.writing(io.BytesIO(data)) as stored:
        if not apart.picture_is_whole(stored.written, box.entry(ref).type, name):
            raise NotPossible(f"{name} is damaged.", "Open it elsewhere, save it anew, and choose that.", status=422)
    store_media(course, box)
    return CourseMedia.objects.get(course=course, sha256=sha256)


def outcomes_version(course: Course) -> str:
    return version_of_values({"outcomes": course.outcomes})


def advice_version(course: Course) -> str:
    return version_of_values({"advice_off": course.advice_off})


def _set(course: Course, name: str, value: Any, version: str | None) -> Course:
    """Saves one list of a course over the `version` that was seen. Raises Outdated where it is another by now."""
    with transaction.atomic():
        course.refresh_from_db(fields=[name])
        refuse_unseen(version, {name: getattr(course, name)})
        setattr(course, name, value)
        course.save(update_fields=[name])
    return course


def set_outcomes(course: Course, user: Any, outcomes: Sequence[Outcome], version: str | None = None) -> Course:
    """Sets the course's list of outcomes, as it stands from now on. Raises Outdated over an unseen change."""
    must_edit(user, course)
    return _set(course, "outcomes", [outcome.model_dump() for outcome in outcomes], version)


def put_off_advice(course: Course, user: Any, codes: Sequence[str], version: str | None = None) -> Course:
    """Sets which kinds of advice the course does not want.

    Raises NotPossible for what is no kind of advice, and Outdated over an unseen change.
    """
    must_edit(user, course)
    if any(code not in CATALOGUE or CATALOGUE[code].level != "advice" for code in codes):
        raise NotPossible("There is no such kind of advice.", "Load the page again.", status=422)
    return _set(course, "advice_off", sorted(set(codes)), version)


def read_rows(course: Course, user: Any, name: str, stream: BinaryIO) -> list[list[str]]:
    """The rows of a sheet as they stand; nothing of it is kept. Raises UnreadableSource."""
    must_edit(user, course)
    with SOURCES.writing(stream) as stored:
        return apart.read_rows(stored.written, name.replace("/", "_") or "sheet")


def own_media(course: Course) -> set[str]:
    """The addresses of a course's media, as its items use them."""
    return {row.ref for row in CourseMedia.objects.filter(course=course)}


def media_used(course: Course, contents: Iterable[str]) -> tuple[dict[str, tuple[Media, Path]], dict[str, str]]:
    """The course's media that contents name, under their own names, by ref; and the new ref for each address in them."""
    shas = {sha for content in contents for ref in media_refs(content) for sha in _SHA.findall(ref)}
    files: dict[str, tuple[Media, Path]] = {}
    refs: dict[str, str] = {}
    of_course = CourseMedia.objects.filter(course=course)
    used = list(of_course.filter(sha256__in=shas).order_by("name", "sha256"))
    # The first of a name bears it, whatever else is asked for: one picture is called the same in every bank of a course.
    same_names = of_course.filter(name__in={row.name for row in used}).order_by("-sha256")
    first = dict(same_names.values_list("name", "sha256"))
    for row in used:
        if not MEDIA.path(row.sha256).exists():
            continue  # what shows it goes on without it, and the ledger says so
        plain = first[row.name] == row.sha256
        ref = f"media/{row.name}" if plain else f"media/{row.sha256[:8]}-{row.name}"
        files[ref] = Media(ref=ref, sha256=row.sha256, size=row.size, type=row.type), MEDIA.path(row.sha256)
        refs[row.ref] = ref
    return files, refs


def media_named(contents: Iterable[str]) -> set[str]:
    """The hashes of the media that contents name."""
    return {sha for content in contents for ref in media_refs(content) for sha in _SHA.findall(ref)}


def copy_media(source: Course, target: Course, hashes: set[str]) -> None:
    """Lets a course have media of another; the bytes are there already, under their hash."""
    rows = CourseMedia.objects.filter(course=source, sha256__in=hashes)
    copies = [CourseMedia(course=target, sha256=row.sha256, name=row.name, type=row.type, size=row.size) for row in rows]
    CourseMedia.objects.bulk_create(copies, ignore_conflicts=True)


def media_size(course: Course, ref: str) -> int:
    """How large a picture of a course is, in bytes; none at all where it is not there."""
    shas = _SHA.findall(ref)
    found = CourseMedia.objects.filter(course=course, sha256__in=shas).values_list("size", flat=True).first()
    return found or 0
