"""What changes data is an operation, or can be taken back in the way that stands here beside it, and that its screen says.

That undo is the way back from every operation is seen in `test_way_back.py`.
"""

from __future__ import annotations

import pytest
from django.apps import apps

from rogatum.web.courses.models import Operation
from tests.web.conftest import Api, undone
from tests.web.test_access import BODIES, QUERIES, filled, paths

# What is no data of a course: how somebody signs in, jobs, what was done, and what can be found or tried again at any time.
NOT_DATA = {"auth", "sessions", "contenttypes", "jobs.Job", "courses.Operation", "courses.Change", "quizzes.Rehearsal"}
NOT_DATA |= {"pools.LikePair", "sources.Comparison", "sources.ViewChunk", "courses.CourseMedia"}
# What is taken back otherwise than by undo, and how: by the opposite, at the same place, or not without being asked first.
OTHERWISE = {
    ("post", "/courses"): "the course can be deleted, and brought back for 30 days",
    ("delete", "/courses/{course_id}"): "it can be brought back for 30 days, which is said before",
    ("patch", "/courses/{course_id}"): "the old name can be typed in again, at the same place",
    ("put", "/courses/{course_id}/time"): "the fields hold what was set, and can be set again",
    ("post", "/courses/{course_id}/people"): "they can be removed again, beside their name",
    ("delete", "/courses/{course_id}/people/{member_id}"): "they can be added again, at the same place",
    ("post", "/courses/{course_id}/filters"): "a kept filter can be forgotten, beside its name",
    ("delete", "/courses/{course_id}/filters/{filter_id}"): "undo beside what says that it was done",
    ("post", "/courses/{course_id}/sources"): "the source can be put away",
    ("post", "/courses/{course_id}/sources/paste"): "the source can be put away",
    ("post", "/courses/{course_id}/pools/send"): "an offer can be taken back, and a copy is an operation of the other course",
    ("post", "/offers/{offer_id}/look"): "the source can be put away",
    ("post", "/offers/{offer_id}/decline"): "undo beside it: the offer waits again",
    ("post", "/offers/{offer_id}/reopen"): "it can be declined again",
    ("post", "/courses/{course_id}/handoffs"): "a hand-off is a copy: nothing of the course is changed",
    ("post", "/courses/{course_id}/hand-on"): "a hand-off is a copy: nothing of the course is changed",
    ("post", "/handoffs/{handoff_id}/send"): "it goes to the stand-in alone, and can be sent again",
    ("post", "/quizzes/{quiz_id}/patterns"): "it can be forgotten, beside its name",
    ("delete", "/courses/{course_id}/patterns/{pattern_id}"): "asked before, in the words that it cannot be undone",
    ("post", "/receivers"): "it can be forgotten, beside its name",
    ("put", "/receivers/{receiver_id}"): "the fields hold what was set, and can be set again",
    ("delete", "/receivers/{receiver_id}"): "asked before, in the words that it cannot be undone",
    ("delete", "/sources/{source_id}/keys"): "the list of keys can be added again, at the same place",
    ("patch", "/batches/{batch_id}"): "the old name can be typed in again, at the same place",
    ("post", "/courses/{course_id}/deleted/{operation_id}"): "what comes back can be deleted again",
    ("post", "/operations/{operation_id}/undo"): "it is itself the way back, which says what it will do",
    ("post", "/sources/{source_id}/read"): "how a source is read can be set as it was; what a person did to items stays",
    ("put", "/readings/{reading_id}/text"): "the text can be corrected again; what a person did to items stays",
    ("put", "/courses/{course_id}/advice"): "the same switch turns it on again",
    ("put", "/courses/{course_id}/outcomes"): "the fields hold what was set, and can be set again",
}
CHANGING = [(method, path) for method, path in paths() if method != "get"]


def state() -> dict[str, list]:
    models = [
        model
        for model in apps.get_models()
        if model._meta.app_label not in NOT_DATA and model._meta.label not in NOT_DATA and not model._meta.label.endswith("Index")
    ]
    return {model._meta.label: sorted(map(str, model.objects.values_list(*_columns(model)))) for model in models}


def _columns(model) -> list[str]:
    """What of a row is data; when it was changed last, and where its reading looked last, are not."""
    return [field.attname for field in model._meta.concrete_fields if field.name not in ("updated", "handed")]


@pytest.mark.parametrize(("method", "path"), CHANGING)
def test_what_changes_data_can_be_taken_back(method, path, world):
    body = filled(BODIES.get((method, path)), world.numbers)
    address = filled(path + QUERIES.get(path, ""), world.numbers)
    owner = Api(world.owner)
    with undone():
        before, known = state(), set(Operation.objects.values_list("pk", flat=True))
        status, _ = owner.call(method, address, body)
        changed = {label for label, rows in state().items() if rows != before[label]}
        taken_back = Operation.objects.exclude(pk__in=known).exists() or (method, path) in OTHERWISE
        assert status >= 400 or not changed or taken_back, f"{method} {path} changes {sorted(changed)}, and nothing takes that back"


def test_what_is_taken_back_otherwise_is_there_to_be_done():
    assert set(OTHERWISE) <= set(CHANGING), sorted(set(OTHERWISE) - set(CHANGING))
