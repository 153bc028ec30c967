"""What waits in each stage of a course, for the work line."""

from __future__ import annotations

from django.apps import apps
from ninja import Schema

from rogatum.core.finding import NEED_LOOK
from rogatum.web.courses.models import Course


class Summary(Schema):
    sources: int
    check: int
    flagged: int
    pools: int
    quizzes: int
    handoffs: int


def summary_of(course: Course) -> Summary:
    rows = apps.get_model("sources.ReadingItem").objects.filter(reading__source__course=course, taken__isnull=True, dropped=False)
    rows = rows.filter(reading__current=True, reading__source__aside=False, reading__source__put_away=None)
    return Summary(
        sources=apps.get_model("sources.Source").objects.filter(course=course, put_away=None).count(),
        check=rows.count(),
        flagged=rows.filter(worst__in=NEED_LOOK).count(),
        pools=apps.get_model("pools.Item").objects.filter(course=course).count(),
        quizzes=apps.get_model("quizzes.Quiz").objects.filter(course=course).count(),
        handoffs=apps.get_model("handoffs.HandOff").objects.filter(course=course).count(),
    )
