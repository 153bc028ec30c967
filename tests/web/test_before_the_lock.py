"""What items become is worked out before the lock on writing is taken, by every path of the API."""

from __future__ import annotations

import pytest
from django.conf import settings
from django.db import connection, transaction

from rogatum.core.admission import Gate
from rogatum.core.pools import columns
from rogatum.web.handoffs import repairing
from rogatum.web.jobs.models import Job
from rogatum.web.jobs.services import run_here
from rogatum.web.pools import alike, many
from rogatum.web.quizzes import carrying, planning, services, trying
from rogatum.web.sources import items, set_aside, storing, succession
from tests.web.conftest import Api
from tests.web.test_access import BODIES, filled

CHANGING = sorted((m, p) for m, p in BODIES if m != "get")
WORK = [
    *((columns, "columns_of"), (Gate, "content"), (items, "check_item"), (storing, "advise_item")),
    *((planning, "catalogue_for"), (services, "catalogue_for"), (carrying, "catalogue_for"), (trying, "shown_one")),
    *((set_aside, "match_items"), (succession, "_numbered")),
    *(
        (planning, "picks_by"),
        (trying, "given_in"),
        (many, "changed"),
        (many, "core_item"),
        (alike, "merged"),
        (repairing, "repaired"),
    ),
]


@pytest.mark.parametrize(("method", "path"), CHANGING, ids=lambda value: value)
def test_what_items_become_is_worked_out_before_the_lock(world, monkeypatch, method, path):
    """Whatever looks at a whole item (cleaning it, its columns, checks and advice) or at whole pools."""
    monkeypatch.setattr(settings, "JOBS_IMMEDIATE", False)
    within, depth = [], len(connection.savepoint_ids)
    for module, name in WORK:
        work = getattr(module, name)

        def watched(*said, work=work, name=name, **more):
            if len(connection.savepoint_ids) > depth:
                within.append(name)
            return work(*said, **more)

        monkeypatch.setattr(module, name, watched)
    point = transaction.savepoint()
    try:
        Api(world.owner).call(method, filled(path, world.numbers), filled(BODIES[method, path], world.numbers))
        for job in Job.objects.filter(state=Job.State.WAITING):
            run_here(str(job.pk))
    finally:
        transaction.savepoint_rollback(point)
    assert within == []
