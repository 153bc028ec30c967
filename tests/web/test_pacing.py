"""One account has so many requests at work at a time; others are answered meanwhile."""

from __future__ import annotations

from types import SimpleNamespace

from django.http import HttpResponse

from rogatum.apart.runner import still_wanted
from rogatum.web.pacing import MOST_AT_ONCE, pace


def asked_by(key: int, gone=None):
    user = SimpleNamespace(pk=key, is_authenticated=True)
    return SimpleNamespace(user=user, META={"waitress.client_disconnected": gone} if gone else {})


def test_an_account_is_told_where_it_asks_for_too_much_and_others_are_answered(monkeypatch):
    monkeypatch.setattr("rogatum.web.pacing.PATIENCE", 0.01)  # nobody makes room here while another waits
    statuses: dict[int, list[int]] = {1: [], 2: []}

    def deeper(request):
        if request.user.pk == 1:
            statuses[1].append(full(asked_by(1)).status_code)
            statuses[2].append(full(asked_by(2)).status_code)
        return HttpResponse("done")

    full = pace(deeper)
    assert full(asked_by(1)).status_code == 200
    assert statuses[1].count(429) == 1 and len(statuses[1]) == MOST_AT_ONCE and set(statuses[2]) == {200}
    assert pace(lambda _request: HttpResponse())(asked_by(1)).status_code == 200, "and what was at work is over"


def test_work_knows_whether_its_client_is_there():
    seen = []
    paced = pace(lambda request: seen.append(still_wanted.get()) or HttpResponse())
    paced(asked_by(1, gone=lambda: True))
    paced(asked_by(1))
    assert seen[0]() is False and seen[1] is None and still_wanted.get() is None
