"""Two readings of one test against each other: the ledger between them, and which arrived more whole."""

from __future__ import annotations

from typing import Any

from django.shortcuts import get_object_or_404

from rogatum.core.fidelity import compare_readings
from rogatum.core.finding import Finding
from rogatum.core.items import Bank, Place, SourceInfo, Stimulus, item_from
from rogatum.web.courses import rules as courses
from rogatum.web.courses.models import Course
from rogatum.web.errors import NotPossible
from rogatum.web.jobs.models import Job
from rogatum.web.jobs.services import CHANGING, AtWork, start_job, work
from rogatum.web.sources.batches import set_aside
from rogatum.web.sources.models import Comparison, Reading, ReadingItem, Source


def bank_of(reading: Reading, rows: list[ReadingItem] | None = None) -> Bank:
    """A reading as the core's bank, as it is now; its items are called by their positions."""
    rows = list(reading.items.all()) if rows is None else rows
    bank = Bank(title=reading.title, source=SourceInfo(name=reading.source.name, format=reading.format))
    bank.stimuli = [Stimulus(**stimulus) for stimulus in reading.stimuli.values()]
    for row in rows:
        key = str(row.position)
        bank.items.append(item_from(row.body | {"id": key}))
        bank.places[key] = Place(**row.place) if row.place else Place(where="")
        if row.path:
            bank.place_in_pool(key, list(row.path))
        bank.findings += [Finding(**{**finding, "item": key}) for finding in row.findings if not finding.get("dismissed")]
    bank.findings += [Finding(**finding) for finding in reading.findings if not finding.get("dismissed")]
    return bank


def start_comparison(a: Reading, b: Reading, user: Any) -> Job:
    """Queues the comparison of two readings of a course. Raises NotPossible for one and the same, or another course."""
    courses.must_edit(user, a.source.course)
    if a.pk == b.pk or a.source.course_id != b.source.course_id:
        raise NotPossible("Two different sources of one course can be compared.", "Choose two of them.", status=422)
    label = f"Compare {a.source.name} with {b.source.name}"
    return start_job(a.source.course, user, "compare", label, {"a": a.pk, "b": b.pk})


@work("compare", lane=CHANGING, changes=False)
def compare_work(job: Job, at_work: AtWork) -> None:
    mine = Reading.objects.filter(source__course=job.course, source__put_away=None).select_related("source")
    a, b = (get_object_or_404(mine, pk=job.arguments[side]) for side in ("a", "b"))
    courses.must_edit(job.user, job.course)
    at_work.progress(0, 1)
    ledger = compare_readings(bank_of(a), bank_of(b))
    with at_work.finishing() as done:
        made = Comparison.objects.create(course=job.course, a=a, b=b, ledger=ledger.model_dump(mode="json"))
        done({"comparison": made.pk})


def go_on_with(comparison: Comparison, user: Any, side: str) -> Source:
    """Goes on with one of the two: the other is set aside, and the one brought back where it was. Returns the one."""
    courses.must_edit(user, comparison.course)
    kept, other = (comparison.a, comparison.b) if side == "a" else (comparison.b, comparison.a)
    if kept.source.aside:
        set_aside(kept.source, user, False)
    set_aside(other.source, user, True)
    return kept.source


def comparison_for(user: Any, key: int) -> Comparison:
    """The comparison, or a 404 for a stranger."""
    rows = Comparison.objects.select_related("course", "a__source__course", "b__source__course")
    return get_object_or_404(rows, pk=key, course__in=courses.courses_for(user))


def reading_of(course: Course, source: int) -> Reading:
    """The current reading of a source of the course, or a 404."""
    return get_object_or_404(
        Reading.objects.select_related("source__course"), source=source, source__course=course, source__put_away=None, current=True
    )
