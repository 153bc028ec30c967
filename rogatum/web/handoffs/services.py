"""Hand-offs: items or a quiz as a bank, written, read back, compared, kept."""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Iterable, Sequence
from dataclasses import asdict
from pathlib import Path
from typing import Any

from django.conf import settings
from django.shortcuts import get_object_or_404
from django.utils import timezone

from rogatum import apart
from rogatum.core.checks.sampling import Sample, most_wrong, proof_words
from rogatum.core.fidelity import SampleProof
from rogatum.core.formats import format_named, writable_formats
from rogatum.core.formats.shared.base import TEACHERS_COPY, WriteOptions
from rogatum.core.items import Bank, Media, SourceInfo, Stimulus
from rogatum.core.items.changes import map_content
from rogatum.core.items.content import with_refs
from rogatum.core.items.parts import content_fields
from rogatum.core.quizzes.catalogue import ids_of
from rogatum.core.quizzes.model import as_handed_on
from rogatum.web.bulk import one_state
from rogatum.web.courses import rules as courses
from rogatum.web.courses.models import Course
from rogatum.web.courses.rules import must
from rogatum.web.courses.services import media_used
from rogatum.web.errors import NotPossible
from rogatum.web.files import HANDOFFS, Stored
from rogatum.web.handoffs.models import HandOff
from rogatum.web.jobs.models import Job
from rogatum.web.jobs.services import CHANGING, AtWork, start_job, work
from rogatum.web.pools.bodies import core_item
from rogatum.web.pools.models import Item, Pool
from rogatum.web.pools.schemas import Selection
from rogatum.web.pools.services import CHUNK, selected
from rogatum.web.pools.tree import PoolTree
from rogatum.web.quizzes.models import Quiz
from rogatum.web.quizzes.services import shown_one
from rogatum.web.quizzes.storing import quiz_now

_COPY_WORDS = {"student": "for students", "key list": "for students with keys"}


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
    title, rows = _scope(course, selection, quiz)
    if not rows:
        raise NotPossible("There is nothing to hand on.", "Choose a pool or a quiz that has items.", status=422)
    arguments = {
        "format": format_name,
        "selection": selection.model_dump() if selection else None,
        "quiz": quiz.pk if quiz else None,
        "options": asdict(options),
    }
    return start_job(course, user, "hand-off", f"Write {title} as {entry.label}", arguments)


def _scope(course: Course, selection: Selection | None, quiz: Quiz | None) -> tuple[str, Sequence[Item]]:
    """What is handed on, as its title and its rows in order."""
    if quiz is not None:
        now = shown_one(quiz)
        keys = dict.fromkeys(int(key) for part in now.core.parts for key in ids_of(now.catalogue.given_by(part)))
        rows = Item.objects.in_bulk(list(keys))
        return quiz.title, [rows[key] for key in keys if key in rows]
    assert selection is not None
    pool = Pool.objects.filter(pk=selection.pool, course=course).first() if selection.pool else None
    return (pool.name if pool else course.name), list(selected(course, selection))


@work("hand-off", lane=CHANGING)
def handoff_work(job: Job, at_work: AtWork) -> None:
    """Writes, reads back and compares apart; what was written is kept with its ledger or not at all."""
    course, said = job.course, job.arguments
    must(courses.can_see(job.user, course))
    with one_state():
        selection = Selection(**said["selection"]) if said.get("selection") else None
        quiz = get_object_or_404(Quiz, pk=said["quiz"], course=course) if said.get("quiz") else None
        title, rows = _scope(course, selection, quiz)
        if not rows:
            raise NotPossible("There is nothing to hand on any more.", "Choose a pool or a quiz that has items.")
        bank, media = bank_of(course, title, rows, quiz)
    at_work.progress(1, 3)
    options = WriteOptions(**said.get("options") or {})
    with apart.export(bank, media, said["format"], options, Path(settings.SCRATCH), at_work.wanted) as made:
        at_work.progress(2, 3)
        with made.path.open("rb") as stream:
            stored = HANDOFFS.put(stream)
        made.ledger.proofs = proofs_of([row.pk for row in rows])
        with at_work.finishing() as done:
            handoff = _keep(course, title, job, stored, made.suffix, len(rows), made.ledger.model_dump())
            _note_handed([row.pk for row in rows])
            done({"handoff": handoff.pk, "sound": made.ledger.sound})


def _note_handed(keys: list[int]) -> None:
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


def made_as(handoff: HandOff) -> str:
    """For whom a document was written and in how many versions, where that is not the usual."""
    options = WriteOptions(**handoff.scope.get("options") or {})
    words = [_COPY_WORDS[options.copy]] if options.copy != "teacher" else []
    return ", ".join([*words, f"{options.versions} versions"] if options.versions > 1 else words)


def file_name(handoff: HandOff) -> str:
    """A name that says what is inside, so that a folder of downloads stays readable."""
    base = re.sub(r"[^\w\-]+", "-", f"{handoff.course.name} {handoff.title}".strip()).strip("-")
    made = re.sub(r"[^\w]+", "-", made_as(handoff))
    return f"{base}-{handoff.format}{'-' + made if made else ''}{handoff.suffix}"


def bank_of(
    course: Course, title: str, rows: Iterable[Item], quiz: Quiz | None = None
) -> tuple[Bank, dict[str, tuple[Media, Path]]]:
    """Rows as the core's bank, with media under their own names and where they lie; and the quiz as a value."""
    bank = Bank(title=title, source=SourceInfo(name=course.name, format="pools"))
    items = [(row, core_item(row)) for row in rows]
    stimuli = {row.pk: row.stimulus for row, _ in items if row.stimulus}
    passages = [stimulus["content"] for stimulus in stimuli.values()]
    files, refs = media_used(course, [*(content for _, item in items for content in content_fields(item)), *passages])

    def renamed(content: str) -> str:
        return with_refs(content, lambda ref: refs.get(ref, ref))

    tree = PoolTree(course)
    known_stimuli: dict[str, str] = {}
    for row, item in items:
        moved = map_content(item, renamed) if refs else item
        moved = moved.model_copy(update={"id": f"i{row.pk}", "stimulus": _stimulus(bank, row, known_stimuli, renamed)})
        bank.items.append(moved)
        bank.place_in_pool(moved.id, list(tree.path(row.pool_id)))
    bank.media = [entry for entry, _ in files.values()]
    if quiz is not None:
        core = quiz_now(quiz.pk, tree)
        bank.quizzes = [as_handed_on(core, {str(row.pk): f"i{row.pk}" for row, _ in items})]
    return bank, files


def _stimulus(bank: Bank, row: Item, known: dict[str, str], renamed: Any) -> str | None:
    """The id of the row's stimulus in the bank; equal passages are one."""
    if not row.stimulus:
        return None
    content = renamed(row.stimulus["content"])
    if content not in known:
        known[content] = f"s{len(known) + 1}"
        bank.stimuli.append(Stimulus(id=known[content], content=content))
    return known[content]
