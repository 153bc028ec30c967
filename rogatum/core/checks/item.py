"""What a careful person would query about an item on its own. Checks are pure: an item that was mended loses its findings."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterator, Sequence
from typing import Any

from rogatum.core.answer_patterns import is_usable
from rogatum.core.finding import Finding, FindingKind
from rogatum.core.findings.contents import ENCODING_DAMAGE
from rogatum.core.findings.items import (
    BLANKS_DIFFER,
    CHOICE_RUNS_ON,
    EMPTY_CHOICE,
    EQUAL_CHOICES,
    FEW_CHOICES,
    NO_STEM,
    PATTERN_UNUSABLE,
    POINTS_ZERO,
    WEIGHTS_SUM,
)
from rogatum.core.findings.keys import NO_ANSWER, NO_KEY, TWO_KEYS
from rogatum.core.items import (
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
    Ordering,
    TextAnswer,
    TrueFalse,
    parts,
)
from rogatum.core.items.by_type import ByBlank, ByType
from rogatum.core.items.content import blanks_of, comparable, media_refs, plain_text

Noted = tuple[FindingKind, dict[str, object]]
Check = Callable[[Any], Iterator[Noted]]
RUN_ON = re.compile(r"(?:^|\s)(?:\d{1,3}[.)]\s+[A-Z][^.?]{8,}|\(?[b-h][.)]\s+\S.*)", re.S)
_DAMAGE = re.compile(r"\ufffd|Ã[\u0080-\u00bf©¨¤¶¼±]|â€[\u0080-\u00bf™œ“”˜¦]|Â[°±²³µ·½ ]")


def check_item(item: Item, where: str = "") -> list[Finding]:
    """The findings of one item on its own."""
    return [kind.at(where, item.id, **values) for check in _CHECKS.of(item) for kind, values in check(item)]


def _check_stem(item: Item) -> Iterator[Noted]:
    if not plain_text(item.stem) and not media_refs(item.stem):
        yield NO_STEM, {}


def _check_points(item: Item) -> Iterator[Noted]:
    if item.points == 0:
        yield POINTS_ZERO, {}


def _check_choices(item: MultipleChoice | MultipleResponse) -> Iterator[Noted]:
    if len(item.choices) < 2:
        yield FEW_CHOICES, {"count": len(item.choices)}
    yield from _check_texts([choice.content for choice in item.choices])


def _check_texts(contents: list[str]) -> Iterator[Noted]:
    seen: dict[str, int] = {}
    for index, content in enumerate(contents):
        text = comparable(content)
        if not text and not media_refs(content):
            yield EMPTY_CHOICE, {"label": parts.letter(index)}
            continue
        # Formatting and pictures tell choices apart as much as words do.
        if content in seen:
            yield EQUAL_CHOICES, {"first": parts.letter(seen[content]), "second": parts.letter(index)}
        seen.setdefault(content, index)
        run_on = RUN_ON.search(text)
        if run_on:
            yield CHOICE_RUNS_ON, {"label": parts.letter(index), "text": run_on[0].strip()[:60]}


def _check_one_key(item: MultipleChoice) -> Iterator[Noted]:
    full = sum(1 for choice in item.choices if choice.weight > 0.999)
    if full > 1:
        yield TWO_KEYS, {"count": full}
    elif not _key_of(item):
        yield NO_KEY, {}
    elif not full:
        yield WEIGHTS_SUM, {"total": f"{max(c.weight for c in item.choices):g} at most"}


def _check_shares(item: MultipleResponse) -> Iterator[Noted]:
    total = sum(choice.weight for choice in _key_of(item))
    if not _key_of(item):
        yield NO_KEY, {}
    elif abs(total - 1) > 0.011:
        yield WEIGHTS_SUM, {"total": f"{total:g}"}


def _key_of(part: MultipleChoice | MultipleResponse | ChoiceBlank) -> list[Choice]:
    return [choice for choice in part.choices if choice.weight > 0]


def _check_truth(item: TrueFalse) -> Iterator[Noted]:
    if item.answer is None:
        yield NO_KEY, {}


def _check_answers(item: FillIn | Numeric) -> Iterator[Noted]:
    answers: Sequence[TextAnswer | NumericAnswer] = item.answers
    if not any(answer.weight > 0 for answer in answers):
        yield NO_ANSWER, {}


def _check_pairs(item: Matching) -> Iterator[Noted]:
    if not item.pairs:
        yield NO_ANSWER, {}


def _check_sequence(item: Ordering) -> Iterator[Noted]:
    if len(item.sequence) < 2:
        yield NO_ANSWER, {}


def _check_patterns(item: Item) -> Iterator[Noted]:
    for answer in parts.text_answers(item):
        if answer.match == "regex" and not is_usable(answer.text):
            yield PATTERN_UNUSABLE, {"pattern": answer.text[:80]}


def _check_blanks(item: Cloze) -> Iterator[Noted]:
    if len(blanks_of(item.stem)) != len(item.blanks):
        yield BLANKS_DIFFER, {"blanks": len(blanks_of(item.stem)), "answers": len(item.blanks)}
    for blank in item.blanks:
        lacking = _LACKING.of(blank)(blank)
        if lacking:
            yield lacking, {}


_LACKING: ByBlank[Callable[[Any], FindingKind | None]] = ByBlank(
    "what is the matter with a blank that accepts nothing",
    {
        "text": lambda blank: None if blank.answers else NO_ANSWER,
        "numeric": lambda blank: None if blank.answers else NO_ANSWER,
        "choice": lambda blank: None if _key_of(blank) else NO_KEY,
    },
)


def _check_encoding(item: Item) -> Iterator[Noted]:
    for text in [item.stem, *(choice.content for choice in parts.choices(item))]:
        damage = _DAMAGE.search(text)
        if damage:
            yield ENCODING_DAMAGE, {"text": plain_text(text)[max(0, damage.start() - 12) : damage.end() + 12]}
            return


_ALL: tuple[Check, ...] = (_check_stem, _check_points, _check_encoding)
_CHECKS: ByType[tuple[Check, ...]] = ByType(
    "what is checked",
    {
        "multiple_choice": (*_ALL, _check_choices, _check_one_key),
        "multiple_response": (*_ALL, _check_choices, _check_shares),
        "true_false": (*_ALL, _check_truth),
        "fill_in": (*_ALL, _check_answers, _check_patterns),
        "numeric": (*_ALL, _check_answers),
        "cloze": (*_ALL, _check_patterns, _check_blanks),
        "matching": (*_ALL, _check_pairs),
        "ordering": (*_ALL, _check_sequence),
        "essay": _ALL,
        "information": (_check_stem, _check_encoding),
        "preserved": (_check_points, _check_encoding),
    },
)
