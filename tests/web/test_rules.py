"""Permission is asked in the services, before anything is read: each of them, for each role; nothing is left to endpoints."""

from __future__ import annotations

import inspect
import io

import pytest
from django.contrib.auth.models import AnonymousUser
from django.http import Http404

from rogatum.core.items import item_from
from rogatum.core.items.deciding import PaperDecision
from rogatum.core.mending.wishes import PointsByRatio
from rogatum.core.pools import DuplicateIndex
from rogatum.core.quizzes.model import Settings
from rogatum.web.courses import history
from rogatum.web.courses import rules as course_rules
from rogatum.web.courses import services as course_services
from rogatum.web.courses.models import Course, Operation
from rogatum.web.errors import NotPossible
from rogatum.web.handoffs import rules as handoff_rules
from rogatum.web.handoffs import services as handoffs
from rogatum.web.handoffs.models import HandOff
from rogatum.web.jobs import rules as job_rules
from rogatum.web.jobs import services as jobs
from rogatum.web.jobs.models import Job
from rogatum.web.pools import rules as pool_rules
from rogatum.web.pools import services as pools
from rogatum.web.pools.models import Item, Pool
from rogatum.web.pools.schemas import Selection
from rogatum.web.quizzes import rules as quiz_rules
from rogatum.web.quizzes import services as quizzes
from rogatum.web.quizzes.models import Part, Quiz
from rogatum.web.sources import batches, comparing, looking, sampling, taking
from rogatum.web.sources import items as reading_items
from rogatum.web.sources import rules as source_rules
from rogatum.web.sources import services as sources
from rogatum.web.sources.models import Batch, Comparison, Reading, ReadingItem, Source
from tests.web.test_access import state

ALL = Selection(all_matching=True)
RATIO = PointsByRatio(was=1, becomes=2)


def row(model):
    """The one of its kind that the world has, the newest where it has several."""
    return model.objects.order_by("pk").last()


def naming():
    return taking.Naming("{chapter}")


# Every service that takes an account, called as an endpoint would; what else it needs is the owner's.
CALLS = {
    pools.create_pool: lambda user: pools.create_pool(row(Course), user, "New"),
    pools.change_pool: lambda user: pools.change_pool(row(Pool), user, "Renamed", None, False),
    pools.delete_pool: lambda user: pools.delete_pool(row(Pool), user),
    pools.change_item: lambda user: pools.change_item(row(Item), user, item_from(row(Item).body)),
    pools.move_items: lambda user: pools.move_items(row(Course), user, ALL, row(Pool)),
    pools.set_points: lambda user: pools.set_points(row(Course), user, ALL, 3),
    pools.delete_items: lambda user: pools.delete_items(row(Course), user, ALL),
    quizzes.quiz_for: lambda user: quizzes.quiz_for(user, row(Quiz).pk),
    quizzes.create_quiz: lambda user: quizzes.create_quiz(row(Course), user, "Q"),
    quizzes.change_quiz: lambda user: quizzes.change_quiz(row(Quiz), user, "Q", Settings()),
    quizzes.delete_quiz: lambda user: quizzes.delete_quiz(row(Quiz), user),
    quizzes.add_draw: lambda user: quizzes.add_draw(row(Quiz), user, row(Pool), 1, None),
    quizzes.add_items: lambda user: quizzes.add_items(row(Quiz), user, [row(Item).pk]),
    quizzes.change_part: lambda user: quizzes.change_part(row(Part), user, 1, None, False),
    quizzes.move_part: lambda user: quizzes.move_part(row(Part), user, 0),
    quizzes.delete_part: lambda user: quizzes.delete_part(row(Part), user),
    quizzes.trial: lambda user: quizzes.trial(row(Quiz), user, "s"),
    quizzes.mark_trial: lambda user: quizzes.mark_trial(row(Quiz), user, "s", {}),
    sources.add_source: lambda user: sources.add_source(row(Course), user, "x.txt", io.BytesIO(b"1. A?")),
    sources.add_paste: lambda user: sources.add_paste(row(Course), user, "1. A?", "", None, {}),
    sources.add_folder: lambda user: sources.add_folder(row(Course), user, "f", []),
    sources.read_again: lambda user: sources.read_again(row(Source), user, 5),
    sources.join_keys: lambda user: sources.join_keys(row(Source), row(Source), user),
    sources.part_keys: lambda user: sources.part_keys(row(Source), user),
    sources.delete_source: lambda user: sources.delete_source(row(Source), user),
    sources.correct_text: lambda user: sources.correct_text(row(Reading), user, "1. A?\n*a. x\nb. y"),
    reading_items.edit_item: lambda user: reading_items.edit_item(row(ReadingItem), user, item_from(row(ReadingItem).body)),
    reading_items.repair: lambda user: reading_items.repair(row(Reading), user, "two-keys", "to-multiple-response", None),
    reading_items.dismiss: lambda user: reading_items.dismiss(row(Reading), user, "two-keys", None),
    reading_items.drop: lambda user: reading_items.drop(row(Reading), user, [1], True),
    reading_items.repair_all: lambda user: reading_items.repair_all(row(Course), user, [row(Reading)], "two-keys", "only-1"),
    reading_items.decide_item: lambda user: reading_items.decide_item(row(ReadingItem), user, PaperDecision()),
    reading_items.plan_mending: lambda user: reading_items.plan_mending(row(Reading), user, RATIO, None, None),
    reading_items.mend: lambda user: reading_items.mend(row(Reading), user, RATIO, None, None),
    reading_items.set_passage: lambda user: reading_items.set_passage(row(Reading), user, "s1", "Field notes."),
    reading_items.put_into_pool: lambda user: reading_items.put_into_pool(row(Reading), user, [1], "Own"),
    batches.batch_of: lambda user: batches.batch_of(row(Course), user, "drop"),
    batches.name_batch: lambda user: batches.name_batch(row(Batch), user, "Chapters"),
    batches.set_aside: lambda user: batches.set_aside(row(Source), user, True),
    batches.foresee: lambda user: batches.foresee(row(Course), user, [row(Source).pk], "all", naming()),
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
    looking.twins_of: lambda user: looking.twins_of(row(Reading), user),
    looking.proof_pdf: lambda user: looking.proof_pdf(row(Reading), user, True),
    course_services.add_media: lambda user: course_services.add_media(row(Course), user, "a.png", io.BytesIO(b"x"), 1),
    course_services.set_outcomes: lambda user: course_services.set_outcomes(row(Course), user, []),
    course_services.put_off_advice: lambda user: course_services.put_off_advice(row(Course), user, []),
    course_services.read_rows: lambda user: course_services.read_rows(row(Course), user, "a.csv", io.BytesIO(b"a")),
    taking.start_take: lambda user: taking.start_take(row(Reading), user, "all", [], {"which": "all"}),
    taking.take: lambda user: taking.take(row(Reading), user, [], naming(), False, DuplicateIndex()),
    handoffs.start_handoff: lambda user: handoffs.start_handoff(row(Course), user, "gift", ALL, None),
    jobs.start_job: lambda user: jobs.start_job(row(Course), user, "hand-off", "x", {}),
    jobs.retry_job: lambda user: jobs.retry_job(user, str(Job.objects.first().pk)),
    history.undo: lambda user: history.undo(row(Operation), user),
}
# The editor is for when courses are shared: until then nobody is one, and who is none is a stranger.
ROLES = ("editor", "stranger", "nobody")


def account(role, world):
    return AnonymousUser() if role == "nobody" else world.stranger


@pytest.mark.parametrize("role", ROLES)
@pytest.mark.parametrize("service", CALLS, ids=lambda service: service.__name__)
def test_a_service_refuses_who_may_not_and_changes_nothing(world, service, role):
    before = state()
    with pytest.raises((NotPossible, Http404)) as refused:
        CALLS[service](account(role, world))
    if isinstance(refused.value, NotPossible):
        assert refused.value.status == 404 and "no such thing" in refused.value.problem.fact
    assert state() == before


def test_no_service_that_takes_an_account_is_left_out():
    modules = (pools, quizzes, sources, reading_items, batches, comparing, sampling, looking, taking, handoffs, jobs)
    for module in modules:
        own = [f for _, f in inspect.getmembers(module, inspect.isfunction) if f.__module__ == module.__name__]
        asking = {f for f in own if "user" in inspect.signature(f).parameters and not f.__name__.startswith("_")}
        assert asking <= set(CALLS), asking - set(CALLS)


SEEN = [
    (course_rules, Course, course_rules.courses_for),
    (pool_rules, Pool, pool_rules.pools_for),
    (pool_rules, Item, pool_rules.items_for),
    (source_rules, Source, source_rules.sources_for),
    (source_rules, Reading, source_rules.readings_for),
    (quiz_rules, Quiz, quiz_rules.quizzes_for),
    (handoff_rules, HandOff, handoff_rules.handoffs_for),
    (job_rules, Job, job_rules.jobs_for),
]


@pytest.mark.parametrize(("rules", "model", "visible"), SEEN, ids=lambda value: getattr(value, "__name__", ""))
def test_a_rule_says_the_same_of_a_row_as_its_query_does_of_all(world, rules, model, visible):
    for user, allowed in ((world.owner, True), (world.stranger, False)):
        for entry in model.objects.all():
            assert rules.can_see(user, entry) == visible(user).filter(pk=entry.pk).exists() == allowed
            if hasattr(rules, "can_edit"):
                assert rules.can_edit(user, entry) == allowed
    assert not course_rules.can_see(AnonymousUser(), row(Course)) and not course_rules.can_edit(None, row(Course))
