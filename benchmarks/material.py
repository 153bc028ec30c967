"""Made-up material for the benchmarks: banks, text and a large course."""

from __future__ import annotations

import base64

from django.contrib.auth.models import User

from rogatum.core.items import Bank, Choice, Item, MultipleChoice, Numeric, NumericAnswer, TrueFalse
from rogatum.web.courses.models import Course
from rogatum.web.courses.services import create_course
from rogatum.web.pools.bodies import columns_of
from rogatum.web.pools.models import Item as ItemRow
from rogatum.web.pools.models import Pool

WORDS = "clay silt sand loam gravel humus horizon pore water root worm lime acid base gas heat slope rain wind crust".split()
PER_PATH = 50


def sentence(number: int, length: int = 9) -> str:
    """Words that differ from item to item, so that no item is another's near-duplicate."""
    return " ".join(WORDS[(number * (place + 3) + place * place + number // (place + 1)) % len(WORDS)] for place in range(length))


def _item(number: int) -> Item:
    stem = f"Question {number}: which of these has more {sentence(number)}?"
    if number % 5 == 3:
        return TrueFalse(id=f"i{number}", stem=stem, answer=number % 2 == 0, points=1)
    if number % 5 == 4:
        answers = [NumericAnswer(value=number, tolerance=0.5)]
        return Numeric(id=f"i{number}", stem=stem, answers=answers, points=2)
    choices = [Choice(id=f"c{n}", content=f"{sentence(number + n, 4)}, {n}", weight=float(n == number % 4)) for n in range(4)]
    return MultipleChoice(id=f"i{number}", stem=stem, choices=choices, points=1, feedback={"general": sentence(number, 6)})


def bank_of(count: int) -> Bank:
    bank = Bank(title="Bench", items=[_item(n) for n in range(count)])
    for number, item in enumerate(bank.items):
        bank.place_in_pool(item.id, ["Bench", f"Chapter {number // PER_PATH + 1}"])
    return bank


def text_of(count: int) -> str:
    parts = []
    for number in range(1, count + 1):
        choices = "\n".join(f"{'*' if n == number % 4 else ''}{'abcd'[n]}. {sentence(number + n, 4)}, {n}" for n in range(4))
        parts.append(f"{number}. Which of these has more {sentence(number)}?\n{choices}\nPoints: 1")
    return "\n\n".join(parts)


def large_course(user: User, count: int) -> Course:
    course = create_course(user, "Large")
    pools = [Pool.objects.create(course=course, name=f"Pool {n}") for n in range(20)]
    rows = [ItemRow(course=course, pool=pools[n % 20], position=n, **columns_of(_item(n), None)) for n in range(count)]
    ItemRow.objects.bulk_create(rows, batch_size=2000)
    return course


# One grey point.
PICTURE = base64.b64decode("iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAAAAAA6fptVAAAACklEQVR4nGNgAAAAAgABSK+kcQAAAABJRU5ErkJggg==")


def page_of(count: int) -> str:
    """A test as a page: lists within a list, the key in bold, a picture at each tenth item and a formula at each fifth."""
    items = []
    for n in range(count):
        picture = f'<img src="p{n // 10}.png" alt="Pit {n}">' if n % 10 == 0 else ""
        formula = f"\\(n = 1 - \\frac{{{n}}}{{r}}\\)" if n % 5 == 0 else ""
        choices = "".join(
            f"<li>{f'<b>{word}</b>' if k == n % 4 else word}</li>" for k, word in enumerate(("sand", "silt", "clay", "loam"))
        )
        items.append(f'<li><p>Which particle of pit {n} is meant? {formula} {picture}</p><ol type="a">{choices}</ol></li>')
    return f"<ol>{''.join(items)}</ol>"
