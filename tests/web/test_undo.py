"""Undo is the way back, and never over what somebody did since."""

from __future__ import annotations

import pytest
from django.db import IntegrityError, connection, transaction
from hypothesis import settings as hypothesis_settings
from hypothesis import strategies as st
from hypothesis.stateful import RuleBasedStateMachine, invariant, precondition, rule, run_state_machine_as_test

from rogatum.core.receivers.shipped import shipped_sheet
from rogatum.web.courses import recorded
from rogatum.web.courses.models import Change, Course, Membership, Operation
from rogatum.web.courses.services import create_course
from rogatum.web.errors import NotPossible
from rogatum.web.handoffs.models import Wording
from rogatum.web.jobs import services as jobs
from rogatum.web.jobs.models import Job
from rogatum.web.jobs.services import AtWork, Staged, settle_all
from rogatum.web.pools import alike, arranging, many
from rogatum.web.pools import services as pools
from rogatum.web.pools.bodies import core_item
from rogatum.web.pools.models import Item, LikePair, Pool
from rogatum.web.pools.schemas import Selection
from rogatum.web.pools.tree import PoolTree
from rogatum.web.quizzes import services as quizzes
from rogatum.web.quizzes.models import Part, PartItem, Quiz, Rehearsal
from rogatum.web.sources.models import ReadingItem
from rogatum.web.undoing import services as undoing
from tests.web.conftest import Api, at_once, read_paste, taken
from tests.web.everything import differing, everything

BOARD = "live-board"


def last_of(user) -> Operation:
    return Operation.objects.filter(user=user, undone=False, job=None).first()


@pytest.fixture
def shared(mara, tobin, course, pools):
    """Mara's course with five items in two pools, which tobin edits."""
    Membership.objects.create(course_id=course, user=tobin, role="editor")
    return Course.objects.get(pk=course)


# The way back


def _deleted_with_all_that_hangs_on_it(api, course, mara):
    """An item with a wording, a pair, a place in a reading; and a quiz that was tried."""
    row, other = Item.objects.all()[:2]
    api.ok("put", f"/courses/{course}/wordings/{BOARD}/{row.pk}", {"item": row.body | {"stem": "Short?"}})
    LikePair.objects.create(user=mara, a=row, b=other, percent=91, digests="a-b")
    quiz = api.ok("post", f"/courses/{course}/quizzes", {"title": "Week 1"})["id"]
    api.ok("post", f"/quizzes/{quiz}/items", {"items": [other.pk]})
    api.ok("post", f"/quizzes/{quiz}/trial/begin", {})
    return row, quiz


def test_what_hangs_on_what_was_deleted_comes_back_with_it(api, course, mara, shared):
    row, quiz = _deleted_with_all_that_hangs_on_it(api, course, mara)
    before = everything()
    api.ok("post", f"/courses/{course}/items/delete", {"ids": [row.pk]})
    api.ok("delete", f"/quizzes/{quiz}")
    assert not Wording.objects.exists() and not LikePair.objects.exists() and not Rehearsal.objects.exists()
    assert ReadingItem.objects.filter(taken=None).exists()
    for _ in range(2):
        undoing.undo(last_of(mara), mara)
    assert differing(before, everything()) == []


def test_whatever_hangs_on_what_is_recorded_is_recorded_too():
    for table in recorded.TABLES:
        if table in ("course", "source", "reading"):
            continue  # these are not deleted by any operation
        recorded.lying_in(table), recorded.naming(table)
    order = list(recorded.TABLES)
    assert all(order.index(h.holder) <= order.index(t) for t in order for h in recorded.holders_of(t)), "holders come first"


def test_what_an_older_program_kept_comes_back_by_todays_rules(api, course, mara, shared):
    row = Item.objects.filter(type="multiple_choice").first()
    before = everything()
    api.ok("post", f"/courses/{course}/items/delete", {"ids": [row.pk]})
    change = Change.objects.get(table="item", row=row.pk, after__isnull=True)
    change.before |= {"digest": "old", "key_place": "", "words": 0, "a_column_of_then": 1}
    del change.before["seconds"]
    change.save()
    undoing.undo(last_of(mara), mara)
    assert differing(before, everything()) == []


def test_an_edit_in_check_is_not_said_to_be_undone_where_the_source_was_read_anew(api, course, reading, mara):
    source = ReadingItem.objects.filter(reading=reading).first().reading.source_id
    api.ok("post", f"/readings/{reading}/drop", {"positions": [1], "dropped": True})
    api.ok("post", f"/sources/{source}/read", {"expected": 5})
    before = everything()
    status, told = api.call("post", f"/operations/{last_of(mara).pk}/undo")
    assert status == 409 and "read anew" in told["fact"] and not told["rest"]
    assert everything() == before


# Over others


def scenes(mara, tobin, shared):
    """What mara did, what tobin built on it: by name, mara's operation, and what of it nobody touched."""
    first, second = Item.objects.all()[:2]
    pool = pools.create_pool(shared, mara, "New")
    made_pool = last_of(mara)

    def lies_in():
        many.move_items(shared, tobin, Selection(ids=[first.pk]), pool)

    def draws_from():
        quiz = quizzes.create_quiz(shared, tobin, "Theirs")
        quizzes.add_draw(quiz, tobin, pool, 1, None)

    def below():
        pools.create_pool(shared, tobin, "Below", pool)

    quiz = quizzes.create_quiz(shared, mara, "Mine")
    made_quiz = last_of(mara)

    def filled_quiz():
        quizzes.add_items(quiz, tobin, [first.pk, second.pk])

    def written():
        wording(shared, tobin, second)

    took = Operation.objects.filter(label__startswith="Took").get()
    return {
        "lies in it": (made_pool, lies_in, "tobin’s “Moved 1 item to New”"),
        "draws from it": (made_pool, draws_from, "tobin’s “Added a draw of 1 from New”"),
        "lies below it": (made_pool, below, "tobin’s “Made the pool Below”"),
        "fills it": (made_quiz, filled_quiz, "tobin’s “Added 2 items to Mine”"),
        "has what was taken": (took, filled_quiz, "tobin’s “Added 2 items to Mine”"),
        "wrote it otherwise": (took, written, "tobin’s “Wrote"),
    }


def wording(course, user, item):
    from rogatum.web.handoffs.wordings import write_for  # noqa: PLC0415
    from rogatum.web.receivers.services import Known  # noqa: PLC0415

    return write_for(course, user, item, Known(BOARD, shipped_sheet(BOARD)), core_item(item))


SCENES = ["lies in it", "draws from it", "lies below it", "fills it", "has what was taken", "wrote it otherwise"]


@pytest.mark.parametrize("name", SCENES)
def test_undo_refuses_where_others_built_on_it_and_says_what_and_whose(mara, tobin, shared, name):
    operation, build, words = scenes(mara, tobin, shared)[name]
    build()
    before = everything()
    with pytest.raises(NotPossible) as refused:
        undoing.undo(operation, mara)
    told = refused.value.problem
    assert words in told.fact and "Ask tobin" in told.way_out
    assert everything() == before and not Operation.objects.get(pk=operation.pk).undone
    # What was built there goes back first; then all of it can be undone.
    undoing.undo(last_of(tobin), tobin)
    if name == "has what was taken":
        undoing.undo(last_of(mara), mara)  # the quiz that holds them
    elif name == "draws from it":
        undoing.undo(last_of(tobin), tobin)
    undoing.undo(operation, mara)


def test_what_nobody_touched_is_undone_alone(mara, tobin, shared):
    took = Operation.objects.filter(label__startswith="Took").get()
    kept, edited, *others = Item.objects.all()
    quizzes.add_items(quizzes.create_quiz(shared, tobin, "Theirs"), tobin, [kept.pk])
    pools.change_item(edited, tobin, core_item(edited).model_copy(update={"points": 7}))
    with pytest.raises(NotPossible) as refused:
        undoing.undo(took, mara)
    assert refused.value.problem.rest == 2 * len(others) + (Pool.objects.count() - len({kept.pool_id, edited.pool_id}))
    undoing.undo(took, mara, in_part=True)
    assert set(Item.objects.values_list("pk", flat=True)) == {kept.pk, edited.pk}
    assert set(Pool.objects.values_list("pk", flat=True)) == {kept.pool_id, edited.pool_id}
    assert sorted(ReadingItem.objects.exclude(taken=None).values_list("taken", flat=True)) == [kept.pk, edited.pk]
    assert took.pk == Operation.objects.get(pk=took.pk, undone=True).pk


def test_two_who_decide_a_pair_at_once_do_not_delete_both(mara, tobin, shared):
    a, b = Item.objects.all()[:2]
    mine, theirs = (LikePair.objects.create(user=user, a=a, b=b, percent=99, digests="a-b") for user in (mara, tobin))
    theirs = LikePair.objects.select_related("a__course", "b__course").get(pk=theirs.pk)
    alike.decide(LikePair.objects.get(pk=mine.pk), mara, "a")
    with pytest.raises(NotPossible):
        alike.decide(theirs, tobin, "b")
    assert Item.objects.filter(pk=a.pk).exists() and not Item.objects.filter(pk=b.pk).exists()


# Circles


def test_the_database_holds_no_circle(shared):
    a = Pool.objects.create(course=shared, name="A")
    b = Pool.objects.create(course=shared, name="B", parent=a)
    for pool in (a, b):
        with pytest.raises(IntegrityError, match="cannot lie in itself"), transaction.atomic():
            Pool.objects.filter(pk=a.pk).update(parent=pool)


def test_undo_makes_no_circle(mara, tobin, shared):
    a, b = (pools.create_pool(shared, mara, name) for name in "AB")
    arranging.place_pool(a, mara, b, None)
    arranging.place_pool(a, mara, None, None)
    out = last_of(mara)
    arranging.place_pool(b, tobin, a, None)
    with pytest.raises(NotPossible):
        undoing.undo(out, mara)
    assert PoolTree(shared).path(b.pk) == ("A", "B")


def test_a_circle_of_an_older_program_is_walked_to_its_end(shared):
    a = Pool.objects.create(course=shared, name="A")
    b = Pool.objects.create(course=shared, name="B", parent=a)
    with connection.cursor() as cursor:
        cursor.execute("DROP TRIGGER pools_pool_moved")
    Pool.objects.filter(pk=a.pk).update(parent=b)
    tree = PoolTree(shared)
    assert tree.path(b.pk) == ("A", "B") and tree.above(a.pk) == [a.pk] and set(tree.below(a.pk)) == {a.pk, b.pk}


# What is written in steps


def test_what_a_job_leaves_unfinished_is_put_back(mara, tobin, shared):
    job = Job.objects.create(course=shared, user=mara, work="take", label="x", state="running", worker="w")
    before, staged = everything(), Staged(AtWork(job), "Made two pools")
    for name in ("One", "Two"):
        with staged.step() as record:
            record.created("pool", [Pool.objects.create(course=shared, name=name)])
    with pytest.raises(NotPossible):
        undoing.undo(staged.operation, mara)
    assert not [o for o in Api(mara).ok("get", f"/courses/{shared.pk}/operations") if o["id"] == staged.operation.pk]
    settle_all()
    assert Pool.objects.filter(name="Two").exists(), "it is at work"
    Job.objects.filter(pk=job.pk).update(state="failed")
    settle_all()
    assert differing(before, everything()) == [] and not Operation.objects.filter(pk=staged.operation.pk).exists()


def test_what_cannot_be_put_back_by_a_flaw_is_told_and_keeps_nothing_else(mara, shared, monkeypatch, caplog):
    job = Job.objects.create(course=shared, user=mara, work="take", label="x", state="running", worker="w")
    staged = [Staged(AtWork(job), f"Made {name}") for name in ("One", "Two")]
    for stage, name in zip(staged, ("One", "Two"), strict=True):
        with stage.step() as record:
            record.created("pool", [Pool.objects.create(course=shared, name=name)])
    Job.objects.update(state="failed")
    put_back = jobs.put_back_in_steps

    def flawed(plan, progress):
        if plan.operation == staged[0].operation:
            raise SystemError
        return put_back(plan, progress)

    monkeypatch.setattr(jobs, "put_back_in_steps", flawed)
    monkeypatch.setattr(jobs, "remove_course", lambda course: 1 / 0)
    half = Course.objects.create(name="Half", owner=mara, job=job.pk)
    settle_all()
    assert "“Half” could not be put back" in caplog.text and Course.objects.filter(pk=half.pk).exists()
    assert "Made One" in caplog.text and [p.name for p in Pool.objects.filter(name__in=("One", "Two"))] == ["One"]
    monkeypatch.undo()
    settle_all()
    assert not Course.objects.filter(pk=half.pk).exists(), "tried again"
    undoing.undo(Operation.objects.get(pk=staged[0].operation.pk), mara)
    assert not Pool.objects.filter(name="One").exists()


def test_a_job_that_finishes_while_what_is_unfinished_is_looked_for_stays_done(mara, shared):
    job = Job.objects.create(course=shared, user=mara, work="take", label="x", state="running", worker="w")
    staged = Staged(AtWork(job), "Made a pool")
    with staged.step() as record:
        record.created("pool", [Pool.objects.create(course=shared, name="One")])

    def finish_behind_it(execute, sql, params, many, context):
        found = execute(sql, params, many, context)
        if 'FROM "courses_operation"' in sql and staged.operation.job:
            staged.operation.job = None
            with staged.finishing() as (_record, done):
                done({})
        return found

    with connection.execute_wrapper(finish_behind_it):
        settle_all()
    assert Job.objects.get(pk=job.pk).state == "done" and Pool.objects.filter(name="One").exists()


# Two editors, anything, in any order


class TwoEditors(RuleBasedStateMachine):
    """Two editors do and undo whatever they like; nothing that either made or changed last is gone but by deleting it."""

    def __init__(self) -> None:
        super().__init__()
        with at_once():
            from django.contrib.auth.models import User  # noqa: PLC0415

            self.point = transaction.savepoint()
            self.users = [User.objects.create_user(name) for name in ("one", "other")]
            self.course = create_course(self.users[0], "Soil")
            Membership.objects.create(course=self.course, user=self.users[1], role="editor")
            self.api = [Api(user) for user in self.users]
            taken(self.api[0], self.course.pk, read_paste(self.api[0], self.course.pk))

    def teardown(self) -> None:
        transaction.savepoint_rollback(self.point)

    who, which = st.integers(0, 1), st.integers(0, 20)

    def do(self, who: int, method: str, path: str, body=None) -> None:
        with at_once():
            status, told = self.api[who].call(method, path, body)
        assert status < 500, told

    def one(self, model, which: int) -> int:
        keys = list(model.objects.order_by("pk").values_list("pk", flat=True))
        return keys[which % len(keys)] if keys else 1

    @rule(who=who, which=which, name=st.sampled_from("ABC"), top=st.booleans())
    def make_pool(self, who, which, name, top):
        parent = None if top else self.one(Pool, which)
        self.do(who, "post", f"/courses/{self.course.pk}/pools", {"name": name, "parent": parent})

    @rule(who=who, which=which, into=which)
    def move_item(self, who, which, into):
        body = {"selection": {"ids": [self.one(Item, which)]}, "pool": self.one(Pool, into)}
        self.do(who, "post", f"/courses/{self.course.pk}/items/move", body)

    @rule(who=who, which=which, into=which, top=st.booleans())
    def move_pool(self, who, which, into, top):
        self.do(who, "put", f"/pools/{self.one(Pool, which)}/place", {"parent": None if top else self.one(Pool, into)})

    @rule(who=who, which=which, points=st.integers(1, 9))
    def change_item(self, who, which, points):
        body = {"selection": {"ids": [self.one(Item, which)]}, "change": {"kind": "points", "points": points}}
        self.do(who, "post", f"/courses/{self.course.pk}/items/change", body)

    @rule(who=who, which=which)
    def delete_item(self, who, which):
        self.do(who, "post", f"/courses/{self.course.pk}/items/delete", {"ids": [self.one(Item, which)]})

    @rule(who=who, which=which)
    def delete_pool(self, who, which):
        self.do(who, "delete", f"/pools/{self.one(Pool, which)}")

    @rule(who=who, which=which, into=which)
    def merge_pools(self, who, which, into):
        body = {"pools": [self.one(Pool, which)], "into": self.one(Pool, into)}
        self.do(who, "post", f"/courses/{self.course.pk}/pools/merge", body)

    @rule(who=who)
    def make_quiz(self, who):
        self.do(who, "post", f"/courses/{self.course.pk}/quizzes", {"title": "Q"})

    @rule(who=who, which=which, item=which)
    def fill_quiz(self, who, which, item):
        self.do(who, "post", f"/quizzes/{self.one(Quiz, which)}/items", {"items": [self.one(Item, item)]})

    @rule(who=who, which=which, pool=which)
    def draw(self, who, which, pool):
        self.do(who, "post", f"/quizzes/{self.one(Quiz, which)}/draws", {"pool": self.one(Pool, pool), "pick": 1})

    @rule(who=who, which=which)
    def delete_quiz(self, who, which):
        self.do(who, "delete", f"/quizzes/{self.one(Quiz, which)}")

    @rule(who=who, which=which)
    def take_again(self, who, which):
        reading = ReadingItem.objects.first().reading_id
        self.do(who, "post", f"/readings/{reading}/take", {"which": "all", "duplicates_too": True})

    @precondition(lambda self: Operation.objects.filter(undone=False).exists())
    @rule(who=who, which=which, in_part=st.booleans())
    def undo(self, who, which, in_part):
        mine = list(Operation.objects.filter(user=self.users[who], undone=False).order_by("-pk").values_list("pk", flat=True))
        if mine:
            self.do(who, "post", f"/operations/{mine[min(which, len(mine) - 1)]}/undo?in_part={in_part}")

    @precondition(lambda self: Operation.objects.exists())
    @rule(who=who, which=which)
    def bring_back(self, who, which):
        gone = arranging.deleted_in(self.course, self.users[who])
        if gone:
            self.do(who, "post", f"/courses/{self.course.pk}/deleted/{gone[which % len(gone)].pk}?in_part=true")

    @invariant()
    def nothing_of_anybody_is_gone_but_what_was_deleted(self):
        """The last word on a row that stands in the log: where it is there, it is there; where it is gone, it can be brought back."""
        for table, model in (("item", Item), ("part", Part), ("partitem", PartItem), ("pool", Pool), ("quiz", Quiz)):
            last = {}
            for change in Change.objects.filter(table=table, undone=False).order_by("pk"):
                last[change.row] = change
            there = set(model.objects.values_list("pk", flat=True))
            assert {row for row, change in last.items() if change.after is not None} <= there, f"a {table} is gone without a record"
            assert not {row for row, change in last.items() if change.after is None} & there

    @invariant()
    def no_pool_lies_in_itself(self):
        tree = PoolTree(self.course)
        assert all(tree.path(key) for key in tree.numbers)
        assert {row.pk for row in Pool.objects.all()} == {
            key for top in Pool.objects.filter(parent=None) for key in tree.below(top.pk)
        }


def test_two_editors_do_and_undo_whatever_they_like(db):
    settings = hypothesis_settings(max_examples=25, stateful_step_count=25, derandomize=hypothesis_settings().derandomize)
    run_state_machine_as_test(TwoEditors, settings=settings)
