"""Writes what is typed, and what blanks accept, as rules of QTI 1.2 (ASI XML Binding 1.2, 3.4)."""

from __future__ import annotations

import re
from collections.abc import Callable, Sequence
from functools import partial
from typing import Any

from lxml import etree

from rogatum.core.findings.sources import LEFT_OUT
from rogatum.core.formats.qti1.elements import sub
from rogatum.core.formats.qti1.item_writer import ItemWriter, equal, labelled
from rogatum.core.formats.shared.alternatives import as_words
from rogatum.core.formats.shared.numbers import exact_number
from rogatum.core.items import (
    Blank,
    ChoiceBlank,
    Cloze,
    NumericAnswer,
    NumericBlank,
    TextAnswer,
    TextBlank,
    parts,
)
from rogatum.core.items.by_type import ByBlank
from rogatum.core.items.content import blanks_of, media_refs, plain_text

_BLANK_SPLIT = re.compile(r'<span data-blank="([^"]*)">\s*</span>')
_OPEN_CLOSE = re.compile(r"<(/?)([a-z0-9]+)((?:\s[^<>]*?)?)(/?)>")


def text_rules(
    writer: ItemWriter, name: str, answers: list[TextAnswer], case: bool, share: float, action: str, goes_on: bool
) -> None:
    held: list[TextAnswer] = []
    for place, answer in enumerate(as_words(answers), 1):
        if answer.match == "regex":
            writer.findings.append(LEFT_OUT.at("", writer.item.id, detail=f"QTI 1.2 has no pattern like “{answer.text}”."))
            continue
        condition = writer.rule(answer.weight * share, action, goes_on)
        before = [other for other in held if goes_on and _may_meet(other, answer, case)]
        _but_for(condition, [partial(_text, name=name, answer=other, case=case) for other in before])
        _text(condition[0] if before else condition, name, answer, case)
        held.append(answer)
        if not goes_on:
            (writer.correct if answer.weight == 1 else writer.incorrect)(condition)
        writer.answer_feedback(condition, name, place, answer.feedback)


def _text(parent: etree._Element, name: str, answer: TextAnswer, case: bool) -> None:
    case = answer.case_sensitive if answer.case_sensitive is not None else case
    if answer.match == "contains":
        sub(parent, "varsubstring", respident=name, case="Yes" if case else "No").text = answer.text
    else:
        equal(parent, name, answer.text, case=case)


def _may_meet(a: TextAnswer, b: TextAnswer, case: bool) -> bool:
    """Whether one text may meet both, so that rules which add up would count it twice."""
    texts = [answer.text if case else answer.text.casefold() for answer in (a, b)]
    if a.match == b.match == "exact":
        return texts[0] == texts[1]
    return a.match == b.match or (texts[0] in texts[1] if a.match == "contains" else texts[1] in texts[0])


def _but_for(condition: etree._Element, tests: Sequence[Callable[[etree._Element], None]]) -> None:
    """Opens an `and` that holds only where none of the tests does; without tests, nothing."""
    if tests:
        both = sub(condition, "and")
        for test in tests:
            test(sub(both, "not"))


def _meet(a: NumericAnswer, b: NumericAnswer) -> bool:
    return max(a.bounds()[0], b.bounds()[0]) <= min(a.bounds()[1], b.bounds()[1])


def _interval(condition: etree._Element, name: str, answer: NumericAnswer) -> None:
    """An interval; the value itself is named beside it, so that it is read back as value and tolerance."""
    low, high = answer.bounds()
    if low == high:
        equal(condition, name, exact_number(low))
        return
    home = condition
    if answer.value is not None:
        home = sub(condition, "or")
        equal(home, name, exact_number(answer.value))
    bounds = []
    if low != float("-inf"):
        bounds.append(("vargte" if answer.include_min else "vargt", low))
    if high != float("inf"):
        bounds.append(("varlte" if answer.include_max else "varlt", high))
    both = sub(home, "and") if len(bounds) > 1 else home
    for tag, bound in bounds:
        sub(both, tag, respident=name).text = exact_number(round(bound, 12))
    if not bounds:
        sub(sub(home, "not"), "unanswered", respident=name)


def number_rules(writer: ItemWriter, name: str, answers: list[NumericAnswer], share: float, action: str, goes_on: bool) -> None:
    held: list[NumericAnswer] = []
    for place, answer in enumerate(sorted(answers, key=lambda a: -a.weight), 1):
        condition = writer.rule(answer.weight * share, action, goes_on)
        before = [other for other in held if goes_on and _meet(other, answer)]
        _but_for(condition, [partial(_interval, name=name, answer=other) for other in before])
        _interval(condition[0] if before else condition, name, answer)
        held.append(answer)
        if not goes_on:
            (writer.correct if answer.weight == 1 else writer.incorrect)(condition)
        writer.answer_feedback(condition, name, place, answer.feedback)


def segments(content: str) -> list[str]:
    """Content cut at its blanks: texts at even places, ids of blanks at odd ones; elements that are cut are closed and reopened."""
    parts = _BLANK_SPLIT.split(content)
    opened: list[tuple[str, str]] = []
    for place in range(0, len(parts), 2):
        before = "".join(f"<{tag}{attributes}>" for tag, attributes in opened)
        for match in _OPEN_CLOSE.finditer(parts[place]):
            if match[1]:
                opened.pop()
            elif not match[4]:
                opened.append((match[2], match[3]))
        after = "".join(f"</{tag}>" for tag, _ in reversed(opened))
        parts[place] = before + parts[place] + after
    return parts


def cloze(writer: ItemWriter, item: Cloze) -> None:
    blanks = {blank.id: blank for blank in item.blanks}
    flow = sub(writer.presentation, "flow")
    for place, part in enumerate(segments(item.stem)):
        if place % 2 == 0:
            if plain_text(part) or media_refs(part):
                writer.material(flow, part)
        elif part in blanks:
            _blank(writer, flow, blanks[part])
    for missing in [b for b in item.blanks if b.id not in blanks_of(item.stem)]:
        _blank(writer, flow, missing)
    if item.scoring == "all_or_nothing":
        writer.begin()
        for blank in item.blanks:
            if parts.feedback_of_blank(blank):
                # Its rules show what its answers say, and earn nothing.
                _BLANK_RULES.of(blank)(writer, f"R_{blank.id}", blank.model_copy(update={"share": 0.0}))
        condition = writer.rule(1.0)
        _all_blanks(condition, item)
        writer.correct(condition)
        writer.otherwise()
        return
    writer.begin(item.lowest)
    for blank in item.blanks:
        _BLANK_RULES.of(blank)(writer, f"R_{blank.id}", blank)
    writer.tell_result(lambda condition: _all_blanks(condition, item))


def _all_blanks(condition: etree._Element, item: Cloze) -> None:
    """Each blank fully right: one of the answers that earn all of it."""
    both = sub(condition, "and")
    for blank in item.blanks:
        tests = _FULL_TESTS.of(blank)(blank, f"R_{blank.id}")
        if not tests:
            never(both, f"R_{blank.id}")
            continue
        home = sub(both, "or") if len(tests) != 1 else both
        for test in tests:
            test(home)


def never(parent: etree._Element, name: str) -> None:
    """What no response is: answered and not."""
    both = sub(parent, "and")
    sub(both, "unanswered", respident=name)
    sub(sub(both, "not"), "unanswered", respident=name)


def _full_texts(blank: TextBlank, name: str) -> list[Callable[[etree._Element], None]]:
    right = [answer for answer in as_words(blank.answers) if answer.weight == 1 and answer.match != "regex"]
    return [partial(_text, name=name, answer=answer, case=blank.case_sensitive) for answer in right]


def _full_numbers(blank: NumericBlank, name: str) -> list[Callable[[etree._Element], None]]:
    return [partial(_interval, name=name, answer=answer) for answer in blank.answers if answer.weight == 1]


def _full_choices(blank: ChoiceBlank, name: str) -> list[Callable[[etree._Element], None]]:
    return [partial(equal, name=name, value=choice.id) for choice in blank.choices if choice.weight == 1]


_FULL_TESTS: ByBlank[Callable[[Any, str], list[Callable[[etree._Element], None]]]] = ByBlank(
    "what makes a blank fully right in QTI 1.2", {"text": _full_texts, "numeric": _full_numbers, "choice": _full_choices}
)


def _choice_rules(writer: ItemWriter, name: str, blank: ChoiceBlank) -> None:
    for place, choice in enumerate(blank.choices, 1):
        if choice.weight or choice.feedback:
            condition = writer.rule(choice.weight * blank.share, "Add", goes_on=True)
            equal(condition, name, choice.id)
            writer.answer_feedback(condition, name, place, choice.feedback)


def _numeric_blank_rules(writer: ItemWriter, name: str, blank: NumericBlank) -> None:
    number_rules(writer, name, blank.answers, blank.share, "Add", goes_on=True)


def _text_blank_rules(writer: ItemWriter, name: str, blank: TextBlank) -> None:
    text_rules(writer, name, blank.answers, blank.case_sensitive, blank.share, "Add", goes_on=True)


_BLANK_RULES: ByBlank[Callable[[ItemWriter, str, Any], None]] = ByBlank(
    "how a blank is marked in QTI 1.2", {"text": _text_blank_rules, "numeric": _numeric_blank_rules, "choice": _choice_rules}
)


def _blank(writer: ItemWriter, flow: etree._Element, blank: Blank) -> None:
    if isinstance(blank, ChoiceBlank):
        writer.options(flow, f"R_{blank.id}", "Single", labelled(blank.choices), None)
    else:
        writer.field(flow, f"R_{blank.id}", "Decimal" if isinstance(blank, NumericBlank) else "String")
