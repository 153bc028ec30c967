"""A quiz over large pools: opening it, what it adds up to, and a plan, each beside the plain query that finds the items."""

from __future__ import annotations

import sqlite3
from collections.abc import Callable
from pathlib import Path

from django.contrib.auth.models import User
from django.test import Client

from benchmarks.material import large_course
from rogatum.web.pools.models import Item, Pool

PARTS, PER_POOL, OUTCOMES = 12, 5000, 40
KIND = "pool_id, type, points, outcome, difficulty"
Seconds = Callable[[Callable[[], object], int], float]


class LargeQuiz:
    """A course of twelve pools with 5,000 items each, of forty outcomes and three difficulties; and a quiz that draws from each."""

    def __init__(self, user: User, data: Path) -> None:
        self.course = large_course(user, PARTS * PER_POOL)
        pools = [pool.pk for pool in Pool.objects.filter(course=self.course)[:PARTS]]
        keys = list(Item.objects.filter(course=self.course).order_by("pk").values_list("pk", flat=True))
        for n, pool in enumerate(pools):
            Item.objects.filter(pk__in=keys[n * PER_POOL : (n + 1) * PER_POOL]).update(pool=pool)
        for n in range(OUTCOMES):
            difficulty = ("easy", "medium", "hard")[n % 3]
            Item.objects.filter(pk__in=keys[n::OUTCOMES]).update(outcome=f"{n // 8 + 1}.{n % 8 + 1}", difficulty=difficulty)
        self.client = Client(SERVER_NAME="localhost")
        self.client.force_login(user)
        self.quiz = self._post(f"/api/courses/{self.course.pk}/quizzes", {"title": "Large"})["id"]
        for pool in pools:
            self._post(f"/api/quizzes/{self.quiz}/draws", {"pool": pool, "pick": 5, "points_each": 1})
        self.rows = [
            {"pool": pool, "pick": 3, "where": [{"facet": "difficulty", "values": [difficulty]}]}
            for pool in pools[:10]
            for difficulty in ("easy", "hard")
        ]
        self.base = sqlite3.connect(data / "rogatum.sqlite3")

    def _post(self, path: str, body: object) -> dict[str, int]:
        answer = self.client.post(path, body, content_type="application/json")
        if answer.status_code != 200:
            raise SystemExit(f"{path} answers {answer.status_code}: {answer.content[:300]!r}")
        return answer.json()  # type: ignore[no-any-return]

    def _get(self, path: str) -> None:
        if self.client.get(path).status_code != 200:
            raise SystemExit(f"{path} gives nothing to measure.")

    def report(self, seconds: Seconds, told: Callable[[str, float, float, str], None]) -> None:
        grouped = f"select {KIND}, count(*) from pools_item where course_id = ? group by {KIND}"
        listed = f"select id, {KIND} from pools_item where course_id = ?"
        groups = seconds(lambda: self.base.execute(grouped, [self.course.pk]).fetchall(), 5)
        rows = seconds(lambda: self.base.execute(listed, [self.course.pk]).fetchall(), 5)
        address = f"/api/quizzes/{self.quiz}"
        said = f"{PARTS} parts over {PARTS * PER_POOL:,} items"
        told(f"Opening a quiz of {said}", seconds(lambda: self._get(address), 5), groups, "a plain grouping")
        told(
            "What it adds up to, for 30 students",
            seconds(lambda: self._get(f"{address}/sums?students=30"), 3),
            groups,
            "a plain grouping",
        )
        plan = {"rows": self.rows, "seed": "s", "apart_from": []}
        told(
            f"A plan of {len(self.rows)} rows over {10 * PER_POOL:,} items",
            seconds(lambda: self._post(f"{address}/plan/look", plan), 3),
            rows,
            "reading their rows",
        )
