"""What stands above a test that people read: its title, how much it is, how long it takes. An access code is nobody's on paper."""

from __future__ import annotations

from dataclasses import dataclass, field

from rogatum.core.items import Bank
from rogatum.core.quizzes.worth import Stock, total_points


@dataclass(frozen=True)
class Heading:
    """`title`, `facts` in words, and the directions that stand before an item, by its id."""

    title: str = ""
    facts: str = ""
    directions: dict[str, str] = field(default_factory=dict)


def heading_of(bank: Bank) -> Heading:
    """The heading of the one quiz that a bank is; none where it is no quiz, or several."""
    if len(bank.quizzes) != 1:
        return Heading(bank.title)
    quiz, stock = bank.quizzes[0], Stock(bank)
    given = [(part, stock.given_by(part)) for part in quiz.parts]
    count = sum(min(part.draw.pick, len(keys)) if part.draw else len(keys) for part, keys in given)
    points, minutes = total_points(bank, quiz), quiz.settings.time_limit
    facts = [
        f"{count} question{'' if count == 1 else 's'}",
        *([f"{points:g} point{'' if points == 1 else 's'}"] if points else []),
        *([f"{minutes:g} minutes"] if minutes else []),
    ]
    directions = {keys[0]: part.instructions for part, keys in reversed(given) if part.instructions and keys}
    return Heading(quiz.title or bank.title, ", ".join(facts), directions)
