"""Who may do what: every path of the API as owner, editor, reader, stranger and nobody; and nothing changed after a refusal."""

from __future__ import annotations

import re

import pytest
from django.test import Client

from rogatum.web.api import api as ninja
from rogatum.web.courses.models import Course, Membership
from rogatum.web.pools.models import Item, Pool
from rogatum.web.quizzes.models import Part, Quiz
from rogatum.web.sources.models import ReadingItem, Source
from tests.web.conftest import Api, undone

SELECTION = {"all_matching": True}
PLAN = {"rows": [{"pool": "{pool_id}", "pick": 1}]}
RATIO = {"kind": "points-ratio", "was": 1, "becomes": 2}
ITEM = {"id": "x", "type": "true_false", "stem": "s", "answer": True}
SHEET = {"name": "ours", "title": "Ours", "formats": [{"name": "gift"}], "steps": ["One.", "Two.", "Three."]}
BODIES = {
    ("post", "/courses/{course_id}/sources/paste"): {"text": "1. A?\n*a. x\nb. y"},
    ("post", "/courses/{course_id}/sources/preview"): {"text": "1. A?\n*a. x\nb. y"},
    ("post", "/sources/{source_id}/read"): {"expected": 5},
    ("post", "/sources/{source_id}/keys"): {"test": "{source_id}"},
    ("put", "/readings/{reading_id}/items/{position}"): {"item": ITEM},
    ("post", "/readings/{reading_id}/repair"): {"code": "two-keys", "repair": "to-multiple-response"},
    ("post", "/readings/{reading_id}/dismiss"): {"code": "two-keys"},
    ("post", "/readings/{reading_id}/drop"): {"positions": [1]},
    ("put", "/readings/{reading_id}/text"): {"text": "1. A?\n*a. x\nb. y"},
    ("post", "/readings/{reading_id}/names"): {"which": "all"},
    ("post", "/readings/{reading_id}/take"): {"which": "all", "duplicates_too": True},
    ("post", "/readings/{reading_id}/items/{position}/decide"): {"decision": {"kind": "points", "points": 3}},
    ("post", "/readings/{reading_id}/mend/preview"): {"wish": RATIO},
    ("post", "/readings/{reading_id}/mend"): {"wish": RATIO},
    ("post", "/readings/{reading_id}/pool"): {"positions": [2], "name": "Own"},
    ("post", "/readings/{reading_id}/sample"): {"count": 1, "seed": 1},
    ("put", "/readings/{reading_id}/sample/{position}"): {"right": True},
    ("put", "/readings/{reading_id}/passages/{key}"): {"content": "Field notes."},
    ("put", "/sources/{source_id}/aside"): {"aside": True},
    ("patch", "/batches/{batch_id}"): {"name": "Chapters"},
    ("post", "/courses/{course_id}/take/preview"): {"sources": ["{source_id}"], "which": "all"},
    ("post", "/courses/{course_id}/take"): {"sources": ["{source_id}"], "which": "all"},
    ("post", "/courses/{course_id}/repair"): {"sources": ["{source_id}"], "code": "two-keys", "repair": "only-1"},
    ("post", "/courses/{course_id}/compare"): {"a": "{source_id}", "b": "{source_id}"},
    ("post", "/comparisons/{comparison_id}/go-on"): {"side": "a"},
    ("put", "/courses/{course_id}/outcomes"): {"text": "2.1 Name the separates"},
    ("put", "/courses/{course_id}/advice"): {"off": ["key-longest"]},
    ("post", "/courses/{course_id}/pools"): {"name": "New"},
    ("patch", "/pools/{pool_id}"): {"name": "Renamed"},
    ("put", "/items/{item_id}"): {"item": ITEM},
    ("post", "/courses/{course_id}/items/move"): {"selection": SELECTION, "pool": "{pool_id}"},
    ("post", "/courses/{course_id}/items/about"): SELECTION,
    ("post", "/courses/{course_id}/items/change"): {"selection": SELECTION, "change": {"kind": "points", "points": 3}},
    ("post", "/courses/{course_id}/items/change/preview"): {"selection": SELECTION, "change": {"kind": "points", "points": 3}},
    ("post", "/courses/{course_id}/items/copy"): {"selection": SELECTION, "course": "{course_id}", "pool": "{pool_id}"},
    ("post", "/courses/{course_id}/items/subset"): {"selection": SELECTION, "count": 2},
    ("post", "/courses/{course_id}/pools/merge"): {"pools": ["{pool_id}"], "into": "{pool_id}"},
    ("post", "/courses/{course_id}/pools/names"): {"pools": ["{pool_id}"], "pattern": "{name} x"},
    ("post", "/courses/{course_id}/pools/rename"): {"pools": ["{pool_id}"], "pattern": "{name} x"},
    ("post", "/courses/{course_id}/pools/send"): {"pools": ["{pool_id}"], "people": ["{stranger_name}"]},
    ("put", "/pools/{pool_id}/place"): {},
    ("post", "/courses/{course_id}/filters"): {"name": "Essays", "filter": {"type": "essay"}},
    ("post", "/courses/{course_id}/split/preview"): {"selection": SELECTION},
    ("post", "/courses/{course_id}/split"): {"pools": [{"name": "Split", "items": ["{item_id}"]}]},
    ("post", "/courses/{course_id}/quizzes/of-items"): {"title": "Of items", "selection": SELECTION},
    ("post", "/sorting/next"): {"pool": "{pool_id}", "pools": []},
    ("post", "/sorting/send"): {"pool": "{pool_id}", "pools": [], "item": "{item_id}", "to": "{pool_id}"},
    ("post", "/alike/{pair_id}"): {"decision": "both"},
    ("post", "/offers/{offer_id}/look"): {"course": "{course_id}"},
    ("patch", "/courses/{course_id}"): {"name": "Soil"},
    ("post", "/courses/{course_id}/people"): {"name": "{reader_name}", "role": "editor"},
    ("post", "/courses/{course_id}/items/delete"): {"ids": []},
    ("post", "/courses/{course_id}/quizzes"): {"title": "Q"},
    ("patch", "/quizzes/{quiz_id}"): {"title": "Q2"},
    ("post", "/quizzes/{quiz_id}/draws"): {"pool": "{pool_id}", "pick": 1},
    ("post", "/quizzes/{quiz_id}/items"): {"items": ["{item_id}"]},
    ("patch", "/parts/{part_id}"): {"pick": 2},
    ("post", "/quizzes/{quiz_id}/edits"): {"do": "take out", "parts": ["{part_id}"]},
    ("post", "/quizzes/{quiz_id}/points"): {"total": 8},
    ("post", "/quizzes/{quiz_id}/patterns"): {"name": "Weekly"},
    ("post", "/quizzes/{quiz_id}/plan"): PLAN,
    ("post", "/quizzes/{quiz_id}/plan/look"): PLAN,
    ("post", "/quizzes/{quiz_id}/plan/share"): {"total": 2, "pools": ["{pool_id}"]},
    ("post", "/parts/{part_id}/again"): {},
    ("post", "/courses/{course_id}/quizzes/carry"): {"quizzes": ["{quiz_id}"], "course": "{course_id}"},
    ("post", "/courses/{course_id}/quizzes/section"): {"quizzes": ["{quiz_id}"], "section": "Monday"},
    ("put", "/courses/{course_id}/time"): {"time_zone": "Europe/Oslo", "sections": [{"name": "Monday"}]},
    ("put", "/quizzes/{quiz_id}/trial"): {},
    ("post", "/quizzes/{quiz_id}/trial/begin"): {},
    ("put", "/quizzes/{quiz_id}/trial/responses"): {"responses": {}},
    ("put", "/quizzes/{quiz_id}/trial/page"): {"page": 0},
    ("post", "/quizzes/{quiz_id}/draws-of-many"): {"students": 3},
    ("post", "/courses/{course_id}/handoffs"): {"format": "gift"},
    ("post", "/courses/{course_id}/forecast"): {"what": {}, "receivers": ["live-board"]},
    ("post", "/courses/{course_id}/forecast/matrix"): {"what": {}, "receiver": "live-board"},
    ("post", "/courses/{course_id}/forecast/item"): {"what": {}, "receiver": "live-board", "item": "{item_id}"},
    ("post", "/courses/{course_id}/forecast/repair"): {
        "what": {},
        "receiver": "written-numbers",
        "repair": "turn:fill_in",
        "items": [4],
    },
    ("put", "/courses/{course_id}/wordings/{receiver}/{item_id}"): {"item": ITEM},
    ("post", "/courses/{course_id}/hand-on"): {"what": [{}], "receivers": [{"receiver": "whole-shelf"}]},
    ("post", "/receivers"): {"sheet": SHEET},
    ("post", "/receivers/check"): {"sheet": SHEET},
    ("post", "/receivers/of-toml"): {"toml": "name = 'x'"},
    ("put", "/receivers/{receiver_id}"): {"sheet": SHEET},
    ("post", "/courses"): {"name": "Mine"},
    ("post", "/item-key"): {"item": ITEM, "right": ["false"]},
    ("post", "/item-type"): {"item": ITEM, "type": "essay"},
    ("post", "/item-check"): {"item": ITEM},
    ("post", "/item-lengths"): {"item": ITEM},
    ("post", "/item-blanks"): {"item": ITEM},
    ("post", "/item-blank"): {"blank": {"id": "b1", "kind": "text"}, "kind": "numeric"},
    ("post", "/item-shares"): {"item": {"id": "m", "type": "matching"}, "own": True},
    ("post", "/item-number"): {"answer": {"value": 25, "tolerance": 0.5}},
    ("post", "/session"): {"name": "mara", "password": "wrong"},
    ("put", "/session/password"): {"old": "wrong", "new": "an other good one"},
}
OPEN = {("get", "/session"), ("post", "/session")}
PERSONAL = {
    ("delete", "/session"),
    ("put", "/session/password"),
    ("get", "/jobs"),
    ("get", "/worker"),
    ("get", "/courses"),
    ("get", "/deleted-courses"),
    ("post", "/saved-courses"),
    ("get", "/alike"),
    ("get", "/operations/last"),
    ("get", "/offers"),
    ("post", "/courses"),
    ("get", "/formats"),
    ("get", "/receivers"),
    ("get", "/receivers/{receiver}/toml"),
    ("post", "/receivers"),
    ("post", "/receivers/check"),
    ("post", "/receivers/of-toml"),
    ("get", "/words"),
    ("get", "/time-zones"),
    ("post", "/item-key"),
    ("post", "/item-type"),
    ("post", "/item-check"),
    ("post", "/item-lengths"),
    ("post", "/item-blanks"),
    ("post", "/item-blank"),
    ("post", "/item-shares"),
    ("post", "/item-number"),
}
# Shown elsewhere, or without a schema of their own.
HIDDEN = [
    ("get", "/courses/{course_id}/saved"),
    ("get", "/courses/{course_id}/media/{name}"),
    ("get", "/handoffs/{handoff_id}/file"),
    ("get", "/handoffs/{handoff_id}/ledger"),
    ("get", "/handoffs/{handoff_id}/page"),
    ("get", "/receivers/{receiver}/toml"),
    ("post", "/courses/{course_id}/forecast"),
    ("get", "/readings/{reading_id}/proof"),
]
# Words that an address asks for.
QUERIES = {"/readings/{reading_id}/search": "?words=sand", "/readings/{reading_id}/sample/size": "?bound=1"}
# A job can be started again only when it failed, and sources come as files: the owner's answer is another than 200.
OWNER_STATUS = {
    ("post", "/jobs/{job_id}/retry"): 409,
    ("post", "/courses/{course_id}/sources"): 422,
    ("get", "/courses/{course_id}/media/{name}"): 404,
    ("delete", "/pools/{pool_id}"): 409,
    ("post", "/readings/{reading_id}/take"): 409,
    ("post", "/courses/{course_id}/media"): 422,
    ("post", "/courses/{course_id}/rows"): 422,
    # All was taken, and one source is not two.
    ("post", "/courses/{course_id}/take"): 409,
    ("post", "/courses/{course_id}/compare"): 422,
    ("post", "/readings/{reading_id}/mend/preview"): 422,
    ("post", "/readings/{reading_id}/mend"): 422,
    ("post", "/readings/{reading_id}/items/{position}/decide"): 409,
    ("put", "/readings/{reading_id}/sample/{position}"): 409,
    ("post", "/readings/{reading_id}/sample"): 409,
    ("post", "/session"): 403,
    ("put", "/session/password"): 403,
    ("post", "/saved-courses"): 422,
    # Nothing of it was deleted, and nothing was said otherwise before.
    ("post", "/courses/{course_id}/bring-back"): 404,
    ("post", "/items/{item_id}/versions/{operation_id}"): 404,
    # No plan picked its part, no attempt goes on, none was handed in, it holds no single item, and there is no such section.
    ("post", "/parts/{part_id}/again"): 422,
    ("put", "/quizzes/{quiz_id}/trial/responses"): 409,
    ("put", "/quizzes/{quiz_id}/trial/page"): 409,
    ("post", "/quizzes/{quiz_id}/trial/submit"): 409,
    ("get", "/quizzes/{quiz_id}/trial/attempts/{number}"): 404,
    ("get", "/quizzes/{quiz_id}/items/{item_id}/alike"): 409,
    ("post", "/courses/{course_id}/quizzes/section"): 422,
    # No file that a stand-in takes, nothing known of what it held, and no sheet.
    ("post", "/handoffs/{handoff_id}/send"): 422,
    # It was not declined.
    ("post", "/offers/{offer_id}/reopen"): 409,
    ("get", "/handoffs/{handoff_id}/against/{other_id}"): 422,
    # It is where it is to go.
    ("post", "/sorting/send"): 409,
    # The source holds questions of its own.
    ("post", "/sources/{source_id}/keys"): 422,
}


def paths():
    schema = ninja.get_openapi_schema()
    found = [(method, path.removeprefix("/api")) for path, methods in schema["paths"].items() for method in methods]
    return sorted(set(found) | set(HIDDEN))


def filled(value, world):
    if isinstance(value, dict):
        return {key: filled(part, world) for key, part in value.items()}
    if isinstance(value, list):
        return [filled(part, world) for part in value]
    if isinstance(value, str):
        whole = re.fullmatch(r"\{(\w+)\}", value)
        return world[whole[1]] if whole else re.sub(r"\{(\w+)\}", lambda m: str(world[m[1]]), value)
    return value


def state():
    return [
        list(model.objects.order_by("pk").values_list())
        for model in (Course, Membership, Item, Pool, Quiz, Part, Source, ReadingItem)
    ]


# What a reader may ask for though it is no GET: it looks, or copies, or is their own.
LOOKING = {
    ("post", "/courses/{course_id}/items/about"),
    ("post", "/courses/{course_id}/items/subset"),
    ("post", "/courses/{course_id}/forecast"),
    ("post", "/courses/{course_id}/forecast/matrix"),
    ("post", "/courses/{course_id}/forecast/item"),
    ("post", "/courses/{course_id}/pools/names"),
    ("post", "/courses/{course_id}/pools/send"),
    ("post", "/courses/{course_id}/filters"),
    ("post", "/courses/{course_id}/split/preview"),
    ("post", "/sorting/next"),
    ("post", "/courses/{course_id}/sources/preview"),
    ("post", "/courses/{course_id}/take/preview"),
    ("post", "/readings/{reading_id}/names"),
    ("post", "/quizzes/{quiz_id}/plan/look"),
    ("post", "/quizzes/{quiz_id}/plan/share"),
    ("put", "/quizzes/{quiz_id}/trial"),
    ("post", "/quizzes/{quiz_id}/trial/begin"),
    ("put", "/quizzes/{quiz_id}/trial/responses"),
    ("put", "/quizzes/{quiz_id}/trial/page"),
    ("post", "/quizzes/{quiz_id}/trial/submit"),
    ("post", "/quizzes/{quiz_id}/draws-of-many"),
}
OWNERS_ONLY = {
    ("delete", "/courses/{course_id}"),
    ("post", "/courses/{course_id}/people"),
}
# What is one account's own, whoever shares the course.
OWN = re.compile(r"\{(job_id|pair_id|offer_id|filter_id|receiver_id)\}|/undo$")
# What only who it is about, or the owner, may do; and what there is for its owner alone.
OWNERS_THING = {("post", "/courses/{course_id}/bring-back")}


def allowed(role, method, path):
    """Whether somebody of the course gets from a path what its owner gets."""
    if OWN.search(path) or (method, path) in OWNERS_THING:
        return False
    if (method, path) in OWNERS_ONLY or (role == "editor" and path.endswith("{member_id}")):
        return False
    return role == "editor" or method == "get" or (method, path) in LOOKING or path.endswith("{member_id}")


def refusal(role, method, path):
    """What somebody of the course is told who may not."""
    hidden = OWN.search(path) or (method, path) in OWNERS_THING
    no_file = path.endswith(("/sources", "/media", "/rows")) and method == "post"
    return {404} if hidden else {422} if no_file else {403, 404} if "mend" in path else {403}


@pytest.mark.parametrize(("method", "path"), paths())
def test_access(method, path, world):
    body = filled(BODIES.get((method, path)), world.numbers)
    address = filled(path + QUERIES.get(path, ""), world.numbers)
    before = state()
    signed_out, _ = Api(None).call(method, address, body)
    assert signed_out == (200 if (method, path) == ("get", "/session") else 403 if (method, path) in OPEN else 401)
    with undone():
        stranger, _ = Api(world.stranger).call(method, address, body)
        assert (method, path) in OPEN | PERSONAL or "{offer_id}" in path or state() == before, "a stranger changed something"
    if (method, path) in OPEN | PERSONAL:
        assert stranger in (200, 403, 422)
    elif "{offer_id}" in path and method == "get":
        assert stranger == 200  # who sent it
    elif "{offer_id}" in path:
        assert stranger in (200, 404, 409)  # taken back, but not looked at; and it still waits
    elif path.endswith(("/sources", "/media", "/rows")) and method == "post":
        assert stranger == 422  # without a file nobody gets further
    else:
        assert stranger == 404
    for role, user in (("reader", world.reader), ("editor", world.editor)):
        if (method, path) not in OPEN | PERSONAL and not allowed(role, method, path):
            status, problem = Api(user).call(method, address, body)
            assert status in refusal(role, method, path), (role, problem)
    assert state() == before, "a refusal changed something"
    for role, user in (("reader", world.reader), ("editor", world.editor), ("owner", world.owner)):
        if (method, path) in OPEN | PERSONAL or role == "owner" or allowed(role, method, path):
            with undone():
                status, answer = Api(user).call(method, address, body)
            assert status == OWNER_STATUS.get((method, path), 200) or (
                (method, path) in OPEN | PERSONAL and status in (200, 403, 422)
            ), (role, answer)


def test_a_stranger_cannot_reach_in_from_a_course_of_their_own(world):
    mine, theirs = Api(world.stranger), world.numbers
    course = mine.ok("post", "/courses", {"name": "Field Methods 210"})["id"]
    quiz = mine.ok("post", f"/courses/{course}/quizzes", {"title": "Mine"})["id"]
    assert mine.call("post", f"/quizzes/{quiz}/draws", {"pool": theirs["pool_id"], "pick": 1})[0] == 404
    assert mine.call("post", f"/quizzes/{quiz}/items", {"items": [theirs["item_id"]]})[0] == 409
    moved = {"selection": {"ids": [theirs["item_id"]]}, "pool": theirs["pool_id"]}
    assert mine.call("post", f"/courses/{course}/items/move", moved)[0] == 404
    assert mine.call("post", f"/courses/{course}/handoffs", {"format": "gift", "quiz": theirs["quiz_id"]})[0] == 404
    assert mine.call("post", f"/courses/{course}/handoffs", {"format": "gift", "selection": {"ids": [theirs["item_id"]]}})[0] == 422
    assert mine.ok("get", f"/courses/{course}/items?query=particle")["total"] == 0


def test_a_forged_request_is_refused(mara):
    client = Client(enforce_csrf_checks=True)
    client.force_login(mara)
    response = client.post("/api/courses", data='{"name": "x"}', content_type="application/json")
    assert response.status_code == 403 and response.json()["fact"]
