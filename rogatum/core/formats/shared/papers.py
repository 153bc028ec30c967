"""A test that people read: its versions, what stands above each and between its items. An access code is nobody's on paper."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Callable, Collection
from dataclasses import dataclass, field
from typing import Literal

from rogatum.core.formats.shared.base import WriteOptions
from rogatum.core.items import Bank, Item
from rogatum.core.items.content import escape
from rogatum.core.items.parts import is_question
from rogatum.core.quizzes.model import Part, Quiz
from rogatum.core.quizzes.paper import USUAL_SEED, as_printed, drawn_quiz, has_draws
from rogatum.core.quizzes.phrases import count_words
from rogatum.core.quizzes.versions import version_name, version_of
from rogatum.core.quizzes.worth import Stock, total_points

Held = Callable[[Item], bool]
LineKind = Literal["page", "title", "note", "instructions"]


@dataclass(frozen=True)
class Line:
    """What stands before an item: a part's title, how many of its items are drawn, its instructions; or a page begins."""

    kind: LineKind
    content: str = ""


@dataclass(frozen=True)
class Paper:
    """One version of a test. `facts` stand below its title, `before` before items, by their ids."""

    bank: Bank
    title: str = ""
    version: str = ""
    facts: str = ""
    before: dict[str, list[Line]] = field(default_factory=dict)

    @property
    def full_title(self) -> str:
        title = self.title or "Test"
        return f"{title}, version {self.version}" if self.version else title

    def sets(self) -> list[Quiz]:
        """The quiz as it stands on this paper, where it is one."""
        return self.bank.quizzes if len(self.bank.quizzes) == 1 else []


def papers_of(bank: Bank, options: WriteOptions, held: Held) -> list[Paper]:
    """The versions of a bank that people read; `held` says which items can be printed."""
    return [_paper(bank, options, number, held) for number in range(options.versions)]


def _paper(bank: Bank, options: WriteOptions, number: int, held: Held) -> Paper:
    version = version_name(number) if options.versions > 1 else ""
    if len(bank.quizzes) != 1:
        return Paper(version_of(bank, number), bank.title, version)
    drawn = has_draws(bank) and options.draws != "stock"
    seed = options.seed or USUAL_SEED
    quiz = drawn_quiz(bank, seed, number, held) if drawn else bank.quizzes[0]
    printed = version_of(as_printed(bank, quiz), number)
    facts = _facts(printed, held) + (f", drawn with seed {seed}" if drawn else "")
    # Names of pools are for the instructor alone; what a draw is from is told by them.
    shown = printed if options.copy == "teacher" else printed.model_copy(update={"pools": []})
    return Paper(shown, quiz.title or bank.title, version, facts, _lines(printed, held))


def _facts(printed: Bank, held: Held) -> str:
    """How much the paper holds and how long it takes; where all of a stock is printed, how much of it each student gets."""
    quiz, stock = printed.quizzes[0], Stock(printed)
    items = {item.id: item for item in printed.items if is_question(item) and held(item)}
    given = dict.fromkeys(key for part in quiz.parts for key in stock.given_by(part) if key in items)
    time = [count_words(quiz.settings.time_limit, "minute")] if quiz.settings.time_limit else []
    if not has_draws(printed):
        return _counted(len(given), sum(items[key].points or 0 for key in given), time)
    picks = [min(part.draw.pick, _held(part, stock, items)) if part.draw else _held(part, stock, items) for part in quiz.parts]
    student = _counted(sum(picks), total_points(printed, quiz), time)
    return f"All {count_words(len(given), 'question')} that this quiz draws from; each student gets {student}"


def _held(part: Part, stock: Stock, items: Collection[str]) -> int:
    return sum(key in items for key in stock.given_by(part))


def _counted(count: int, points: float, time: list[str]) -> str:
    return ", ".join([count_words(count, "question"), *([count_words(points, "point")] if points else []), *time])


def _lines(printed: Bank, held: Held) -> dict[str, list[Line]]:
    """What stands before the first item of each part, and before what lies beside the quiz."""
    quiz, stock = printed.quizzes[0], Stock(printed)
    order = [item.id for item in printed.items if held(item)]
    found, seen = defaultdict[str, list[Line]](list), set[str]()
    for part in quiz.parts:
        given = set(stock.given_by(part)) - seen
        if first := next((key for key in order if key in given), None):
            found[first] += _lines_of(part, len([key for key in order if key in given]))
        seen |= given
    beside = [key for key in order if key not in seen]
    if beside and seen:
        found[beside[0]].append(Line("note", "Not in this quiz:"))
    return dict(found)


def _lines_of(part: Part, held: int) -> list[Line]:
    return [
        *([Line("page")] if part.page_break else []),
        *([Line("title", escape(part.title))] if part.title else []),
        *([Line("note", f"Draws {min(part.draw.pick, held)} of these {count_words(held, 'question')}.")] if part.draw else []),
        *([Line("instructions", part.instructions)] if part.instructions else []),
    ]
