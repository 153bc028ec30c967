"""What any path of the API did is undone, and all is as it was."""

from __future__ import annotations

import pytest
from django.db import transaction

from rogatum.web.courses.models import Operation
from rogatum.web.undoing import services as undoing
from tests.web.conftest import Api
from tests.web.everything import differing, everything
from tests.web.test_access import BODIES, QUERIES, filled, paths

CHANGING = [(method, path) for method, path in paths() if method != "get"]


@pytest.mark.parametrize(("method", "path"), CHANGING, ids=lambda value: value)
def test_undo_is_the_way_back_from_every_operation(world, method, path):
    api, before = Api(world.owner), everything()
    known = set(Operation.objects.values_list("pk", flat=True))
    point = transaction.savepoint()
    try:
        api.call(method, filled(path + QUERIES.get(path, ""), world.numbers), filled(BODIES.get((method, path)), world.numbers))
        made = list(Operation.objects.exclude(pk__in=known).filter(user=world.owner))
        for operation in made:
            undoing.undo(operation, world.owner)
        if made:
            after = everything()
            # Pictures, names of drops and kept readings stay; and a rename of the course is no operation.
            assert [entry for entry in differing(before, after) if not entry.startswith(("CourseMedia", "Source "))] == []
    finally:
        transaction.savepoint_rollback(point)
