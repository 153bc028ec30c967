"""Copies of pools: into other courses of one's own at once, to colleagues as offers that they look at before they take them."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from django.conf import settings
from django.contrib.auth.models import User
from django.db import transaction
from django.shortcuts import get_object_or_404

from rogatum import apart
from rogatum.core.formats.shared.base import TEACHERS_COPY
from rogatum.core.items import Bank
from rogatum.web.courses import rules as courses
from rogatum.web.courses.history import Recorder
from rogatum.web.courses.members import account_named
from rogatum.web.courses.models import Course
from rogatum.web.courses.rules import must
from rogatum.web.database.steps import in_steps
from rogatum.web.errors import NotPossible
from rogatum.web.files import OFFERS
from rogatum.web.handoffs.banks import bank_of
from rogatum.web.jobs.models import Job
from rogatum.web.jobs.services import CHANGING, AtWork, Staged, start_job, work
from rogatum.web.pools import many
from rogatum.web.pools.models import Item, Pool
from rogatum.web.pools.services import count_words, pools_at
from rogatum.web.pools.tree import Path as PoolPath
from rogatum.web.pools.tree import PoolTree
from rogatum.web.sharing.models import Offer
from rogatum.web.sharing.rules import can_see, is_recipient, is_sender
from rogatum.web.sources.models import ReadingItem, Source
from rogatum.web.sources.services import source_of
from rogatum.web.sources.storing import kept


@dataclass(frozen=True)
class Sent:
    """What a copy of pools holds: their rows, and each with the path that it has below the pools that were chosen."""

    title: str
    rows: list[Item]
    paths: dict[int, PoolPath]
    # The numbers of the chosen pools that lie below no other chosen one.
    tops: list[int]


def _chosen(course: Course, pools: Sequence[Pool]) -> Sent:
    """Pools with all that lies below them; one that lies below another chosen one goes with that."""
    tree = PoolTree(course)
    chosen = {pool.pk for pool in pools}
    paths: dict[int, PoolPath] = {}
    tops = []
    for pool in pools:
        above = tree.path(pool.parent_id)
        if chosen & set(tree.above(pool.parent_id)):
            continue
        tops.append(pool)
        paths |= {key: tree.path(key)[len(above) :] for key in tree.below(pool.pk)}
    rows = list(Item.objects.filter(course=course, pool_id__in=paths))
    if not rows:
        raise NotPossible("There is nothing to send.", "Choose a pool that has items.", status=422)
    title = tops[0].name if len(tops) == 1 else f"{tops[0].name} and {len(tops) - 1} more"
    return Sent(title, rows, paths, [pool.pk for pool in tops])


@dataclass(frozen=True)
class Copies:
    """What came of sending copies: how many items each got, into how many courses, the offers; and jobs that still copy."""

    items: int
    courses: int
    offers: list[Offer]
    jobs: list[Job]


def send_copies(
    course: Course, user: Any, pools: Sequence[Pool], targets: Sequence[Course], names: Sequence[str], note: str
) -> Copies:
    """Copies pools with what lies below them into courses that one may change, and offers them to colleagues: all of it or nothing.

    Many items are copied by a job in each course. Raises NotPossible for a course that one may not change, and for a name that is
    no account.
    """
    must(courses.can_see(user, course))
    for target in targets:
        courses.must_edit(user, target)
    people = _people(user, names)
    if not people and not targets:
        raise NotPossible("There is nobody to send it to.", "Name an account.", status=422)
    sent = _chosen(course, pools)
    if not people:
        return Copies(len(sent.rows), len(targets), [], _copy_into(targets, sent, course, user))
    bank, media = bank_of(course, sent.title, sent.rows)
    with (
        apart.export(_below(bank, sent), media, "items-json", TEACHERS_COPY, Path(settings.SCRATCH)) as made,
        made.path.open("rb") as stream,
        OFFERS.writing(stream) as stored,
        transaction.atomic(),
    ):
        stored.place()
        jobs = _copy_into(targets, sent, course, user)
        offers = [_offer(course, user, person, sent, note, stored.sha256, made) for person in people]
    return Copies(len(sent.rows), len(targets), offers, jobs)


def _people(user: Any, names: Sequence[str]) -> list[User]:
    people = [account_named(name) for name in dict.fromkeys(name.strip() for name in names)]
    if any(person.pk == user.pk for person in people):
        raise NotPossible("This is your own account.", "To copy into a course of yours, choose the course.", status=422)
    return people


def _copy_into(targets: Sequence[Course], sent: Sent, course: Course, user: Any) -> list[Job]:
    """Copies into each course, or starts the jobs that do."""
    words = f"{count_words(len(sent.rows))} from {course.name}"
    if len(sent.rows) * len(targets) > many.AT_ONCE:
        said = {"from": course.pk, "pools": sent.tops}
        return [start_job(target, user, "copy-pools", f"Copy {words}", said) for target in targets]
    all_of_them = [many.Copying(sent.rows, course, target) for target in targets]
    with transaction.atomic():
        for copying in all_of_them:
            with Recorder(copying.target, user, f"Copied {words}") as record:
                made = _made_pools(copying.target, sent.paths, record)
                copying.write(lambda row, made=made: made[row.pool_id], record)  # type: ignore[misc]
    return []


def _made_pools(target: Course, paths: dict[int, PoolPath], record: Recorder) -> dict[int, Pool]:
    """The pools of a course by the numbers of those that are copied into them."""
    made = pools_at(target, paths.values(), record)
    return {key: made[path] for key, path in paths.items()}


@work("copy-pools", lane=CHANGING)
def copy_work(job: Job, at_work: AtWork) -> None:
    """First the pools, then their items, in short transactions."""
    source = get_object_or_404(courses.courses_for(job.user), pk=job.arguments["from"])
    sent = _chosen(source, list(Pool.objects.filter(course=source, pk__in=job.arguments["pools"])))
    staged = Staged(at_work, f"Copied {count_words(len(sent.rows))} from {source.name}")
    made: dict[int, Pool] = {}
    for part in in_steps(sorted(sent.paths.items(), key=lambda entry: len(entry[1])), many.STEP):
        with staged.step() as record:
            made |= _made_pools(job.course, dict(part), record)
    for rows in staged.each(sent.rows, many.STEP):
        copying = many.Copying(rows, source, job.course)
        with staged.step() as record:
            copying.write(lambda row: made[row.pool_id], record)
    with staged.finishing() as (_record, finish):
        finish({"count": len(sent.rows)})


def _below(bank: Bank, sent: Sent) -> Bank:
    """The bank with its pools named from the chosen ones on: what lies above them is not sent."""
    named = {f"i{row.pk}": list(sent.paths[row.pool_id]) for row in sent.rows}
    bank.pools = []
    for item in bank.items:
        bank.place_in_pool(item.id, named[item.id])
    return bank


def _offer(course: Course, user: User, person: User, sent: Sent, note: str, sha256: str, made: apart.Exported) -> Offer:
    return Offer.objects.create(
        course=course,
        course_name=course.name,
        sender=user,
        recipient=person,
        title=sent.title[:300],
        note=note.strip()[:1000],
        pools=len(sent.paths),
        items=len(sent.rows),
        sha256=sha256,
        suffix=made.suffix,
        ledger=made.ledger.model_dump(mode="json"),
    )


def look_at(offer: Offer, user: Any, course: Course) -> Job:
    """Makes a source of an offer in a course of who it was sent to, and reads it: it waits in Check then."""
    must(is_recipient(user, offer))
    courses.must_edit(user, course)
    with OFFERS.path(offer.sha256).open("rb") as stream, kept(stream) as stored:
        # Asked within the transaction: of two looks at once, one makes a source.
        offer.refresh_from_db()
        if offer.state in (Offer.State.DECLINED, Offer.State.WITHDRAWN):
            raise NotPossible("This offer is no longer open.", "Ask for it again.")
        if offer.source is not None:
            raise NotPossible("You look at this offer already.", f"It is among the sources as {offer.source.name}.")
        name = f"{offer.title} from {offer.sender.get_username()}{offer.suffix}"
        job = source_of(stored, Source(course=course, name=name, kind=Source.Kind.UPLOAD, expected=offer.items), user)
        offer.source_id, offer.state = job.arguments["source"], Offer.State.LOOKED_AT
        offer.save(update_fields=["source", "state"])
    return job


def decline(offer: Offer, user: Any) -> Offer:
    """Says no to an offer: by whom it was sent to, or taken back by who sent it, as long as nobody looks at it."""
    must(can_see(user, offer))
    with transaction.atomic():
        offer.refresh_from_db()
        if offer.state != Offer.State.WAITING:
            raise NotPossible(f"This offer was {offer.state} already.", "Look at what became of it.")
        offer.state = Offer.State.WITHDRAWN if is_sender(user, offer) else Offer.State.DECLINED
        offer.save(update_fields=["state"])
    return offer


def reopen(offer: Offer, user: Any) -> Offer:
    """Takes back a no: who declined an offer, or withdrew it, has it waiting again."""
    must(can_see(user, offer))
    mine = Offer.State.WITHDRAWN if is_sender(user, offer) else Offer.State.DECLINED
    if not Offer.objects.filter(pk=offer.pk, state=mine).update(state=Offer.State.WAITING):
        offer.refresh_from_db()
        raise NotPossible(f"This offer was {offer.state} already.", "Look at what became of it.")
    offer.state = Offer.State.WAITING
    return offer


def note_taken(offers: Sequence[Offer]) -> dict[int, int]:
    """How many items of each offer were taken; those of which some were are marked so, and stay so."""
    sources = {offer.source_id: offer for offer in offers if offer.source_id}
    counted = dict.fromkeys((offer.pk for offer in offers), 0)
    rows = ReadingItem.objects.filter(reading__source__in=sources, taken__isnull=False).values_list("reading__source", flat=True)
    for source in rows:
        counted[sources[source].pk] += 1
    fresh = [offer for offer in offers if counted[offer.pk] and offer.state == Offer.State.LOOKED_AT]
    for offer in fresh:
        offer.state = Offer.State.TAKEN
    Offer.objects.filter(pk__in=[offer.pk for offer in fresh]).update(state=Offer.State.TAKEN)
    return counted
