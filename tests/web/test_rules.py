"""Permission is asked in the services, before anything is read: each of them, for each role; nothing is left to endpoints."""

from __future__ import annotations

import inspect
import io
from pathlib import Path

import pytest
from django.contrib.auth.models import AnonymousUser
from django.http import Http404

from rogatum.core.items import item_from
from rogatum.core.items.deciding import PaperDecision
from rogatum.core.mending.wishes import PointsByRatio
from rogatum.core.pools.changing import SetPoints
from rogatum.core.quizzes.criteria import Draw
from rogatum.core.quizzes.editing import worth
from rogatum.core.quizzes.model import Settings
from rogatum.core.quizzes.plan import Plan
from rogatum.core.receivers.shipped import shipped_sheet
from rogatum.web.courses import members, sections
from rogatum.web.courses import rules as course_rules
from rogatum.web.courses import services as course_services
from rogatum.web.courses.models import Course, Operation
from rogatum.web.errors import NotPossible
from rogatum.web.files import Stored
from rogatum.web.handoffs import repairing, standing_in, to_receivers, wordings
from rogatum.web.handoffs import rules as handoff_rules
from rogatum.web.handoffs import services as handoffs
from rogatum.web.handoffs.banks import chosen
from rogatum.web.handoffs.models import HandOff
from rogatum.web.jobs import rules as job_rules
from rogatum.web.jobs import services as jobs
from rogatum.web.jobs.models import Job
from rogatum.web.keeping import saving
from rogatum.web.keeping import services as keeping
from rogatum.web.pools import alike, arranging, item_page, many, sorting
from rogatum.web.pools import rules as pool_rules
from rogatum.web.pools import services as pools
from rogatum.web.pools.models import Item, KeptFilter, LikePair, Pool
from rogatum.web.pools.schemas import Selection
from rogatum.web.pools.sorting_schemas import NewPool
from rogatum.web.quizzes import carrying, patterns, planning, trying
from rogatum.web.quizzes import rules as quiz_rules
from rogatum.web.quizzes import services as quizzes
from rogatum.web.quizzes.edits import TakeOut
from rogatum.web.quizzes.models import Part, Pattern, Quiz
from rogatum.web.receivers import rules as receiver_rules
from rogatum.web.receivers import services as receivers
from rogatum.web.receivers.models import Receiver
from rogatum.web.sharing import services as sharing
from rogatum.web.sharing.models import Offer
from rogatum.web.sources import batches, comparing, foreseeing, looking, sampling, taking
from rogatum.web.sources import items as reading_items
from rogatum.web.sources import many as reading_many
from rogatum.web.sources import rules as source_rules
from rogatum.web.sources import services as sources
from rogatum.web.sources.models import Batch, Comparison, Reading, ReadingItem, Source
from rogatum.web.undoing import services as undoing
from tests.web.test_access import state

ALL = Selection(all_matching=True)
RATIO = PointsByRatio(was=1, becomes=2)


def row(model):
    """The one of its kind that the world has, the newest where it has several."""
    return model.objects.order_by("pk").last()


def naming():
    return taking.Naming("{chapter}")


BOARD = receivers.Known("live-board", shipped_sheet("live-board"))
KEPT = Stored("0" * 64, 1, Path("x"), Path("y"))
PLAN = Plan(rows=[Draw(pool=[], pick=1)], seed="s")


def _tried(quiz, user):
    """The quiz with an attempt that was handed in, where the account may try it."""
    trying.begin(quiz, user, "", "s")
    trying.submit(quiz, user)
    return quiz


# Every service that takes an account, called as an endpoint would; what else it needs is the owner's.
CALLS = {
    pools.create_pool: lambda user: pools.create_pool(row(Course), user, "New"),
    pools.change_pool: lambda user: pools.change_pool(row(Pool), user, "Renamed", None, False),
    many.delete_pool: lambda user: many.delete_pool(row(Pool), user),
    pools.change_item: lambda user: pools.change_item(row(Item), user, item_from(row(Item).body)),
    pools.keep_filter: lambda user: pools.keep_filter(row(Course), user, "Mine", Selection()),
    pools.forget_filter: lambda user: pools.forget_filter(row(Course), user, row(KeptFilter).pk),
    many.tally: lambda user: many.tally(row(Course), user, ALL, SetPoints(points=3)),
    many.change_many: lambda user: many.change_many(row(Course), user, ALL, SetPoints(points=3)),
    many.move_items: lambda user: many.move_items(row(Course), user, ALL, row(Pool)),
    many.copy_items: lambda user: many.copy_items(row(Course), user, ALL, row(Course), row(Pool)),
    many.delete_items: lambda user: many.delete_items(row(Course), user, ALL),
    many.choose_subset: lambda user: many.choose_subset(row(Course), user, ALL, 1, 1, ""),
    arranging.place_pool: lambda user: arranging.place_pool(row(Pool), user, None, None),
    arranging.merge_pools: lambda user: arranging.merge_pools(row(Pool), user, [Pool.objects.first()]),
    arranging.new_names: lambda user: arranging.new_names(row(Course), user, [row(Pool).pk], "{name} x", "", ""),
    arranging.rename_pools: lambda user: arranging.rename_pools(row(Course), user, [row(Pool).pk], "{name} x", "", ""),
    arranging.remove_empty: lambda user: arranging.remove_empty(row(Course), user),
    arranging.deleted_in: lambda user: arranging.deleted_in(row(Course), user),
    undoing.bring_back: lambda user: undoing.bring_back(row(Course), user, row(Operation).pk),
    sorting.next_to_sort: lambda user: sorting.next_to_sort(row(Pool), user, [], []),
    sorting.send: lambda user: sorting.send(row(Pool), user, row(Item).pk, Pool.objects.first()),
    sorting.propose_split: lambda user: sorting.propose_split(row(Course), user, ALL, "type", None),
    sorting.split_into: lambda user: sorting.split_into(row(Course), user, None, [NewPool(name="S", items=[row(Item).pk])]),
    alike.start_looking: lambda user: alike.start_looking(row(Course), user),
    alike.decide: lambda user: alike.decide(row(LikePair), user, "a"),
    alike.pair_for: lambda user: alike.pair_for(user, row(LikePair).pk),
    alike.pairs_for: lambda user: _none_is_404(alike.pairs_for(user) if user.is_authenticated else LikePair.objects.none()),
    item_page.versions_of: lambda user: item_page.versions_of(row(Item), user),
    item_page.restore_version: lambda user: item_page.restore_version(row(Item), user, row(Operation).pk),
    members.members_of: lambda user: members.members_of(row(Course), user),
    members.share_with: lambda user: members.share_with(row(Course), user, "ola", "editor"),
    members.part_with: lambda user: members.part_with(row(Course), user, editors().pk),
    course_services.rename_course: lambda user: course_services.rename_course(row(Course), user, "Other"),
    course_services.delete_course: lambda user: course_services.delete_course(row(Course), user),
    course_services.bring_back_course: lambda user: course_services.bring_back_course(user, row(Course).pk),
    sharing.send_copies: lambda user: sharing.send_copies(
        row(Course), user, [row(Pool)], [], ["ola" if user.username != "ola" else "edda"], ""
    ),
    sharing.look_at: lambda user: sharing.look_at(row(Offer), user, row(Course)),
    sharing.decline: lambda user: sharing.decline(row(Offer), user),
    sharing.reopen: lambda user: sharing.reopen(row(Offer), user),
    keeping.start_opening: lambda user: keeping.start_opening(user, io.BytesIO(b"no zip"), "x.zip"),
    saving.save_course: lambda user: saving.save_course(row(Course), user, io.BytesIO()),
    quizzes.quiz_for: lambda user: quizzes.quiz_for(user, row(Quiz).pk),
    quizzes.create_quiz: lambda user: quizzes.create_quiz(row(Course), user, "Q"),
    quizzes.change_quiz: lambda user: quizzes.change_quiz(row(Quiz), user, "Q", Settings()),
    quizzes.delete_quiz: lambda user: quizzes.delete_quiz(row(Quiz), user),
    quizzes.add_draw: lambda user: quizzes.add_draw(row(Quiz), user, row(Pool), 1, None),
    quizzes.add_selection: lambda user: quizzes.add_selection(row(Quiz), user, ALL),
    quizzes.quiz_of: lambda user: quizzes.quiz_of(row(Course), user, "Q", ALL),
    quizzes.add_items: lambda user: quizzes.add_items(row(Quiz), user, [row(Item).pk]),
    quizzes.change_part: lambda user: quizzes.change_part(row(Part), user, worth(5)),
    quizzes.delete_part: lambda user: quizzes.delete_part(row(Part), user),
    quizzes.changed: lambda user: quizzes.changed(row(Quiz), user, "Changed", lambda core: core),
    quizzes.edit: lambda user: quizzes.edit(row(Quiz), user, TakeOut(do="take out", parts=[row(Part).pk])),
    quizzes.share_out: lambda user: quizzes.share_out(row(Quiz), user, 8, 1, []),
    planning.look: lambda user: planning.look(row(Quiz), user, PLAN),
    planning.apply_plan: lambda user: planning.apply_plan(row(Quiz), user, PLAN),
    planning.rows_by_weight: lambda user: planning.rows_by_weight(row(Quiz), user, 2, [row(Pool).pk], False),
    planning.alike: lambda user: planning.alike(row(Quiz), user, row(Item)),
    planning.draw_again: lambda user: planning.draw_again(row(Part), user, None),
    patterns.keep_pattern: lambda user: patterns.keep_pattern(row(Quiz), user, "Weekly"),
    patterns.put_on: lambda user: patterns.put_on(row(Quiz), user, row(Pattern).pk),
    patterns.forget_pattern: lambda user: patterns.forget_pattern(row(Course), user, row(Pattern).pk),
    carrying.carry: lambda user: carrying.carry([row(Quiz)], user, row(Course), carrying.Way(1)),
    carrying.give_section: lambda user: carrying.give_section([row(Quiz)], user, "Monday", 1, 0),
    trying.come: lambda user: trying.come(row(Quiz), user, True),
    trying.set_up: lambda user: trying.set_up(row(Quiz), user, "", "", "now", True),
    trying.begin: lambda user: trying.begin(row(Quiz), user, "", "s"),
    trying.answer: lambda user: trying.answer(row(Quiz), user, {}),
    trying.turn: lambda user: trying.turn(row(Quiz), user, 0),
    trying.submit: lambda user: trying.submit(row(Quiz), user),
    trying.review: lambda user: trying.review(_tried(row(Quiz), user), user, 1),
    trying.draws_of_many: lambda user: trying.draws_of_many(row(Quiz), user, 3, "s"),
    sections.set_time: lambda user: sections.set_time(row(Course), user, "UTC", []),
    sources.source_of: lambda user: sources.source_of(KEPT, Source(course=row(Course), name="x.txt"), user),
    sources.add_source: lambda user: sources.add_source(row(Course), user, "x.txt", io.BytesIO(b"1. A?")),
    sources.add_paste: lambda user: sources.add_paste(row(Course), user, "1. A?", "", None, {}),
    sources.add_folder: lambda user: sources.add_folder(row(Course), user, "f", []),
    sources.read_again: lambda user: sources.read_again(row(Source), user, 5),
    sources.join_keys: lambda user: sources.join_keys(row(Source), row(Source), user),
    sources.part_keys: lambda user: sources.part_keys(row(Source), user),
    sources.delete_source: lambda user: sources.delete_source(row(Source), user),
    sources.correct_text: lambda user: sources.correct_text(row(Reading), user, "1. A?\n*a. x\nb. y"),
    reading_items.edit_item: lambda user: reading_items.edit_item(row(ReadingItem), user, item_from(row(ReadingItem).body)),
    reading_many.repair: lambda user: reading_many.repair(row(Reading), user, "two-keys", "to-multiple-response", None),
    reading_many.dismiss: lambda user: reading_many.dismiss(row(Reading), user, "two-keys", None),
    reading_many.drop: lambda user: reading_many.drop(row(Reading), user, [1], True),
    reading_many.repair_all: lambda user: reading_many.repair_all(row(Course), user, [row(Reading)], "two-keys", "only-1"),
    reading_items.decide_item: lambda user: reading_items.decide_item(row(ReadingItem), user, PaperDecision()),
    reading_many.plan_mending: lambda user: reading_many.plan_mending(row(Reading), user, RATIO, None, None),
    reading_many.mend: lambda user: reading_many.mend(row(Reading), user, RATIO, None, None),
    reading_items.set_passage: lambda user: reading_items.set_passage(row(Reading), user, "s1", "Field notes."),
    reading_many.put_into_pool: lambda user: reading_many.put_into_pool(row(Reading), user, [1], "Own"),
    batches.batch_of: lambda user: batches.batch_of(row(Course), user, "drop"),
    batches.name_batch: lambda user: batches.name_batch(row(Batch), user, "Chapters"),
    batches.set_aside: lambda user: batches.set_aside(row(Source), user, True),
    foreseeing.foresee_one: lambda user: foreseeing.foresee_one(row(Reading), user, "all", [], naming()),
    foreseeing.foresee: lambda user: foreseeing.foresee(row(Course), user, [row(Source).pk], "all", naming()),
    batches.start_take_all: lambda user: batches.start_take_all(row(Course), user, [row(Source).pk], "all", {}),
    batches.batch_for: lambda user: batches.batch_for(user, row(Batch).pk),
    comparing.start_comparison: lambda user: comparing.start_comparison(row(Reading), row(Reading), user),
    comparing.go_on_with: lambda user: comparing.go_on_with(row(Comparison), user, "a"),
    comparing.comparison_for: lambda user: comparing.comparison_for(user, row(Comparison).pk),
    sampling.start_sample: lambda user: sampling.start_sample(row(Reading), user, 1, None, 1),
    sampling.judge_sample: lambda user: sampling.judge_sample(row(Reading), user, 1, True),
    sampling.drop_sample: lambda user: sampling.drop_sample(row(Reading), user),
    sampling.unflagged: lambda user: sampling.unflagged(row(Reading), user),
    looking.to_look_at: lambda user: looking.to_look_at(row(Course), user),
    looking.source_parts: lambda user: looking.source_parts(row(ReadingItem), user),
    looking.search_source: lambda user: looking.search_source(row(Reading), user, "sand"),
    looking.known_of: lambda user: looking.known_of(row(Reading), user),
    looking.twins_of: lambda user: looking.twins_of(row(Reading), user),
    looking.proof_pdf: lambda user: looking.proof_pdf(row(Reading), user, True),
    course_services.add_media: lambda user: course_services.add_media(row(Course), user, "a.png", io.BytesIO(b"x"), 1),
    course_services.set_outcomes: lambda user: course_services.set_outcomes(row(Course), user, []),
    course_services.put_off_advice: lambda user: course_services.put_off_advice(row(Course), user, []),
    course_services.read_rows: lambda user: course_services.read_rows(row(Course), user, "a.csv", io.BytesIO(b"a")),
    taking.start_take: lambda user: taking.start_take(row(Reading), user, "all", [], {"which": "all"}),
    to_receivers.start_handing_on: lambda user: to_receivers.start_handing_on(
        row(Course), user, [{}], [to_receivers.Wanted("whole-shelf")], []
    ),
    wordings.write_for: lambda user: wordings.write_for(row(Course), user, row(Item), BOARD, item_from(row(Item).body)),
    wordings.forget_wording: lambda user: wordings.forget_wording(row(Course), user, row(Item), BOARD),
    repairing.apply_repair: lambda user: repairing.apply_repair(
        row(Course), user, chosen(row(Course), ALL, None), BOARD, "", "cut-title", [], "pool"
    ),
    standing_in.send_to_stand_in: lambda user: standing_in.send_to_stand_in(row(HandOff), user),
    receivers.receiver_known: lambda user: receivers.receiver_known(user, receivers.key_of(row(Receiver))),
    receivers.change_receiver: lambda user: receivers.change_receiver(row(Receiver), user, BOARD.sheet, 1),
    receivers.forget_receiver: lambda user: receivers.forget_receiver(row(Receiver), user),
    receivers.add_receiver: lambda user: receivers.add_receiver(user, BOARD.sheet),
    handoffs.start_handoff: lambda user: handoffs.start_handoff(row(Course), user, "gift", ALL, None),
    jobs.start_job: lambda user: jobs.start_job(row(Course), user, "hand-off", "x", {}),
    jobs.start_own_job: lambda user: jobs.start_own_job(user, "open-course", "x", {}),
    jobs.retry_job: lambda user: jobs.retry_job(user, str(Job.objects.first().pk)),
    undoing.undo: lambda user: undoing.undo(row(Operation), user),
    undoing.operation_for: lambda user: undoing.operation_for(user, row(Operation).pk),
}
# What a reader of the course may do as well: look, copy out of it, keep what is their own.
LOOKS = {
    pools.keep_filter,
    many.choose_subset,
    arranging.new_names,
    arranging.deleted_in,
    sorting.next_to_sort,
    sorting.propose_split,
    item_page.versions_of,
    members.members_of,
    saving.save_course,
    sharing.send_copies,
    quizzes.quiz_for,
    planning.look,
    planning.rows_by_weight,
    planning.alike,
    trying.come,
    trying.set_up,
    trying.begin,
    trying.answer,
    trying.turn,
    trying.submit,
    trying.review,
    trying.draws_of_many,
    foreseeing.foresee,
    foreseeing.foresee_one,
    batches.batch_for,
    comparing.comparison_for,
    sampling.unflagged,
    looking.to_look_at,
    looking.source_parts,
    looking.search_source,
    looking.known_of,
    looking.twins_of,
    looking.proof_pdf,
}
# What is for one account alone, whoever else may see the course; and what is for anybody who has signed in.
PRIVATE = {
    pools.forget_filter,
    jobs.retry_job,
    undoing.undo,
    undoing.operation_for,
    sharing.look_at,
    sharing.decline,
    sharing.reopen,
    alike.pair_for,
    alike.pairs_for,
    course_services.bring_back_course,
    receivers.receiver_known,
    receivers.change_receiver,
    receivers.forget_receiver,
}
ANYBODYS = {keeping.start_opening, jobs.start_own_job, receivers.add_receiver}
OWNERS = {course_services.delete_course, members.share_with, members.part_with}
ROLES = ("editor", "reader", "stranger", "nobody")


def account(role, world):
    return AnonymousUser() if role == "nobody" else getattr(world, role)


def editors():
    return row(Course).members.get(role="editor")


def _none_is_404(rows):
    """A query that gives nothing says no as well."""
    if not rows.exists():
        raise Http404
    return rows


def is_allowed(role, service):
    if service in ANYBODYS:
        return role != "nobody"
    if role in ("stranger", "nobody") or service in PRIVATE:
        # Who sent the offer is a stranger to the course, and may take it back.
        return role == "stranger" and service in (sharing.decline, sharing.reopen)
    if service is members.part_with:
        return role == "editor"  # who leaves
    return service in LOOKS or (role == "editor" and service not in OWNERS)


@pytest.mark.parametrize("role", ROLES)
@pytest.mark.parametrize("service", CALLS, ids=lambda service: service.__name__)
def test_a_service_refuses_who_may_not_and_changes_nothing(world, service, role):
    if is_allowed(role, service):
        return
    before = state()
    with pytest.raises((NotPossible, Http404)) as refused:
        CALLS[service](account(role, world))
    if isinstance(refused.value, NotPossible):
        told = refused.value.problem
        if role in ("stranger", "nobody") or service in PRIVATE:
            assert refused.value.status == 404 and "no such thing" in told.fact
        else:
            assert refused.value.status == 403 and told.way_out.startswith("Ask ")
    assert state() == before


@pytest.mark.parametrize("service", sorted(LOOKS, key=lambda service: service.__name__), ids=lambda service: service.__name__)
def test_a_reader_looks_and_copies(world, service):
    """None of what a reader may do is refused to one, whatever else stands in its way."""
    try:
        CALLS[service](world.reader)
    except NotPossible as refused:
        assert refused.status not in (403, 404), refused.problem


def test_no_service_that_takes_an_account_is_left_out():
    modules = (
        pools, many, arranging, sorting, alike, item_page, members, course_services, sharing, keeping, saving, quizzes, planning, patterns, carrying, trying, sections, sources,
        reading_items, batches, foreseeing, comparing, sampling, looking, taking, handoffs, to_receivers, wordings, repairing, standing_in, receivers, jobs, undoing,
    )  # fmt: skip
    # They make what is one's own, or look up by what one may see.
    free = {course_services.create_course, course_services.course_for, receivers.known_receivers}
    free |= {alike.narrowed, undoing.last_of, undoing.still_changing}
    for module in modules:
        own = [f for _, f in inspect.getmembers(module, inspect.isfunction) if f.__module__ == module.__name__]
        asking = {f for f in own if "user" in inspect.signature(f).parameters and not f.__name__.startswith("_")}
        assert asking <= set(CALLS) | free, asking - set(CALLS)


SEEN = [
    (course_rules, Course, course_rules.courses_for),
    (pool_rules, Pool, pool_rules.pools_for),
    (pool_rules, Item, pool_rules.items_for),
    (source_rules, Source, source_rules.sources_for),
    (source_rules, Reading, source_rules.readings_for),
    (quiz_rules, Quiz, quiz_rules.quizzes_for),
    (handoff_rules, HandOff, handoff_rules.handoffs_for),
    (job_rules, Job, job_rules.jobs_for),
    (receiver_rules, Receiver, receiver_rules.receivers_for),
]


@pytest.mark.parametrize(("rules", "model", "visible"), SEEN, ids=lambda value: getattr(value, "__name__", ""))
def test_a_rule_says_the_same_of_a_row_as_its_query_does_of_all(world, rules, model, visible):
    shared = rules not in (job_rules, receiver_rules)
    cases = {
        world.owner: (True, True),
        world.editor: (shared, shared),
        world.reader: (shared, False),
        world.stranger: (False, False),
    }
    for user, (sees, edits) in cases.items():
        for entry in model.objects.all():
            assert rules.can_see(user, entry) == visible(user).filter(pk=entry.pk).exists() == sees
            if hasattr(rules, "can_edit"):
                assert rules.can_edit(user, entry) == edits
    assert not course_rules.can_see(AnonymousUser(), row(Course)) and not course_rules.can_edit(None, row(Course))


def test_a_deleted_course_is_seen_by_nobody_until_its_owner_brings_it_back(world):
    course = row(Course)
    course_services.delete_course(course, world.owner)
    for user in (world.owner, world.editor, world.reader):
        assert not course_rules.can_see(user, row(Course)) and not course_rules.courses_for(user).exists()
    assert list(course_rules.deleted_for(world.owner)) == [course] and not course_rules.deleted_for(world.editor).exists()
    course_services.bring_back_course(world.owner, course.pk)
    assert course_rules.can_edit(world.editor, row(Course))
