"""Hand-offs: items or quizzes as banks, written, read back, compared, kept; to a format, or to receivers."""

from __future__ import annotations

import secrets
from collections import Counter
from collections.abc import Sequence
from dataclasses import asdict, replace
from pathlib import Path
from typing import Any

from django.conf import settings
from django.utils import timezone

from rogatum import apart
from rogatum.core.checks.sampling import Sample, most_wrong, proof_words
from rogatum.core.fidelity import SampleProof
from rogatum.core.formats import format_named, writable_formats
from rogatum.core.formats.shared.base import TEACHERS_COPY, WriteOptions
from rogatum.web.bulk import one_state
from rogatum.web.courses import rules as courses
from rogatum.web.courses.models import Course
from rogatum.web.courses.rules import must
from rogatum.web.errors import NotPossible
from rogatum.web.files import HANDOFFS, Stored
from rogatum.web.handoffs.banks import bank_of, chosen, chosen_by, id_of
from rogatum.web.handoffs.models import HandOff
from rogatum.web.jobs.models import Job
from rogatum.web.jobs.services import CHANGING, AtWork, start_job, work
from rogatum.web.pools.models import Item
from rogatum.web.pools.schemas import Selection
from rogatum.web.pools.services import CHUNK
from rogatum.web.quizzes.models import Quiz


def start_handoff(
    course: Course,
    user: Any,
    format_name: str,
    selection: Selection | None,
    quiz: Quiz | None,
    options: WriteOptions = TEACHERS_COPY,
) -> Job:
    """Starts an export of items or of a quiz. Raises NotPossible where there is nothing to hand on."""
    must(courses.can_see(user, course) and (quiz is None or quiz.course_id == course.pk))
    entry = format_named(format_name)
    if entry not in writable_formats():
        raise NotPossible(f"{entry.label} is read but not written.", "Choose another format.", status=422)
    if options.copy not in entry.copies or options.versions > entry.most_versions:
        raise NotPossible(f"{entry.label} is not written so.", "Choose another copy or fewer versions.", status=422)
    what = chosen(course, selection, quiz)
    if not what.rows:
        raise NotPossible("There is nothing to hand on.", "Choose a pool or a quiz that has items.", status=422)
    if options.draws == "drawn" and quiz is not None and not options.seed:
        options = replace(options, seed=str(secrets.randbelow(9000) + 1000))
    arguments = {
        "format": format_name,
        "selection": selection.model_dump() if selection else None,
        "quiz": quiz.pk if quiz else None,
        "options": asdict(options),
    }
    return start_job(course, user, "hand-off", f"Write {what.title} as {entry.label}", arguments)


@work("hand-off", lane=CHANGING, changes=False)
def handoff_work(job: Job, at_work: AtWork) -> None:
    """Writes, reads back and compares apart; what was written is kept with its ledger or not at all."""
    course, said = job.course, job.arguments
    must(courses.can_see(job.user, course))
    with one_state():
        what = chosen_by(course, said)
        if what is None or not what.rows:
            raise NotPossible("There is nothing to hand on any more.", "Choose a pool or a quiz that has items.")
        bank, media = bank_of(course, what.title, what.rows, what.quiz)
    at_work.progress(1, 3)
    options = WriteOptions(**said.get("options") or {})
    with apart.export(bank, media, said["format"], options, Path(settings.SCRATCH), at_work.wanted) as made:
        at_work.progress(2, 3)
        with made.path.open("rb") as stream:
            stored = HANDOFFS.put(stream)
        in_it = {entry.a for entry in made.ledger.items}
        rows = [row.pk for row in what.rows if id_of(row) in in_it]  # of a draw, what was drawn
        made.ledger.proofs = proofs_of(rows)
        with at_work.finishing() as done:
            handoff = _keep(course, what.title, job, stored, made.suffix, len(rows), made.ledger.model_dump())
            note_handed(rows)
            done({"handoff": handoff.pk, "sound": made.ledger.sound})


def note_handed(keys: list[int]) -> None:
    now = timezone.now()
    for start in range(0, len(keys), CHUNK):
        Item.objects.filter(pk__in=keys[start : start + CHUNK]).update(handed=now)


def proofs_of(items: Sequence[int]) -> list[SampleProof]:
    """What samples proved of the readings that items came from, by source, the newest reading of each first."""
    rows = Item.objects.filter(pk__in=items, read_from__reading__sample__isnull=False)
    counts = Counter(rows.values_list("read_from__reading", flat=True))
    told = rows.values_list("read_from__reading", "read_from__reading__source__name", "read_from__reading__sample").distinct()
    found: dict[int, SampleProof] = {}
    for reading, name, said in told:
        sample = Sample(**said)
        if sample.looked and reading not in found:
            found[reading] = SampleProof(
                source=name,
                items=counts[reading],
                of=sample.of,
                looked=sample.looked,
                wrong=sample.wrong,
                most=most_wrong(sample.wrong, sample.looked, sample.of),
                seed=sample.seed,
                words=proof_words(sample.looked, sample.wrong, sample.of),
            )
    return list(found.values())


def _keep(course: Course, title: str, job: Job, stored: Stored, suffix: str, items: int, ledger: dict[str, Any]) -> HandOff:
    return HandOff.objects.create(
        course=course,
        title=title,
        format=job.arguments["format"],
        scope={k: job.arguments.get(k) for k in ("selection", "quiz", "options")},
        sha256=stored.sha256,
        suffix=suffix,
        size=stored.size,
        items=items,
        ledger=ledger,
    )
