"""What a careful person would query about an item on its own. Checks are pure: an item that was mended loses its findings."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterator

from rogatum.core.answer_patterns import is_usable
from rogatum.core.findings import (
    BLANKS_DIFFER,
    CHOICE_RUNS_ON,
    EMPTY_CHOICE,
    ENCODING_DAMAGE,
    EQUAL_CHOICES,
    FEW_CHOICES,
    NO_ANSWER,
    NO_KEY,
    NO_STEM,
    PATTERN_UNUSABLE,
    POINTS_ZERO,
    TWO_KEYS,
    WEIGHTS_SUM,
    Finding,
    FindingKind,
)
from rogatum.core.items import (
    Choice,
    ChoiceBlank,
    Cloze,
    FillIn,
    Information,
    Item,
    Matching,
    MultipleChoice,
    MultipleResponse,
    Numeric,
    Ordering,
    Preserved,
    TextBlank,
    TrueFalse,
)
from rogatum.core.items.content import blanks_of, comparable, media_refs, plain_text

Noted = tuple[FindingKind, dict[str, object]]
_RUN_ON = re.compile(r"(?:^|\s)(?:\d{1,3}[.)]\s+[A-Z][^.?]{8,}|\(?[b-h][.)]\s+\S.*)", re.S)
_DAMAGE = re.compile(r"\ufffd|Ã[\u0080-\u00bf©¨¤¶¼±]|â€[\u0080-\u00bf™œ“”˜¦]|Â[°±²³µ·½ ]")


def check_item(item: Item, where: str = "") -> list[Finding]:
    """The findings of one item on its own."""
    return [kind.at(where, item.id, **values) for check in _CHECKS for kind, values in check(item)]


def _check_stem(item: Item) -> Iterator[Noted]:
    if not isinstance(item, Preserved) and not plain_text(item.stem) and not media_refs(item.stem):
        yield NO_STEM, {}


def _check_points(item: Item) -> Iterator[Noted]:
    if item.points == 0 and not isinstance(item, Information):
        yield POINTS_ZERO, {}


def _label(index: int) -> str:
    return chr(ord("A") + index) if index < 26 else str(index + 1)


def _check_choices(item: Item) -> Iterator[Noted]:
    if not isinstance(item, MultipleChoice | MultipleResponse):
        return
    if len(item.choices) < 2:
        yield FEW_CHOICES, {"count": len(item.choices)}
    yield from _check_texts([choice.content for choice in item.choices])
    yield from _check_key(item, item.choices)


def _check_texts(contents: list[str]) -> Iterator[Noted]:
    seen: dict[str, int] = {}
    for index, content in enumerate(contents):
        text = comparable(content)
        if not text and not media_refs(content):
            yield EMPTY_CHOICE, {"label": _label(index)}
            continue
        # Formatting and pictures tell choices apart as much as words do.
        if content in seen:
            yield EQUAL_CHOICES, {"first": _label(seen[content]), "second": _label(index)}
        seen.setdefault(content, index)
        run_on = _RUN_ON.search(text)
        if run_on:
            yield CHOICE_RUNS_ON, {"label": _label(index), "text": run_on[0].strip()[:60]}


def _check_key(item: Item, choices: list[Choice]) -> Iterator[Noted]:
    positive = [choice for choice in choices if choice.weight > 0]
    if not positive:
        yield NO_KEY, {}
    elif isinstance(item, MultipleChoice):
        full = sum(1 for choice in choices if choice.weight > 0.999)
        if full > 1:
            yield TWO_KEYS, {"count": full}
        elif not full:
            yield WEIGHTS_SUM, {"total": f"{max(c.weight for c in choices):g} at most"}
    else:
        total = sum(choice.weight for choice in positive)
        if abs(total - 1) > 0.011:
            yield WEIGHTS_SUM, {"total": f"{total:g}"}


def _check_answers(item: Item) -> Iterator[Noted]:
    if isinstance(item, TrueFalse) and item.answer is None:
        yield NO_KEY, {}
    if isinstance(item, FillIn | Numeric) and not any(answer.weight > 0 for answer in item.answers):
        yield NO_ANSWER, {}
    if isinstance(item, Matching) and not item.pairs:
        yield NO_ANSWER, {}
    if isinstance(item, Ordering) and len(item.sequence) < 2:
        yield NO_ANSWER, {}


def _check_patterns(item: Item) -> Iterator[Noted]:
    answers = item.answers if isinstance(item, FillIn) else []
    if isinstance(item, Cloze):
        answers = [answer for blank in item.blanks if isinstance(blank, TextBlank) for answer in blank.answers]
    for answer in answers:
        if answer.match == "regex" and not is_usable(answer.text):
            yield PATTERN_UNUSABLE, {"pattern": answer.text[:80]}


def _check_blanks(item: Item) -> Iterator[Noted]:
    if not isinstance(item, Cloze):
        return
    if len(blanks_of(item.stem)) != len(item.blanks):
        yield BLANKS_DIFFER, {"blanks": len(blanks_of(item.stem)), "answers": len(item.blanks)}
    for blank in item.blanks:
        if isinstance(blank, ChoiceBlank):
            if not any(choice.weight > 0 for choice in blank.choices):
                yield NO_KEY, {}
        elif not blank.answers:
            yield NO_ANSWER, {}


def _check_encoding(item: Item) -> Iterator[Noted]:
    texts = [item.stem]
    if isinstance(item, MultipleChoice | MultipleResponse):
        texts += [choice.content for choice in item.choices]
    for text in texts:
        damage = _DAMAGE.search(text)
        if damage:
            yield ENCODING_DAMAGE, {"text": plain_text(text)[max(0, damage.start() - 12) : damage.end() + 12]}
            return


_CHECKS: tuple[Callable[[Item], Iterator[Noted]], ...] = (
    _check_stem,
    _check_points,
    _check_choices,
    _check_answers,
    _check_patterns,
    _check_blanks,
    _check_encoding,
)
