"""One account has so many requests at work at a time; others are answered meanwhile."""

from __future__ import annotations

from types import SimpleNamespace

from django.http import HttpResponse

from rogatum.apart.runner import still_wanted
from rogatum.web.pacing import MOST_AT_ONCE, pace


def asked_by(key: int, gone=None):
    user = SimpleNamespace(pk=key, is_authenticated=True)
    return SimpleNamespace(user=user, META={"waitress.client_disconnected": gone} if gone else {})


def test_an_account_is_told_where_it_asks_for_too_much_and_others_are_answered():
    told: list[int] = []

    def answer(request):
        # Asked within the answer to another, as if all were at work at once.
        if request.user.pk == 1 and len(told) < 2 * MOST_AT_ONCE:
            told.append(0)
            told.append(paced(asked_by(1)).status_code)
            told.append(paced(asked_by(2)).status_code)
        return HttpResponse("done")

    paced = pace(answer)
    assert paced(asked_by(1)).status_code == 200
    assert 429 in told and paced(asked_by(1)).status_code == 200, "and what was at work is over"
    assert told.count(429) == 1 or all(status in (0, 200, 429) for status in told)


def test_work_knows_whether_its_client_is_there():
    seen = []
    paced = pace(lambda request: seen.append(still_wanted.get()) or HttpResponse())
    paced(asked_by(1, gone=lambda: True))
    paced(asked_by(1))
    assert seen[0]() is False and seen[1] is None and still_wanted.get() is None
