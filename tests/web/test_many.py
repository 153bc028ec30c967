"""What is done to many items at once: previews, one undo, jobs for very many, copies, choices by chance, the tree in order."""

from __future__ import annotations

from datetime import timedelta

import pytest
from django.db import OperationalError
from django.utils import timezone

from rogatum.web.courses.models import Course, CourseMedia, Operation
from rogatum.web.courses.services import KEPT_FOR, create_course, purge_courses
from rogatum.web.handoffs.models import Wording
from rogatum.web.jobs.models import Job
from rogatum.web.jobs.services import settle_all
from rogatum.web.pools import many
from rogatum.web.pools.models import Item, Pool
from rogatum.web.pools.tree import PoolTree
from rogatum.web.quizzes.models import Part, PartItem
from tests.web.conftest import Api
from tests.web.test_keeping import with_a_picture
from tests.web.test_pools import make, tree

ALL = {"all_matching": True}


def state():
    return list(Item.objects.order_by("pk").values_list("pk", "pool", "points", "body", "outcome")), tree_state()


def tree_state():
    return list(Pool.objects.order_by("pk").values_list("pk", "parent", "name", "position"))


def undo(api, course):
    last = next(op for op in api.ok("get", f"/courses/{course}/operations") if not op["undone"])
    api.ok("post", f"/operations/{last['id']}/undo")


def first_pool(api, course, name="Texture"):
    return tree(api, course)[name]["id"]


DONE = {
    "points": ("items/change", {"selection": ALL, "change": {"kind": "points", "points": 3}}),
    "metadata": ("items/change", {"selection": ALL, "change": {"kind": "metadata", "label": "outcome", "how": "add", "values": ["2.1"]}}),
    "type": ("items/change", {"selection": ALL | {"type": "multiple_choice"}, "change": {"kind": "type", "type": "multiple_response"}}),
    "move": ("items/move", {"selection": ALL, "name": "All of them"}),
    "copy": ("items/copy", {"selection": ALL, "name": "Copies", "course": "{course}"}),
    "delete": ("items/delete", ALL | {"type": "numeric"}),
    "merge": ("pools/merge", {"pools": "{pools}", "into": "{pool}"}),
    "rename": ("pools/rename", {"pools": "{pools}", "pattern": "{course} {name}"}),
    "split": ("split", {"pools": [{"name": "Split off", "items": "{items}"}], "below": "{pool}"}),
}  # fmt: skip


def asked(what: str, course: int, pools: list) -> tuple[str, dict]:
    """The path and the body of something that is done to many."""
    path, body = DONE[what]
    known = {"{course}": course, "{pool}": pools[0]["id"], "{pools}": [pool["id"] for pool in pools], "{items}": [row.pk for row in Item.objects.all()[:2]]}  # fmt: skip
    body = {key: known.get(value, value) if isinstance(value, str) else value for key, value in body.items()}
    body = {key: [part | {"items": known["{items}"]} for part in value] if key == "pools" and what == "split" else value for key, value in body.items()}  # fmt: skip
    return f"/courses/{course}/{path}", body


def told() -> list:
    """What all courses hold, whatever numbers it has."""
    trees = {course.pk: PoolTree(course) for course in Course.objects.all()}
    items = [
        (row.course.name, trees[row.course_id].path(row.pool_id), row.digest, row.type, row.points, row.outcome)
        for row in Item.objects.all()
    ]
    parts = [
        (
            part.quiz.course.name,
            part.quiz.title,
            part.position,
            trees[part.quiz.course_id].path(part.pool_id) if part.pool_id else (),
        )
        for part in Part.objects.all()
    ]
    held = [(entry.part.quiz.title, entry.part.position, entry.item.digest) for entry in PartItem.objects.all()]
    pools = [(pool.course.name, trees[pool.course_id].path(pool.pk)) for pool in Pool.objects.all()]
    worded = [(wording.item.digest, wording.receiver, wording.body, wording.done) for wording in Wording.objects.all()]
    return [sorted(rows, key=str) for rows in (items, parts, held, pools, worded)]


def repair(place: str) -> dict:
    """A number as texts, which is wanted all the same though it is marked otherwise then."""
    numbers = list(Item.objects.filter(type="numeric").values_list("pk", flat=True))
    return {"what": ALL, "receiver": "written-numbers", "repair": "turn:fill_in", "items": numbers, "place": place}


@pytest.mark.parametrize("what", [*DONE, "delete-pool", "send", "carry", "carry-copied", "repair-pool", "repair-receiver"])
def test_many_are_done_in_short_steps_as_few_at_once(api, course, pools, mara, monkeypatch, what):
    other = create_course(mara, "Field Methods 210").pk
    if what.startswith("carry"):
        quiz = api.ok("post", f"/courses/{course}/quizzes/of-items", {"title": "Some", "selection": ALL | {"type": "numeric"}})
        api.ok("post", f"/quizzes/{quiz['id']}/draws", {"pool": pools[0]["id"], "pick": 1})
    method, path, body = {
        "delete-pool": ("delete", f"/pools/{pools[0]['id']}", None),
        "send": ("post", f"/courses/{course}/pools/send", {"pools": [pool["id"] for pool in pools], "courses": [other]}),
        "carry": ("post", f"/courses/{course}/quizzes/carry", {"course": other, "quizzes": what.startswith("carry") and [quiz["id"]]}),
        "carry-copied": ("post", f"/courses/{course}/quizzes/carry", {"course": course, "quizzes": what.startswith("carry") and [quiz["id"]], "pools": "copied"}),
        "repair-pool": ("post", f"/courses/{course}/forecast/repair", repair("pool")),
        "repair-receiver": ("post", f"/courses/{course}/forecast/repair", repair("receiver")),
    }.get(what) or ("post", *asked(what, course, pools))  # fmt: skip
    changed = other if what in ("send", "carry") else course
    before = told()
    api.ok(method, path, body)
    at_once = told()
    undo(api, changed)
    assert told() == before != at_once
    monkeypatch.setattr(many, "AT_ONCE", 0)
    monkeypatch.setattr(many, "STEP", 2)
    earlier = set(Job.objects.values_list("pk", flat=True))
    api.ok(method, path, body)
    jobs = Job.objects.exclude(pk__in=earlier)
    assert [job.state for job in jobs] == ([] if what == "rename" else ["done"]), [job.problem for job in jobs]
    assert told() == at_once and not Operation.objects.filter(job__isnull=False)
    undo(api, changed)
    assert told() == before


@pytest.mark.parametrize("name", DONE)
def test_one_undo_puts_all_of_it_back(api, course, pools, name):
    path, body = asked(name, course, pools)
    before, count = state(), Operation.objects.count()
    assert api.ok("post", path, body)["count"] > 0
    assert state() != before and Operation.objects.count() == count + 1
    undo(api, course)
    assert state() == before


def test_a_preview_tells_what_will_happen_and_changes_nothing(api, course, pools):
    before = state()
    body = {"selection": ALL, "change": {"kind": "points-times", "factor": 2}}
    told = api.ok("post", f"/courses/{course}/items/change/preview", body)
    assert (told["selected"], told["looked"], told["changes"]) == (5, 5, 1)
    assert [entry["count"] for entry in told["stays"]] == [4] and told["examples"][0]["after"] == "4 points"
    assert state() == before
    assert api.ok("post", f"/courses/{course}/items/change", body)["count"] == 1


def test_of_very_many_a_preview_looks_at_some_spread_over_all(api, course, pools, monkeypatch):
    monkeypatch.setattr(many, "LOOKED_AT", 3)
    told = api.ok("post", f"/courses/{course}/items/change/preview", {"selection": ALL, "change": {"kind": "points", "points": 1}})
    assert told["selected"] == 5 and told["looked"] == 3


def test_very_many_are_changed_by_a_job_and_what_changed_meanwhile_is_changed_as_it_is_then(api, course, pools, monkeypatch):
    monkeypatch.setattr(many, "AT_ONCE", 2)
    first, work_out = Item.objects.order_by("pk").first(), many._worked_out
    body = {"selection": ALL, "change": {"kind": "metadata", "label": "topic", "how": "add", "values": ["Soil"]}}

    def overtaken(rows, change, told):
        found = work_out(rows, change, told)
        said = Item.objects.get(pk=first.pk).body
        Item.objects.filter(pk=first.pk).update(body=said | {"title": "Changed meanwhile", "points": 8})
        return found

    monkeypatch.setattr(many, "_worked_out", overtaken)
    answer = api.ok("post", f"/courses/{course}/items/change", body)
    job = api.ok("get", f"/jobs/{answer['job']}")
    assert answer["count"] == 5 and job["state"] == "done" and job["result"]["changed"] == 5
    bodies = Item.objects.order_by("pk").values_list("body", flat=True)
    assert all(body["metadata"]["topic"] == ["Soil"] for body in bodies) and (bodies[0]["title"], bodies[0]["points"]) == (
        "Changed meanwhile",
        8,
    )
    assert Operation.objects.first().label.startswith("Added to topic on")


def test_all_that_match_but_some(api, course, pools):
    keys = list(Item.objects.order_by("pk").values_list("pk", flat=True))
    body = {"selection": ALL | {"without": keys[:2]}, "change": {"kind": "points", "points": 9}}
    assert api.ok("post", f"/courses/{course}/items/change", body)["count"] == 3
    assert list(Item.objects.order_by("pk").values_list("points", flat=True)) == [None, None, 9, 9, 9]


def test_feedback_is_admitted_as_everything_that_comes_in(api, course, pools):
    change = {"kind": "feedback", "slot": "general", "how": "replace", "content": "<script>x</script><b>See</b>"}
    api.ok("post", f"/courses/{course}/items/change", {"selection": ALL, "change": change})
    assert {row.body["feedback"]["general"] for row in Item.objects.all()} == {"<strong>See</strong>"}
    assert Item.objects.filter(feedback=True).count() == 5


def test_all_that_match_go_into_a_quiz_old_or_new(api, course, pools):
    made = api.ok("post", f"/courses/{course}/quizzes/of-items", {"title": "Everything", "selection": ALL})
    assert sum(len(part["items"]) for part in made["parts"]) == 5
    quiz = api.ok("post", f"/courses/{course}/quizzes", {"title": "Some"})["id"]
    more = api.ok("post", f"/quizzes/{quiz}/items", {"selection": ALL | {"type": "multiple_choice"}})
    assert sum(len(part["items"]) for part in more["parts"]) == 2
    undo(api, course)
    undo(api, course)
    undo(api, course)
    assert api.ok("get", f"/courses/{course}/quizzes") == [], "a quiz was made of them in one operation"
    api.ok("post", f"/courses/{course}/quizzes/of-items", {"title": "Everything", "selection": ALL})
    api.ok("post", f"/courses/{course}/quizzes/of-items", {"title": "Some", "selection": ALL | {"type": "numeric"}})
    told = api.ok("post", f"/courses/{course}/items/about", ALL)
    assert told == {"items": 5, "quizzes": ["Everything", "Some"]}
    status, problem = api.call("post", f"/courses/{course}/items/delete", ALL)
    assert status == 409 and "Everything, Some" in problem["fact"]


def test_a_choice_by_chance_is_made_again_by_its_seed(api, course, pools):
    body = {"selection": ALL, "count": 3, "spread": "type"}
    once = api.ok("post", f"/courses/{course}/items/subset", body)
    again = api.ok("post", f"/courses/{course}/items/subset", body | {"seed": once["seed"]})
    assert once == again and len(once["ids"]) == 3 and once["of"] == 5
    assert len(set(Item.objects.filter(pk__in=once["ids"]).values_list("type", flat=True))) == 3


def test_copies_take_their_pictures_into_another_course_and_stay_alone(api, course, pools, mara):
    row = with_a_picture(api, course)
    other = create_course(mara, "Field Methods 210")
    copied = api.ok("post", f"/courses/{course}/items/copy", {"selection": ALL, "name": "Lent", "course": other.pk})
    assert copied["count"] == 5 and CourseMedia.objects.filter(course=other).count() == 1
    mine = Item.objects.get(course=other, digest=Item.objects.get(pk=row).digest)
    assert mine.picture and mine.pool.name == "Lent" and Item.objects.filter(course=course).count() == 5


# The tree


def names(api, course, parent=None):
    return [pool["name"] for pool in api.ok("get", f"/courses/{course}/pools") if pool["parent"] == parent]


def test_pools_have_an_order_of_their_own(api, course, pools):
    third = make(api, course, "Zero")
    texture, water = first_pool(api, course), first_pool(api, course, "Water")
    assert names(api, course) == ["Texture", "Water", "Zero"]
    api.ok("put", f"/pools/{third}/place", {"before": texture})
    assert names(api, course) == ["Zero", "Texture", "Water"]
    api.ok("put", f"/pools/{water}/place", {"parent": third})
    assert names(api, course) == ["Zero", "Texture"] and names(api, course, third) == ["Water"]
    undo(api, course)
    assert names(api, course) == ["Zero", "Texture", "Water"]
    status, problem = api.call("put", f"/pools/{third}/place", {"parent": third})
    assert status == 409 and "below itself" in problem["fact"]


def test_merged_pools_keep_their_quizzes_and_what_lies_below(api, course, pools):
    texture, water = first_pool(api, course), first_pool(api, course, "Water")
    below, twin = make(api, course, "Deep", water), make(api, course, "Deep", texture)
    api.ok("post", f"/courses/{course}/items/move", {"selection": ALL | {"type": "numeric"}, "pool": below})
    quiz = api.ok("post", f"/courses/{course}/quizzes", {"title": "Q"})["id"]
    api.ok("post", f"/quizzes/{quiz}/draws", {"pool": water, "pick": 1})
    planned = api.ok("post", f"/courses/{course}/quizzes", {"title": "Planned"})["id"]
    api.ok("post", f"/quizzes/{planned}/plan", {"rows": [{"pool": water, "pick": 1}, {"pool": texture, "pick": 1}]})
    before, plan = state(), api.ok("get", f"/quizzes/{planned}")
    api.ok("post", f"/courses/{course}/pools/merge", {"pools": [water], "into": texture})
    now = api.ok("get", f"/quizzes/{planned}")
    assert [row["pool"] for row in now["plan"]["rows"]] == [texture, texture]
    assert now["parts"][0]["picked_from"]["label"] == "Texture"
    assert names(api, course) == ["Texture"] and names(api, course, texture) == ["Deep"]
    assert tree(api, course)["Deep"]["id"] == twin and tree(api, course)["Deep"]["items"] == 1
    assert api.ok("get", f"/quizzes/{quiz}")["parts"][0]["pool"] == texture
    undo(api, course)
    assert state() == before and api.ok("get", f"/quizzes/{planned}") == plan
    status, problem = api.call("post", f"/courses/{course}/pools/merge", {"pools": [water], "into": below})
    assert status == 409 and "lies below" in problem["fact"]


def test_a_pool_and_one_below_it_are_merged_at_once_and_parted_again(api, course, pools):
    texture, water = first_pool(api, course), first_pool(api, course, "Water")
    below = make(api, course, "Deep", water)
    api.ok("post", f"/courses/{course}/items/move", {"selection": ALL | {"type": "numeric"}, "pool": below})
    before = state()
    assert api.ok("post", f"/courses/{course}/pools/merge", {"pools": [water, below], "into": texture})["count"] == 2
    assert names(api, course) == ["Texture"] and not names(api, course, texture)
    undo(api, course)
    assert state() == before, "each row as it was before all of it"


def test_an_item_goes_into_one_group_alone(api, course, pools):
    before, key = state(), Item.objects.first().pk
    body = {"pools": [{"name": "A", "items": [key]}, {"name": "B", "items": [key]}]}
    status, problem = api.call("post", f"/courses/{course}/split", body)
    assert status == 422 and "two of the groups" in problem["fact"] and state() == before


def test_names_by_pattern_and_empty_pools(api, course, pools):
    keys = [pool["id"] for pool in pools]
    body = {"pools": keys, "find": "Tex", "replace": "Mix", "pattern": "{number}. {name}"}
    told = api.ok("post", f"/courses/{course}/pools/names", body)
    assert [entry["after"] for entry in told] == ["1. Mixture", "2. Water"]
    assert api.ok("post", f"/courses/{course}/pools/rename", body)["count"] == 2
    assert names(api, course) == ["1. Mixture", "2. Water"]
    status, problem = api.call("post", f"/courses/{course}/pools/rename", {"pools": keys, "pattern": "Same"})
    assert status == 409 and names(api, course) == ["1. Mixture", "2. Water"], problem
    make(api, course, "Inner", make(api, course, "Outer"))
    assert api.ok("post", f"/courses/{course}/pools/tidy")["count"] == 2
    undo(api, course)
    assert "Outer" in names(api, course)


def test_what_was_deleted_comes_back_for_whoever_edits_and_not_before_what_it_lay_in(api, course, pools, tobin):
    api.ok("post", f"/courses/{course}/people", {"name": "tobin", "role": "editor"})
    before = state()
    api.ok("post", f"/courses/{course}/items/delete", ALL | {"type": "numeric"})
    api.ok("delete", f"/pools/{first_pool(api, course, 'Water')}")
    rows = Api(tobin).ok("get", f"/courses/{course}/deleted")
    assert [(row["pools"], row["items"], row["by"]) for row in rows] == [(1, 1, "mara"), (0, 1, "mara")]
    status, problem = Api(tobin).call("post", f"/courses/{course}/deleted/{rows[1]['id']}")
    assert status == 409 and "no longer there" in problem["fact"]
    for row in rows:
        Api(tobin).ok("post", f"/courses/{course}/deleted/{row['id']}")
    assert state() == before and api.ok("get", f"/courses/{course}/deleted") == []


def test_a_deleted_course_comes_back_with_all_that_it_held(api, course, pools):
    before = state()
    api.ok("delete", f"/courses/{course}")
    assert api.call("get", f"/courses/{course}")[0] == 404 and api.ok("get", "/courses") == []
    assert [row["id"] for row in api.ok("get", "/deleted-courses")] == [course]
    api.ok("post", f"/courses/{course}/bring-back")
    assert state() == before and api.ok("get", f"/courses/{course}")["name"] == "Soil Science 110"


def test_a_course_that_was_deleted_long_ago_is_gone_for_good(api, course, pools):
    api.ok("delete", f"/courses/{course}")
    assert purge_courses() == 0
    row = Course.objects.get(pk=course)
    Course.objects.filter(pk=course).update(deleted=row.deleted - KEPT_FOR - timedelta(hours=1))
    assert purge_courses() == 1 and not Item.objects.exists()


def test_a_removal_that_was_cut_off_is_gone_on_with(api, course, pools, monkeypatch):
    api.ok("delete", f"/courses/{course}")
    Course.objects.update(deleted=timezone.now() - KEPT_FOR - timedelta(hours=1))
    with monkeypatch.context() as patch:
        patch.setattr("rogatum.web.courses.services.remove_course", lambda _course: (_ for _ in ()).throw(OperationalError))
        with pytest.raises(OperationalError):
            purge_courses()
    assert api.call("post", f"/courses/{course}/bring-back")[0] == 404, "half of it may be gone"
    settle_all()
    assert not Course.objects.exists()
