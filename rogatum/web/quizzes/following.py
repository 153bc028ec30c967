"""What quizzes do when a pool that they name is merged into another: their draws, plans and what was picked by these follow it."""

from __future__ import annotations

from typing import Any

from django.db.models import Q
from django.dispatch import receiver

from rogatum.web.courses.history import Recorder, fields_of
from rogatum.web.pools.arranging import pool_merged
from rogatum.web.pools.models import Pool
from rogatum.web.quizzes.models import Part, Quiz


@receiver(pool_merged)
def follow_pool(gone: Pool, into: Pool, record: Recorder, **_: object) -> None:
    """Names `into` wherever `gone` was named, within the operation that merges them."""
    named = Q(pool=gone) | Q(picked_from__pool=gone.pk)
    for part in Part.objects.filter(named, quiz__course=gone.course_id).order_by("pk"):
        before = fields_of(part)
        if part.pool_id == gone.pk:
            part.pool = into
        if part.picked_from:
            part.picked_from = _named_anew(part.picked_from, gone, into)
        part.save(update_fields=["pool", "picked_from"])
        record.changed("part", part, before)
    for quiz in Quiz.objects.filter(course=gone.course_id, plan__isnull=False):
        before = fields_of(quiz)
        quiz.plan = quiz.plan | {"rows": [_named_anew(row, gone, into) for row in quiz.plan.get("rows", [])]}
        if fields_of(quiz) != before:
            quiz.save(update_fields=["plan"])
            record.changed("quiz", quiz, before)


def _named_anew(draw: dict[str, Any], gone: Pool, into: Pool) -> dict[str, Any]:
    return draw | {"pool": into.pk} if draw.get("pool") == gone.pk else draw
