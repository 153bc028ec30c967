"""Marking: what a response to an item earns, as a share of its points.

A response is what a student gives: the id of a choice, a list of ids, a text, or a mapping (`Response`). Choices of a
matching are the indices of `rights`, those of an ordering the indices of its sequence.
"""

from __future__ import annotations

import math
import re
from collections.abc import Callable
from decimal import Decimal, InvalidOperation
from typing import Any, Literal

from rogatum.core import answer_patterns
from rogatum.core.items import (
    Blank,
    Choice,
    ChoiceBlank,
    Cloze,
    FillIn,
    Item,
    Matching,
    MultipleChoice,
    MultipleResponse,
    Numeric,
    NumericAnswer,
    NumericBlank,
    Ordering,
    Pair,
    TextAnswer,
    TextBlank,
    TrueFalse,
)
from rogatum.core.items.by_type import ByBlank, ByType
from rogatum.core.items.content import plain_text
from rogatum.core.items.parts import rights

Response = str | list[str] | dict[str, str] | None
_PLAIN = re.compile(r"-?[0-9]{1,15}(?:\.[0-9]{1,15})?")
_NUMBER = re.compile(r"[-+]?(?:\d+(?:[.,]\d+)?|[.,]\d+)(?:[eE][-+]?\d+)?")


def mark(item: Item, response: Response) -> float | None:
    """The share of the points that a response earns; None where only a person can mark it."""
    marker = _MARKERS.of(item)
    if marker is None:
        return None
    if response is None or response == "" or response == [] or response == {}:
        return _mark_nothing(item)
    return marker(item, response)


def _mark_nothing(item: Item) -> float:
    """Picking nothing is right where several may be picked and none is."""
    if not isinstance(item, MultipleResponse) or not item.choices:
        return 0.0
    return float(not any(choice.weight > 0 for choice in item.choices))


def parse_number(text: str) -> float | None:
    """The number that a student typed: a comma may be the decimal sign, a unit may follow, spaces may part thousands."""
    if _PLAIN.fullmatch(text):
        return _finite(float(text))
    squeezed = re.sub(r"(?<=\d)[\u00a0\u202f '](?=\d{3}\b)", "", text.strip().replace("−", "-"))
    match = _NUMBER.match(squeezed)
    if match is None:
        return None
    try:
        return _finite(float(Decimal(match[0].replace(",", "."))))
    except (InvalidOperation, OverflowError):
        return None


def _finite(number: float) -> float | None:
    """A number that is one: what is too large for any is as near to every value as to none."""
    return number if math.isfinite(number) else None


def text_share(answers: list[TextAnswer], case_sensitive: bool, given: str) -> float:
    """The best weight among the accepted answers that the text meets."""
    given = " ".join(given.split())
    return max((answer.weight for answer in answers if _meets(answer, given, case_sensitive)), default=0.0)


def _meets(answer: TextAnswer, given: str, case_sensitive: bool) -> bool:
    case_sensitive = answer.case_sensitive if answer.case_sensitive is not None else case_sensitive
    text = " ".join(answer.text.split())
    if not case_sensitive:
        text, given = text.casefold(), given.casefold()
    if answer.match == "contains":
        return text in given
    if answer.match == "regex":
        return answer_patterns.meets(answer.text, given, case_sensitive)
    return text == given


def number_share(answers: list[NumericAnswer], given: str) -> float:
    """The best weight among the accepted intervals that hold the number."""
    value = parse_number(given)
    if value is None:
        return 0.0
    return max((answer.weight for answer in answers if answer.holds(value)), default=0.0)


def index_in(text: str, count: int) -> int | None:
    """The index below `count` that a response names; None for anything else that may stand there."""
    return int(text) if text.isascii() and text.isdigit() and len(text) <= len(str(count)) and int(text) < count else None


def _one(response: Response) -> str:
    return response[0] if isinstance(response, list) and response else str(response)


def _choice_share(choices: list[Choice], picked: str) -> float:
    return next((choice.weight for choice in choices if choice.id == picked), 0.0)


def _mark_choice(item: MultipleChoice, response: Response) -> float:
    return _choice_share(item.choices, _one(response))


def _mark_response(item: MultipleResponse, response: Response) -> float:
    picked = set(response) if isinstance(response, list) else {str(response)}
    if item.scoring == "all_or_nothing":
        return float(picked == {choice.id for choice in item.choices if choice.weight > 0})
    return bounded(sum(choice.weight for choice in item.choices if choice.id in picked), item.lowest)


def bounded(share: float, lowest: float | None = 0.0) -> float:
    """A sum of shares held to what an item can earn: never more than all, and never less than its lowest, where it has one."""
    return min(1.0, share if lowest is None else max(lowest, share))


# A sum of shares that were rounded still counts as all of the points.
_NEARLY_ALL = 0.999


def _mark_true_false(item: TrueFalse, response: Response) -> float:
    return float(item.answer is not None and _one(response) == str(item.answer).lower())


def _mark_fill_in(item: FillIn, response: Response) -> float:
    return text_share(item.answers, item.case_sensitive, _one(response))


def _mark_numeric(item: Numeric, response: Response) -> float:
    return number_share(item.answers, _one(response))


def blank_share(blank: Blank, given: str) -> float:
    """The share of its own part that a response to one blank earns."""
    return _BLANK_MARKERS.of(blank)(blank, given)


def _mark_text_blank(blank: TextBlank, given: str) -> float:
    return text_share(blank.answers, blank.case_sensitive, given)


def _mark_numeric_blank(blank: NumericBlank, given: str) -> float:
    return number_share(blank.answers, given)


def _mark_choice_blank(blank: ChoiceBlank, given: str) -> float:
    return _choice_share(blank.choices, given)


_BLANK_MARKERS: ByBlank[Callable[[Any, str], float]] = ByBlank(
    "how a blank is marked", {"text": _mark_text_blank, "numeric": _mark_numeric_blank, "choice": _mark_choice_blank}
)


def _mark_cloze(item: Cloze, response: Response) -> float:
    given = response if isinstance(response, dict) else {}
    earned = [blank_share(blank, given.get(blank.id, "")) for blank in item.blanks]
    if item.scoring == "all_or_nothing":
        return float(bool(earned) and min(earned) >= _NEARLY_ALL)
    return bounded(sum(blank.share * share for blank, share in zip(item.blanks, earned, strict=True)), item.lowest)


def _mark_matching(item: Matching, response: Response) -> float:
    given, texts = response if isinstance(response, dict) else {}, rights(item)
    right = [
        pair
        for index, pair in enumerate(item.pairs)
        if (picked := index_in(given.get(str(index), ""), len(texts))) is not None and texts[picked] == pair.right
    ]
    if item.scoring == "all_or_nothing":
        return float(0 < len(right) == len(item.pairs))
    return bounded(sum(pair_share(item, pair) for pair in right))


def pair_share(item: Matching, pair: Pair) -> float:
    """What a pair earns of the item's points."""
    return 1 / len(item.pairs) if pair.share is None else pair.share


def _mark_ordering(item: Ordering, response: Response) -> float:
    given = response if isinstance(response, list) else []
    picked = [index_in(text, len(item.sequence)) for text in given[: len(item.sequence) + 1]]
    entries = [None if i is None else item.sequence[i] for i in picked]
    if item.scoring == "all_or_nothing":
        return float(entries == item.sequence)
    in_place = sum(entry == wanted for entry, wanted in zip(entries, item.sequence, strict=False))
    return in_place / len(item.sequence) if item.sequence else 0.0


_MARKERS: ByType[Callable[[Any, Response], float] | None] = ByType(
    "how a response is marked; None where only a person can",
    {
        "multiple_choice": _mark_choice,
        "multiple_response": _mark_response,
        "true_false": _mark_true_false,
        "fill_in": _mark_fill_in,
        "numeric": _mark_numeric,
        "cloze": _mark_cloze,
        "matching": _mark_matching,
        "ordering": _mark_ordering,
        "essay": None,
        "information": None,
        "preserved": None,
    },
)


def _of_choices(item: MultipleChoice | MultipleResponse, response: Response) -> list[str | None]:
    picked = set(response) if isinstance(response, list) else {_one(response)}
    return [choice.feedback for choice in item.choices if choice.id in picked]


def _of_truth(item: TrueFalse, response: Response) -> list[str | None]:
    sides: tuple[Literal["true", "false"], ...] = ("true", "false")
    return [item.choice_feedback.get(side) for side in sides if side == _one(response)]


def _of_texts(item: FillIn, response: Response) -> list[str | None]:
    return [a.feedback for a in item.answers if text_share([a], item.case_sensitive, _one(response)) > 0]


def _of_numbers(item: Numeric, response: Response) -> list[str | None]:
    return [a.feedback for a in item.answers if number_share([a], _one(response)) > 0]


def _of_none(_item: Item, _response: Response) -> list[str | None]:
    return []


_SHOWN: ByType[Callable[[Any, Response], list[str | None]]] = ByType(
    "the feedback of what was picked or typed",
    {
        "multiple_choice": _of_choices,
        "multiple_response": _of_choices,
        "true_false": _of_truth,
        "fill_in": _of_texts,
        "numeric": _of_numbers,
        "cloze": _of_none,
        "matching": _of_none,
        "ordering": _of_none,
        "essay": _of_none,
        "information": _of_none,
        "preserved": _of_none,
    },
)


def feedback_for(item: Item, response: Response) -> list[str]:
    """The feedback that a marked response is shown, in order: what was picked, right or wrong, general."""
    share = mark(item, response)
    shown: list[str | None] = []
    if response is not None:
        shown += _SHOWN.of(item)(item, response)
    if share is not None:
        shown.append(item.feedback.get("correct" if share > 0.999 else "incorrect"))
    shown.append(item.feedback.get("general"))
    return [text for text in shown if text and plain_text(text)]
