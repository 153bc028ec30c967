"""Handing on to receivers: pools, quizzes and selections, to several receivers and sections, in one job; a folder for each."""

from __future__ import annotations

import io
from collections import Counter
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from pathlib import Path
from typing import Any

from django.conf import settings

from rogatum import apart
from rogatum.core.fidelity import OWN_FACETS, Ledger
from rogatum.core.formats import format_named
from rogatum.core.formats.shared.base import WriteOptions
from rogatum.core.items import Bank
from rogatum.core.items import Item as CoreItem
from rogatum.core.quizzes.timing import seconds_of
from rogatum.core.receivers.outlook import Forecast, ForecastItem, Sums, sums_of
from rogatum.web.bulk import one_state
from rogatum.web.courses import rules as courses
from rogatum.web.courses.models import Course
from rogatum.web.courses.rules import must
from rogatum.web.errors import NotPossible
from rogatum.web.files import HANDOFFS
from rogatum.web.handoffs.banks import Chosen, MediaFiles, bank_of, chosen_by, id_of, row_of, wordings_of
from rogatum.web.handoffs.forecasting import Line, line_for
from rogatum.web.handoffs.models import HandOff
from rogatum.web.handoffs.naming import base_name
from rogatum.web.handoffs.packing import PackedFile, packed, steps_page
from rogatum.web.handoffs.services import note_handed, proofs_of
from rogatum.web.jobs.models import Job
from rogatum.web.jobs.services import CHANGING, AtWork, start_job, work
from rogatum.web.receivers.services import receiver_known

MOST_AT_ONCE = 60
FITS, TO_SHORTEN, LIVE = "fits", "to shorten", "live quiz board"


@dataclass(frozen=True)
class Wanted:
    """A receiver to hand on to, in one of its formats or in the best of them."""

    receiver: str
    format: str = ""


def start_handing_on(
    course: Course, user: Any, scopes: Sequence[dict[str, Any]], wanted: Sequence[Wanted], sections: Sequence[str]
) -> Job:
    """Starts handing on each of what is chosen to each receiver, for each section. Raises NotPossible for what cannot be."""
    must(courses.can_see(user, course))
    for entry in wanted:
        known = receiver_known(user, entry.receiver)
        if entry.format and entry.format not in known.sheet.format_names():
            raise NotPossible(f"{known.sheet.title} does not take this format.", "Choose one that it takes.", status=422)
    whats = [_chosen(course, scope) for scope in scopes]
    if not any(what.rows for what in whats):
        raise NotPossible("There is nothing to hand on.", "Choose a pool or a quiz that has items.", status=422)
    count = len(whats) * len(wanted) * max(1, len(sections))
    if count > MOST_AT_ONCE:
        raise NotPossible(f"That would be {count} files.", f"Choose at most {MOST_AT_ONCE} at once.", status=422)
    arguments = {
        "scopes": list(scopes),
        "wanted": [{"receiver": entry.receiver, "format": entry.format} for entry in wanted],
        "sections": list(sections),
    }
    title = whats[0].title if len(whats) == 1 else f"{len(whats)} things"
    whom = f"{len(wanted)} receivers" if len(wanted) > 1 else receiver_known(user, wanted[0].receiver).sheet.title
    return start_job(course, user, "hand-on", f"Hand {title} on to {whom}", arguments)


def _chosen(course: Course, scope: dict[str, Any]) -> Chosen:
    what = chosen_by(course, scope)
    must(what is not None)
    assert what is not None
    return what


@dataclass(frozen=True)
class _Errand:
    """One thing for one receiver and section, with all that it needs of the database."""

    scope: dict[str, Any]
    what: Chosen
    line: Line
    section: str
    bank: Bank
    media: MediaFiles
    done: dict[str, list[str]]

    @property
    def before(self) -> dict[str, CoreItem]:
        """The pool's items that are written otherwise for the receiver: the ledger is held against these."""
        return {item.id: item for item in self.line.survey.before.values()}

    def meant(self) -> Bank:
        """What is handed on, as it is in the pools."""
        items = [self.before.get(item.id, item) for item in self.bank.items]
        return self.bank.model_copy(update={"items": items, "media": self.line.survey.bank.media})


@work("hand-on", lane=CHANGING, changes=False)
def hand_on_work(job: Job, at_work: AtWork) -> None:
    """Makes all folders, then keeps all of them or none."""
    course, said = job.course, job.arguments
    must(courses.can_see(job.user, course))
    with one_state():
        errands = list(_errands(course, job.user, said))
    if not errands:
        raise NotPossible("There is nothing to hand on any more.", "Choose a pool or a quiz that has items.")
    made: list[HandOff] = []
    for number, errand in enumerate(errands):
        at_work.progress(number, len(errands))
        made.append(_made(course, errand, str(job.pk), at_work))
    with at_work.finishing() as done:
        for handoff in made:
            handoff.save()
        note_handed(list({row_of(entry["a"]) for handoff in made for entry in handoff.ledger["items"]}))
        done({"handoffs": [handoff.pk for handoff in made], "group": str(job.pk)})


def _errands(course: Course, user: Any, said: dict[str, Any]) -> Iterator[_Errand]:
    for scope in said["scopes"]:
        what = _chosen(course, scope)
        if not what.rows:
            continue
        # Sections differ in the dates of quizzes alone.
        for section in said["sections"] if what.quiz and said["sections"] else [""]:
            for entry in said["wanted"]:
                receiver = receiver_known(user, entry["receiver"])
                line = line_for(course, what, receiver, entry["format"], section)
                bank, media = bank_of(course, what.title, what.rows, what.quiz, receiver.key, section)
                done = {str(key): wording.done for key, wording in wordings_of(course, what.rows, receiver.key).items()}
                yield _Errand(scope, what, line, section, bank, media, done)


def _made(course: Course, errand: _Errand, group: str, at_work: AtWork) -> HandOff:
    """The folder of an errand with its ledger, stored and not yet kept."""
    line, sheet = errand.line, errand.line.receiver.sheet
    name = base_name(course, errand.what.title, sheet.title, errand.section)
    files, ledger = _files(errand, name, at_work)
    _with_refused(ledger, line.told)
    in_it = {entry.a for entry in ledger.items}
    ledger.proofs = proofs_of([row.pk for row in errand.what.rows if id_of(row) in in_it])
    # Of a fixed draw on paper, what was drawn.
    told = replace(line.told, items=[item for item in line.told.items if item.id in in_it])
    page = steps_page(name, sheet, line.told.format, files, _left_out(line.told), _notes(line.told))
    stored = HANDOFFS.put(io.BytesIO(packed(name, files, page)))
    meant = HANDOFFS.put(io.BytesIO(errand.meant().model_dump_json().encode()))
    return HandOff(
        course=course,
        title=errand.what.title[:300],
        format=line.told.format,
        scope=errand.scope | {"options": None},
        sha256=stored.sha256,
        suffix=".zip",
        size=stored.size,
        items=sum(told.totals.values()) - told.totals["refused"],
        ledger=ledger.model_dump(),
        receiver=line.receiver.key,
        sheet=sheet.model_dump(mode="json"),
        section=errand.section,
        group=group,
        forecast=_kept_forecast(told),
        meant=meant.sha256,
        states={str(row.pk): row.digest for row in errand.what.rows},
        repairs=errand.done,
    )


def _kept_forecast(told: Forecast) -> dict[str, Any]:
    """What was forecast, to be held against what is found there."""
    return {
        **told.sums,
        "items": {item.id: ("refused" if item.refused else dict(item.facets)) for item in told.items},
        "quizzes": {quiz.a: quiz.facets for quiz in told.quizzes},
    }


def forecast_sums(handoff: HandOff) -> Sums | None:
    """What was forecast of a hand-off, summed up; one that was kept before there were two sums is counted from its items."""
    told = handoff.forecast
    if not told or "for_students" in told:
        return told and {name: told[name] for name in ("totals", "for_students", "for_you")}
    return sums_of([_kept_item(key, facets) for key, facets in told["items"].items()])


def _kept_item(key: str, facets: Any) -> ForecastItem:
    refused = facets == "refused"
    return ForecastItem(key, "", "multiple_choice", {} if refused else facets, refused=refused)


def _files(errand: _Errand, name: str, at_work: AtWork) -> tuple[list[PackedFile], Ledger]:
    """The files for the receiver, each read back and compared; and their ledger as one."""
    files, whole = [], Ledger()
    suffix, scratch = format_named(errand.line.told.format).suffix, Path(settings.SCRATCH)
    sheet = errand.line.receiver.sheet
    options = WriteOptions(draws="drawn", seed=sheet.name) if sheet.quiz.draws == "a fixed draw" else WriteOptions()
    for part, bank, says in _parts(errand):
        before, wanted = _before(errand, bank), at_work.wanted
        with apart.export(bank, errand.media, errand.line.told.format, options, scratch, wanted, before) as made:
            data = made.path.read_bytes()
        if part != TO_SHORTEN:
            whole.add(made.ledger)
        files.append(PackedFile(f"{name}{f' - {part}' if part else ''}{suffix or made.suffix}", data, says, part != TO_SHORTEN))
    limit = errand.line.receiver.sheet.limits.file_bytes
    large = [entry for entry in files if limit and len(entry.data) > limit]
    if large:
        raise NotPossible(
            f"{large[0].name} has {len(large[0].data):,} bytes, and {errand.line.receiver.sheet.title} takes {limit:,}.",
            "Hand on fewer items at once, or make their pictures smaller.",
        )
    return files, whole


def _parts(errand: _Errand) -> Iterator[tuple[str, Bank, str]]:
    """What stands in files of their own: all of it, as many as one takes, or what fits and what is to be shortened."""
    told, sheet = errand.line.told, errand.line.receiver.sheet
    kept = [item.id for item in told.items if not item.refused]
    live = sheet.kind == LIVE
    most = sheet.limits.items_per_file or len(kept) or 1
    runs = [kept[start : start + most] for start in range(0, len(kept), most)] if not errand.bank.quizzes else [kept]
    for number, run in enumerate(runs, 1):
        bank = _of(errand.bank, run)
        part = FITS if live and len(runs) == 1 else f"{FITS} {number}" if live else f"part {number} of {len(runs)}"
        words = f"{len(run)} {'item' if len(run) == 1 else 'items'}"
        yield part if live or len(runs) > 1 else "", _with_time(bank, sheet.points.default) if live else bank, words
    long = {item.id: item for item in told.items if item.refused and _too_long(item)}
    if live and long:
        bank = _of(errand.bank, list(long))
        told_so = bank.model_copy(update={"items": [_saying_why(item, long[item.id]) for item in bank.items]})
        yield TO_SHORTEN, told_so, f"{len(long)} not taken before they are shorter; not for the board, each says what is too long"


def _of(bank: Bank, ids: Sequence[str]) -> Bank:
    """The bank with these items alone; quizzes keep of their fixed items what is there."""
    wanted = set(ids)

    def kept(part: Any) -> Any:
        return part.model_copy(update={"items": [key for key in part.items if key in wanted]})

    return bank.model_copy(
        update={
            "items": [item for item in bank.items if item.id in wanted],
            "pools": [p.model_copy(update={"items": [key for key in p.items if key in wanted]}) for p in bank.pools],
            "quizzes": [quiz.model_copy(update={"parts": [kept(part) for part in quiz.parts]}) for quiz in bank.quizzes],
        }
    )


def _before(errand: _Errand, bank: Bank) -> list[CoreItem]:
    """Of a file's items those that are written otherwise, as they are in the pool, with what a file of this kind adds to each."""
    written, sheet = {item.id: item for item in bank.items}, errand.line.receiver.sheet
    found = [item for item in errand.before.values() if item.id in written]
    return [_timed(item, written[item.id], sheet.points.default) for item in found] if sheet.kind == LIVE else found


def _with_time(bank: Bank, points: float | None) -> Bank:
    """A live quiz has a clock: each item says its seconds, rounded to five, and its points."""
    return bank.model_copy(update={"items": [_timed(item, item, points) for item in bank.items]})


def _timed(item: CoreItem, written: CoreItem, points: float | None) -> CoreItem:
    """The item with the seconds that it has as it is written."""
    seconds = str(max(10, min(120, round(seconds_of(written) / 5) * 5)))
    worth = points if item.points is None else item.points
    return item.model_copy(update={"metadata": item.metadata | {"time": [seconds]}, "points": worth})


def _too_long(item: ForecastItem) -> bool:
    return all(note.excess is not None for note in item.notes if note.by == "receiver" and note.facet == "type")


def _saying_why(item: Any, told: ForecastItem) -> Any:
    words = "; ".join(note.excess.words for note in told.notes if note.excess)
    return item.model_copy(update={"metadata": item.metadata | {"too long": [words]}})


def _with_refused(ledger: Ledger, told: Forecast) -> None:
    """What is refused there was left out of the file, and the ledger says so."""
    known = {entry.a for entry in ledger.items}
    refused = [item for item in told.items if item.refused and item.id not in known]
    ledger.tell_left_out((item.id, item.title, item.why) for item in refused)


def _left_out(told: Forecast) -> list[tuple[str, str]]:
    return [(item.title, item.why) for item in told.items if item.refused]


def _notes(told: Forecast) -> list[str]:
    """What will be otherwise, each thing once, with how many items have it; what students see first."""
    counts: Counter[tuple[bool, str]] = Counter()
    for item in told.items:
        notes = [note for note in item.notes if note.verdict in ("recast", "changed", "lost") and not item.refused]
        counts.update({(note.facet in OWN_FACETS, note.message) for note in notes})
    ordered = sorted(counts.items(), key=lambda entry: (entry[0][0], -entry[1]))[:30]
    return [f"{message} ({count} {'item' if count == 1 else 'items'})" for (_, message), count in ordered] + [
        note.message for quiz in told.quizzes for note in quiz.notes
    ][:30]
