"""Loads the demo course by the same services that the interface uses."""

from __future__ import annotations

import io
from datetime import datetime, timedelta
from pathlib import Path
from typing import Any
from zoneinfo import ZoneInfo

from django.contrib.auth.models import User
from django.db import transaction
from django.utils import timezone

from rogatum.core.exporting import export_bank
from rogatum.core.formats.shared import pandoc
from rogatum.core.items.outcomes import outcomes_in
from rogatum.core.quizzes.criteria import Draw
from rogatum.core.quizzes.plan import Plan
from rogatum.core.quizzes.settings import SectionDates, Settings, StudentException
from rogatum.core.receiving import read_source
from rogatum.standins.generator import LATER_CHAPTERS, chapters_archive
from rogatum.web.accounts.api import DEMO_ACCOUNTS
from rogatum.web.courses.members import share_with
from rogatum.web.courses.models import Course
from rogatum.web.courses.sections import Wanted as WantedSection
from rogatum.web.courses.sections import set_time
from rogatum.web.courses.services import create_course, set_outcomes
from rogatum.web.handoffs.banks import chosen
from rogatum.web.handoffs.models import HandOff
from rogatum.web.handoffs.repairing import apply_repair
from rogatum.web.handoffs.services import start_handoff
from rogatum.web.handoffs.standing_in import send_to_stand_in
from rogatum.web.handoffs.to_receivers import Wanted, start_handing_on
from rogatum.web.jobs.models import Job
from rogatum.web.jobs.services import start_job
from rogatum.web.pools.alike import start_looking
from rogatum.web.pools.models import Item, Pool
from rogatum.web.pools.schemas import Selection
from rogatum.web.pools.services import create_pool
from rogatum.web.pools.tree import PoolTree
from rogatum.web.quizzes.models import Quiz
from rogatum.web.quizzes.patterns import keep_pattern
from rogatum.web.quizzes.planning import apply_plan
from rogatum.web.quizzes.services import add_draw, add_items, change_quiz, create_quiz, quiz_for, share_out
from rogatum.web.receivers.services import receiver_known
from rogatum.web.sharing.services import send_copies
from rogatum.web.sources.many import repair
from rogatum.web.sources.models import Reading
from rogatum.web.sources.services import add_source

SOURCES = Path(__file__).parent / "sources"


def load_demo() -> None:
    """Makes the accounts, courses, pools, readings, a quiz and a hand-off. Does nothing when they are there."""
    if User.objects.filter(username=DEMO_ACCOUNTS[0][0]).exists():
        return
    mara, tobin = (User.objects.create_user(name, password=password) for name, password, _ in DEMO_ACCOUNTS)
    _soil_science(mara)
    _field_methods(tobin, mara)


def _read(course: Course, user: User, name: str, data: bytes, expected: int | None, kind: str = "upload") -> Reading:
    job = _finished(add_source(course, user, name, io.BytesIO(data), kind, expected))
    return Reading.objects.select_related("source__course").get(pk=job.result["reading"])


def _finished(job: Job) -> Job:
    job.refresh_from_db()
    if job.state != Job.State.DONE:
        raise RuntimeError(f"{job.label}: {job.problem}")
    Job.objects.filter(pk=job.pk).update(seen=True)
    return job


def _take(reading: Reading, user: User, **arguments: Any) -> None:
    course = reading.source.course
    with transaction.atomic():
        job = start_job(
            course,
            user,
            "take",
            f"Take items from {reading.source.name}",
            {"reading": reading.pk, "which": "all"} | arguments,
        )
    _finished(job)


def word_test() -> bytes:
    """The instructor's Word test, with automatic numbering and its key in bold."""
    return pandoc.written((SOURCES / "week-2-quiz.html").read_text(), "docx", "week-2-quiz.docx", {})


def last_years_quiz() -> bytes:
    """An export of last year's quiz in QTI 2.1: six questions, and the test with a draw."""
    reading = read_source(SOURCES / "last-years-quiz.json")
    return export_bank(reading.bank, reading.media, "qti-2.1").written.data


def _soil_science(user: User) -> None:
    course = create_course(user, "Soil Science 110")
    set_outcomes(course, user, outcomes_in((SOURCES / "outcomes.txt").read_text()))
    chapters = _read(course, user, "ground-beneath-chapters.zip", chapters_archive(), 64)
    repair(chapters, user, "points-odd", "points-to-1", None)
    _take(chapters, user)
    later = _read(course, user, "ground-beneath-5-and-6.zip", chapters_archive(LATER_CHAPTERS), 33)
    repair(later, user, "points-odd", "points-to-1", None)
    _take(later, user)
    _mixed_bank(course, user)
    _read(course, user, "chapter-4-from-paper.txt", (SOURCES / "chapter-4-from-paper.txt").read_bytes(), 16)
    _read(course, user, "quick-questions.csv", (SOURCES / "quick-questions.csv").read_bytes(), 8)
    _read(course, user, "week-2-quiz.docx", word_test(), 6)
    _read(course, user, "week-3-quiz-last-year.zip", last_years_quiz(), 6)
    _quizzes(course, user)
    with transaction.atomic():
        pool = Pool.objects.get(course=course, name="Chapter 2: Texture and Structure")
        job = start_handoff(course, user, "gift", Selection(all_matching=True, pool=pool.pk), None)
    _finished(job)
    _handed_on(course, user, pool)


def _handed_on(course: Course, user: User, pool: Pool) -> None:
    """A chapter at two receivers: one takes it whole; for the other its numbers are written out, and it is sent to its stand-in."""
    scope = {"selection": {"all_matching": True, "pool": pool.pk}}
    numbers = receiver_known(user, "written-numbers")
    what = chosen(course, Selection(all_matching=True, pool=pool.pk), None)
    # Typed texts stand for numbers as far as texts can: they mark otherwise, and are wanted all the same.
    of_numbers = [row.pk for row in what.rows if row.type == "numeric"]
    apply_repair(course, user, what, numbers, "", "turn:fill_in", of_numbers, "receiver")
    with transaction.atomic():
        job = start_handing_on(course, user, [scope], [Wanted("whole-shelf"), Wanted("written-numbers")], [])
    _finished(job)
    for handoff in HandOff.objects.filter(course=course, receiver="written-numbers"):
        send_to_stand_in(handoff, user)


def _mixed_bank(course: Course, user: User) -> None:
    """Questions of two skills in one pool, with the pools that they are to be sorted into; and two that stand elsewhere already."""
    mixed = _read(course, user, "mixed-bank.txt", (SOURCES / "mixed-bank.txt").read_bytes(), 25)
    _take(mixed, user)
    pool = Pool.objects.get(course=course, name="Mixed bank")
    for name in ("Describing a profile", "Taking samples"):
        create_pool(course, user, name, pool)
    with transaction.atomic():
        job = start_looking(course, user)
    _finished(job)


ZONE = "America/Chicago"
SECTIONS = (WantedSection(None, "Monday lab", 26), WantedSection(None, "Thursday lab", 22))


THREE_DAYS = timedelta(days=3)


def _monday(weeks: int, hour: int) -> datetime:
    """That hour of the Monday so many weeks from this one, on the course's clocks."""
    today = timezone.now().astimezone(ZoneInfo(ZONE)).replace(tzinfo=None)
    monday = today - timedelta(days=today.weekday()) + timedelta(weeks=weeks)
    return monday.replace(hour=hour, minute=0, second=0, microsecond=0, tzinfo=ZoneInfo(ZONE))


def _quizzes(course: Course, user: User) -> None:
    """A weekly quiz that is open now, a midterm that is past, and a final by plan without an item of either."""
    set_time(course, user, ZONE, SECTIONS)
    week = _weekly(course, user)
    midterm = _midterm(course, user)
    final = create_quiz(course, user, "Final")
    tree = PoolTree(course)
    chapters = [
        list(tree.path(pool.pk)) for pool in Pool.objects.filter(course=course, name__regex=r"^Chapter [1-356]:").order_by("name")
    ]
    rows = [Draw(pool=path, pick=pick) for path, pick in zip(chapters, (5, 5, 5, 4, 5), strict=True)]
    plan = Plan(rows=rows, apart_from=[str(week.pk), str(midterm.pk)], seed="soil")
    apply_plan(final, user, plan)
    change_quiz(final, user, None, Settings(opens=_monday(4, 9), closes=_monday(4, 11), time_limit=90, out_of=24, attempts=1))


def _weekly(course: Course, user: User) -> Quiz:
    quiz = create_quiz(course, user, "Week 3: From Rock to Water")
    fixed = Item.objects.filter(course=course, text__startswith="The table gives two cores").values_list("id", flat=True)
    add_items(quiz, user, list(fixed))
    for name, pick in (("Weathering", 3), ("Texture", 3), ("Storage", 4)):
        add_draw(quiz, user, Pool.objects.get(course=course, name=name), pick, 1)
    settings = Settings(
        opens=_monday(-1, 8),
        due=_monday(1, 8),
        closes=_monday(1, 20),
        late="with a deduction",
        late_deduction=0.1,
        time_limit=25,
        attempts=2,
        counts="best",
        show_key="after closing",
        sections=[
            SectionDates(section="Thursday lab", due=_monday(1, 8) + timedelta(days=3), closes=_monday(1, 20) + timedelta(days=3))
        ],
        exceptions=[StudentException(student="R. Vane", section="Monday lab", time_factor=1.5)],
    )
    change_quiz(quiz, user, None, settings)
    keep_pattern(quiz_for(user, quiz.pk), user, "Weekly quiz")
    return quiz


def _midterm(course: Course, user: User) -> Quiz:
    quiz, tree = create_quiz(course, user, "Midterm"), PoolTree(course)
    chapters = Pool.objects.filter(course=course, name__regex=r"^Chapter [12]:").order_by("name")
    apply_plan(quiz, user, Plan(rows=[Draw(pool=list(tree.path(pool.pk)), pick=5) for pool in chapters], seed="loam"))
    share_out(quiz, user, 20, 1, [])
    settings = Settings(
        opens=_monday(-2, 9),
        closes=_monday(-2, 10),
        time_limit=50,
        attempts=1,
        out_of=20,
        shown="one at a time",
        access_code="loam",
        show_key=_monday(-2, 18),
    )
    change_quiz(quiz, user, None, settings)
    return quiz


def _field_methods(user: User, mara: User) -> None:
    """A colleague's course, which mara may read; and a copy of a pool that the colleague sent her."""
    course = create_course(user, "Field Methods 210")
    reading = _read(course, user, "from-tobin.gift", (SOURCES / "from-tobin.gift").read_bytes(), 7)
    _take(reading, user)
    share_with(course, user, mara.username, "reader")
    pool = Pool.objects.get(course=course, name="Field Methods")
    send_copies(course, user, [pool], [], [mara.username], "From my field days, for your week on profiles.")
