"""Writes the items of each type as QTI 1.2: how it is presented, and the rules that mark it."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import Any

from lxml import etree

from rogatum.core.formats.qti1.blank_writing import cloze, number_rules, text_rules
from rogatum.core.formats.qti1.elements import sub
from rogatum.core.formats.qti1.item_writer import ItemWriter, equal, labelled
from rogatum.core.items import (
    Essay,
    FillIn,
    Information,
    Matching,
    MultipleChoice,
    MultipleResponse,
    Numeric,
    Ordering,
    PartScoring,
    Preserved,
    TrueFalse,
)
from rogatum.core.items.by_type import ByType
from rogatum.core.items.content import media_refs, plain_text
from rogatum.core.items.parts import rights
from rogatum.core.quizzes.marking import pair_share


def _multiple_choice(writer: ItemWriter, item: MultipleChoice) -> None:
    writer.stem()
    writer.options(writer.presentation, "R1", "Single", labelled(item.choices), item.shuffle)
    writer.begin()
    writer.choice_feedback("R1", [(choice.id, choice.feedback) for choice in item.choices])
    for choice in sorted(item.choices, key=lambda c: -c.weight):
        if choice.weight:
            condition = writer.rule(choice.weight)
            equal(condition, "R1", choice.id)
            (writer.correct if choice.weight == 1 else writer.incorrect)(condition)
    writer.otherwise()


def _multiple_response(writer: ItemWriter, item: MultipleResponse) -> None:
    writer.stem()
    writer.options(writer.presentation, "R1", "Multiple", labelled(item.choices), item.shuffle)
    per_choice = item.scoring == "per_choice" and writer.adds
    writer.begin(item.lowest if per_choice else None)
    writer.choice_feedback("R1", [(choice.id, choice.feedback) for choice in item.choices])
    if per_choice:
        for choice in item.choices:
            if choice.weight:
                equal(writer.rule(choice.weight, "Add", goes_on=True), "R1", choice.id)
        writer.tell_result(lambda condition: _whole_key(condition, item))
        return
    if item.choices:
        condition = writer.rule(1.0)
        _whole_key(condition, item)
        writer.correct(condition)
    writer.otherwise()


def _whole_key(condition: etree._Element, item: MultipleResponse) -> None:
    both = sub(condition, "and")
    for choice in item.choices:
        if choice.weight > 0:
            equal(both, "R1", choice.id)
        else:
            equal(sub(both, "not"), "R1", choice.id)


def _true_false(writer: ItemWriter, item: TrueFalse) -> None:
    writer.stem()
    writer.options(writer.presentation, "R1", "Single", [("true", "True"), ("false", "False")], None)
    writer.begin()
    writer.choice_feedback("R1", [(key, item.choice_feedback.get(key)) for key in ("true", "false")])
    if item.answer is not None:
        condition = writer.rule(1.0)
        equal(condition, "R1", str(item.answer).lower())
        writer.correct(condition)
    writer.otherwise()


def _fill_in(writer: ItemWriter, item: FillIn) -> None:
    writer.stem()
    writer.field(writer.presentation, "R1", "String")
    writer.begin()
    text_rules(writer, "R1", item.answers, item.case_sensitive, 1.0, "Set", goes_on=False)
    writer.otherwise()


def _numeric(writer: ItemWriter, item: Numeric) -> None:
    writer.stem()
    writer.field(writer.presentation, "R1", "Decimal")
    writer.begin()
    number_rules(writer, "R1", item.answers, 1.0, "Set", goes_on=False)
    writer.otherwise()


def _matching(writer: ItemWriter, item: Matching) -> None:
    writer.stem()
    texts = rights(item)
    options = [(f"B{n}", text) for n, text in enumerate(texts, 1)]
    for n, pair in enumerate(item.pairs, 1):
        response = writer.options(writer.presentation, f"R{n}", "Single", options, item.shuffle)
        prompt = etree.Element("material")
        writer.refs |= set(media_refs(pair.left))
        sub(prompt, "mattext", texttype="text/html").text = pair.left
        response.insert(0, prompt)
    writer.begin()
    key = [(f"R{n}", f"B{texts.index(pair.right) + 1}", None) for n, pair in enumerate(item.pairs, 1)]
    _parts(writer, key, item.scoring, [pair_share(item, pair) for pair in item.pairs])


def _parts(
    writer: ItemWriter, key: Sequence[tuple[str, str, int | None]], scoring: PartScoring, shares: Sequence[float] = ()
) -> None:
    """Rules for parts, each given as (response, value, index): each earns its share, or all together everything."""

    def whole(condition: etree._Element) -> None:
        both = sub(condition, "and")
        for name, value, index in key:
            equal(both, name, value, index)

    if not key:
        writer.otherwise()
        return
    if scoring == "all_or_nothing":
        condition = writer.rule(1.0)
        whole(condition)
        writer.correct(condition)
        writer.otherwise()
        return
    for (name, value, index), share in zip(key, shares or [1 / len(key)] * len(key), strict=True):
        equal(writer.rule(share, "Add", goes_on=True), name, value, index)
    writer.tell_result(whole)


def _ordering(writer: ItemWriter, item: Ordering) -> None:
    writer.stem()
    # Entries stand in the order of their text, so that the page does not give the answer away.
    shown = sorted(range(len(item.sequence)), key=lambda i: plain_text(item.sequence[i]))
    options = [(f"E{i + 1}", item.sequence[i]) for i in shown]
    writer.options(writer.presentation, "R1", "Ordered", options, True)
    writer.begin()
    _parts(writer, [("R1", f"E{place}", place) for place in range(1, len(item.sequence) + 1)], item.scoring)


def _essay(writer: ItemWriter, item: Essay) -> None:
    """A person marks it; its one rule shows what there is to show, since processing without a rule is none (3.4.2)."""
    writer.stem()
    writer.field(writer.presentation, "R1", "String", rows=12)
    writer.begin()
    assert writer.processing is not None
    if item.sample_answer or not item.feedback.get("general"):
        rule = writer.rule(None)
        if item.sample_answer:
            sub(rule.getparent(), "displayfeedback", feedbacktype="Solution", linkrefid=f"{item.id}_solution")  # type: ignore[arg-type]


def _information(writer: ItemWriter, _item: Information) -> None:
    writer.stem()


def _preserved(_writer: ItemWriter, _item: Preserved) -> None:
    """Its own markup is written as it is, before its type is asked for."""


_WRITERS: ByType[Callable[[ItemWriter, Any], None]] = ByType(
    "how an item is written",
    {
        "multiple_choice": _multiple_choice,
        "multiple_response": _multiple_response,
        "true_false": _true_false,
        "fill_in": _fill_in,
        "numeric": _numeric,
        "cloze": cloze,
        "matching": _matching,
        "ordering": _ordering,
        "essay": _essay,
        "information": _information,
        "preserved": _preserved,
    },
)


def write_item(writer: ItemWriter) -> etree._Element | None:
    """The tree of the writer's item, None where it could not be written."""
    return writer.element(lambda: _WRITERS.of(writer.item)(writer, writer.item))
