"""`make bench`: what Rogatum costs beside the least that the same work can cost, measured in the same run.

A floor is a bare parse of the same bytes, or the same rows by plain SQL. Ratios carry over between machines, seconds do not.
"""

from __future__ import annotations

import io
import json
import os
import re
import sqlite3
import tempfile
import time
import zipfile
from collections.abc import Callable
from pathlib import Path

LARGE = 50_000
PLAIN, GROUPED = "the plain queries", "a plain grouping for each"
DATA = Path(tempfile.mkdtemp(prefix="rogatum-bench-"))
os.environ["ROGATUM_DATA"] = str(DATA)
os.environ["ROGATUM_JOBS"] = "immediate"
os.environ["DJANGO_SETTINGS_MODULE"] = "rogatum.web.settings"

import django  # noqa: E402

django.setup()

from django.contrib.auth.models import User  # noqa: E402
from django.core.management import call_command  # noqa: E402
from django.test import Client  # noqa: E402
from lxml import etree  # noqa: E402

from benchmarks.crowd import Crowd  # noqa: E402
from benchmarks.material import PICTURE, bank_of, large_course, page_of, text_of  # noqa: E402
from benchmarks.quizzes import LargeQuiz  # noqa: E402
from rogatum.core.fidelity import compare  # noqa: E402
from rogatum.core.formats import format_named  # noqa: E402
from rogatum.core.formats.shared import pandoc  # noqa: E402
from rogatum.core.items import Bank  # noqa: E402
from rogatum.core.items.identity import likeness, words_of  # noqa: E402
from rogatum.core.pools.duplicates import near_pairs  # noqa: E402
from rogatum.core.pools.learning import classifier  # noqa: E402
from rogatum.core.pools.words import Words, wording_of  # noqa: E402
from rogatum.core.receivers.choosing import best_format  # noqa: E402
from rogatum.core.receivers.shipped import shipped_sheets  # noqa: E402
from rogatum.core.receivers.survey import Survey  # noqa: E402
from rogatum.core.receiving import read_source  # noqa: E402
from rogatum.core.sources import MediaBox  # noqa: E402
from rogatum.web.courses.services import create_course  # noqa: E402
from rogatum.web.pools.models import Item  # noqa: E402
from rogatum.web.pools.sorting import next_to_sort  # noqa: E402
from rogatum.web.sources.models import Reading, ReadingItem, Source  # noqa: E402
from rogatum.web.sources.taking import start_take  # noqa: E402


def seconds(work: Callable[[], object], times: int = 3) -> float:
    """The shortest of several runs."""
    found = []
    for _ in range(times):
        start = time.perf_counter()
        work()
        found.append(time.perf_counter() - start)
    return min(found)


def report(what: str, ours: float, floor: float, floor_is: str) -> None:
    print(f"{what:58} {ours:8.3f} s {floor:9.4f} s  × {ours / floor:8.1f}   of {floor_is}", flush=True)


def interchange(name: str) -> None:
    """Reading, writing and comparing a package, each beside a bare parse of the same bytes with unpacking them."""
    entry = format_named(name)
    assert entry.write is not None
    written = entry.write(bank_of(2000), MediaBox()).data

    def bare() -> None:
        with zipfile.ZipFile(io.BytesIO(written)) as archive:
            for member in archive.namelist():
                if member.endswith(".xml"):
                    etree.fromstring(archive.read(member))

    floor = seconds(bare)
    report(f"Reading 2,000 items of {entry.label}", seconds(lambda: read_source(("bank.zip", written))), floor, "a bare parse")
    reading = read_source(("bank.zip", written))
    report(f"Writing them as {entry.label}", seconds(lambda: entry.write(reading.bank, reading.media)), floor, "a bare parse")  # type: ignore[misc]


def reading_text() -> None:
    text = text_of(1000)
    pattern = re.compile(r"\s*(?:\*?\(?[A-Za-z0-9]{1,3}[.)]|Answer:)\s+\S")
    ours = seconds(lambda: read_source(("test.txt", text.encode())))
    floor = seconds(lambda: [pattern.match(line) for line in text.split("\n")])
    report("Reading 1,000 items of pasted text", ours, floor, "one pattern on each line")


def reading_document() -> None:
    made = pandoc.written(page_of(500), "docx", "bench", {f"p{n}.png": ("image/png", PICTURE) for n in range(50)})
    ours = seconds(lambda: read_source(("test.docx", made)))
    floor = seconds(lambda: pandoc.tree_of(made, "docx", "bench"))
    report("Reading a Word document: 500 items, 50 pictures", ours, floor, "pandoc alone")


def comparing() -> None:
    bank = bank_of(5000)
    other = Bank.model_validate_json(bank.model_dump_json())
    ours = seconds(lambda: compare(bank, other))
    floor = seconds(lambda: [a.model_dump() == b.model_dump() for a, b in zip(bank.items, other.items, strict=True)])
    report("The ledger of 5,000 items", ours, floor, "dumping and comparing each pair")


def forecasting() -> None:
    """What is asked before anything is written: 5,000 items for eight receivers, each in all of its formats, the best chosen."""
    bank = bank_of(5000)
    ours = seconds(lambda: _forecast_all(bank))
    floor = seconds(lambda: [item.model_dump() for item in bank.items])
    report("Forecasts of 5,000 items for eight receivers", ours, floor, "dumping each item once")


def _forecast_all(bank: Bank) -> None:
    survey = Survey(bank)
    for sheet in shipped_sheets()[:8]:
        best_format(bank, sheet, survey)


def taking(user: User) -> None:
    course = create_course(user, "Taking")
    source = Source.objects.create(course=course, name="bench", kind="paste", sha256="", size=0)
    bank = bank_of(2000)
    reading = Reading.objects.create(source=source, title="Bench")
    rows = [
        ReadingItem(
            reading=reading, position=n, type=item.type, text=item.stem[:80], body=item.model_dump(mode="json"), path=["Bench"]
        )
        for n, item in enumerate(bank.items, 1)
    ]
    ReadingItem.objects.bulk_create(rows)
    start = time.perf_counter()
    start_take(reading, user, "all", [], {"which": "all", "pattern": "{chapter}"})  # which runs at once
    ours = time.perf_counter() - start
    names = [field.attname for field in Item._meta.concrete_fields]
    values = list(Item.objects.filter(course=course).values_list(*names))
    report("Taking 2,000 items into a pool", ours, _plain_inserts(len(names), values), "plain inserts of the same rows")


def _plain_inserts(width: int, values: list[tuple[object, ...]]) -> float:
    flat = [[json.dumps(v) if isinstance(v, dict | list) else v if v is None else str(v) for v in row] for row in values]
    with sqlite3.connect(DATA / "floor.sqlite3") as base:
        base.execute(f"create table item ({', '.join(f'c{n}' for n in range(width))})")
        start = time.perf_counter()
        base.executemany(f"insert into item values ({', '.join('?' * width)})", flat)
        base.commit()
        return time.perf_counter() - start


class Lists:
    """Lists, filters and counts of a large course, each beside the plain queries that give the same."""

    def __init__(self, user: User, count: int) -> None:
        self.course, self.count = large_course(user, count), count
        self.client = Client(SERVER_NAME="localhost")
        self.client.force_login(user)
        self.base = sqlite3.connect(DATA / "rogatum.sqlite3")
        self.path = f"/api/courses/{self.course.pk}/items"

    def ours(self, query: str) -> float:
        def asked() -> None:
            if self.client.get(self.path + query).status_code != 200:
                raise SystemExit(f"{self.path}{query} gives no list, so there is nothing to measure.")

        return seconds(asked, 7)

    def floor(self, condition: str = "", order: str = "position, id", *values: object) -> float:
        columns = "id, pool_id, type, text, title, points, outcome, difficulty"
        of_course = f"from pools_item where course_id = ? {condition}"
        said = [self.course.pk, *values]
        page, count = f"select {columns} {of_course} order by {order} limit 200", f"select count(*) {of_course}"
        return seconds(lambda: (self.base.execute(page, said).fetchall(), self.base.execute(count, said).fetchall()), 7)

    def grouped(self) -> float:
        """The least that all counts can cost: one grouping for each column that is counted."""
        columns = "pool_id type difficulty points picture formula feedback source outcome findings advice".split()
        queries = [f"select {name}, count(*) from pools_item where course_id = ? group by {name}" for name in columns]
        return seconds(lambda: [self.base.execute(query, [self.course.pk]).fetchall() for query in queries], 7)

    def report(self) -> None:
        said = f"{self.count:,} items"
        report(f"Listing {said}, first page", self.ours(""), self.floor(), PLAIN)
        report(
            f"{said} by points, downwards",
            self.ours("?sort=points&descending=true"),
            self.floor("", "points desc"),
            "the plain queries",
        )
        found = "and id in (select rowid from pools_item_fts where pools_item_fts match ?)"
        report(
            f"Searching among {said}",
            self.ours("?query=gravel"),
            self.floor(found, "position, id", '"gravel"*'),
            "the plain queries",
        )
        two = self.floor("and type = ? and points = ?", "position, id", "numeric", 2)
        report(f"{said} by type and points", self.ours("?type=numeric&points=2"), two, PLAIN)
        report(f"All counts of {said}", self.ours("/counts"), self.grouped(), GROUPED)
        report(
            "The same with two conditions", self.ours("/counts?type=numeric&points=2"), self.grouped(), "a plain grouping for each"
        )


def duplicates(count: int) -> None:
    texts = {n: words_of(item) for n, item in enumerate(bank_of(count).items)}
    ours = seconds(lambda: near_pairs(texts), 1)
    some = [(texts[n], texts[(n * 7919 + 1) % count]) for n in range(count)]
    floor = seconds(lambda: [likeness(a, b) for a, b in some], 1)
    report(f"Near-duplicates among {count:,} items", ours, floor, "comparing each with one other")


def suggesting(user: User, count: int) -> None:
    """A step of Sorting in a course of so many items, its pool and two pools at hand of 5,000 in all, beside learning alone."""
    course = large_course(user, count)
    pools = list(course.pools.all())
    keys = list(Item.objects.filter(course=course).values_list("pk", flat=True)[:5000])
    Item.objects.filter(pk__in=keys[:4000]).update(pool=pools[0])
    Item.objects.filter(pk__in=keys[4000:]).update(pool=pools[1])
    hands = [pool.pk for pool in pools[1:3]]
    next_to_sort(pools[0], user, hands, [])  # the words are counted once, when a sorting begins
    ours = seconds(lambda: next_to_sort(pools[0], user, hands, []), 5)
    wordings = {n: wording_of(item) for n, item in enumerate(bank_of(1000).items)}
    matrix, labels = Words(wordings.values()).matrix, [n % 2 for n in range(1000)]
    floor = seconds(lambda: classifier(0.3).fit(matrix, labels).predict(matrix[:1]), 5)
    report(f"A step of Sorting, 5,000 items of {count:,}", ours, floor, "learning 1,000 texts")


def main() -> None:
    call_command("migrate", verbosity=0)
    user = User.objects.create_user("bench", password="bench-and-bench")
    print(f"{'':58} {'Rogatum':>10} {'floor':>11}  {'ratio':>8}")
    interchange("qti-1.2")
    interchange("qti-2.1")
    reading_text()
    reading_document()
    comparing()
    forecasting()
    taking(user)
    Lists(user, LARGE).report()
    duplicates(LARGE)
    suggesting(user, LARGE)
    LargeQuiz(user, DATA).report(seconds, report)
    Crowd(DATA / "crowd").report(report)


if __name__ == "__main__":
    main()
