"""Writes the items of each type as QTI 2.x and 3.0: declarations, body and processing."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from lxml import etree

from rogatum.core.formats.qti2.blank_writing import best_first, case_of, cloze, number_test, right_numbers, text_entry, text_test
from rogatum.core.formats.qti2.dialects import HTML_MARK
from rogatum.core.formats.qti2.elements import node
from rogatum.core.formats.qti2.item_writer import RESPONSE, ItemWriter, identifier_value, is_correct, variable
from rogatum.core.items import (
    Choice,
    Essay,
    FillIn,
    Item,
    Matching,
    MultipleChoice,
    MultipleResponse,
    Numeric,
    Ordering,
    Preserved,
    TrueFalse,
)
from rogatum.core.items.by_type import ByType
from rogatum.core.items.content import plain_text
from rogatum.core.items.parts import rights
from rogatum.core.quizzes.marking import pair_share

# Types


def _choices(writer: ItemWriter, choices: list[Choice], shuffle: bool | None, most: str) -> list[str]:
    idents = writer.own_identifiers([choice.id for choice in choices])
    writer.stem()
    if not choices:
        return idents  # an interaction has something to pick
    interaction = node("choiceInteraction", responseIdentifier=RESPONSE, shuffle=str(bool(shuffle)).lower(), maxChoices=most)
    for ident, choice in zip(idents, choices, strict=True):
        interaction.append(writer.choice("simpleChoice", ident, choice.content))
    writer.blocks.append(interaction)
    return idents


def _multiple_choice(writer: ItemWriter, item: MultipleChoice) -> None:
    idents = _choices(writer, item.choices, item.shuffle, "1")
    weights = list(zip(idents, [choice.weight for choice in item.choices], strict=True))
    declared = writer.respond(RESPONSE, "single", "identifier", [i for i, weight in weights if weight == 1][:1])
    if any(weight for _, weight in weights):
        writer.mapping(declared, [(ident, weight, None) for ident, weight in weights if weight])
        writer.score_by_mapping()
    writer.picked_feedback(list(zip(idents, [choice.feedback for choice in item.choices], strict=True)), "single")


def _multiple_response(writer: ItemWriter, item: MultipleResponse) -> None:
    idents = _choices(writer, item.choices, item.shuffle, "0")
    weights = list(zip(idents, [choice.weight for choice in item.choices], strict=True))
    declared = writer.respond(RESPONSE, "multiple", "identifier", [ident for ident, weight in weights if weight > 0])
    if item.scoring == "per_choice":
        writer.mapping(declared, [(ident, weight, None) for ident, weight in weights if weight], held=True, lowest=item.lowest)
        writer.score_by_mapping()
    else:
        writer.score_chain([(is_correct(RESPONSE), 1.0)])
    writer.picked_feedback(list(zip(idents, [choice.feedback for choice in item.choices], strict=True)), "multiple")


def _true_false(writer: ItemWriter, item: TrueFalse) -> None:
    pair = [Choice(id="true", content="True"), Choice(id="false", content="False")]
    _choices(writer, pair, None, "1")
    writer.respond(RESPONSE, "single", "identifier", [] if item.answer is None else [str(item.answer).lower()])
    if item.answer is not None:
        writer.score_chain([(is_correct(RESPONSE), 1.0)])
    writer.picked_feedback([(key, item.choice_feedback.get(key)) for key in ("true", "false")], "single")


def _fill_in(writer: ItemWriter, item: FillIn) -> None:
    writer.stem()
    writer.blocks.append(_marked(node("p", text_entry(RESPONSE))))
    declared = writer.respond(
        RESPONSE, "single", "string", [a.text for a in item.answers if a.weight == 1 and a.match == "exact"][:1]
    )
    if all(answer.match == "exact" for answer in item.answers):
        if item.answers:
            writer.mapping(
                declared,
                [(answer.text, answer.weight, case_of(answer, item.case_sensitive)) for answer in best_first(item.answers)],
            )
            writer.score_by_mapping()
    else:
        writer.score_chain([(text_test(RESPONSE, a, item.case_sensitive), a.weight) for a in best_first(item.answers)])
    writer.answer_feedback([(text_test(RESPONSE, a, item.case_sensitive), a.feedback) for a in best_first(item.answers)])


def _marked(paragraph: etree._Element) -> etree._Element:
    paragraph.set(HTML_MARK, "")
    return paragraph


def _numeric(writer: ItemWriter, item: Numeric) -> None:
    writer.stem()
    writer.blocks.append(_marked(node("p", text_entry(RESPONSE))))
    writer.respond(RESPONSE, "single", "float", right_numbers(item.answers))
    ordered = sorted(item.answers, key=lambda answer: -answer.weight)
    writer.score_chain([(number_test(RESPONSE, answer), answer.weight) for answer in ordered])
    writer.answer_feedback([(number_test(RESPONSE, answer), answer.feedback) for answer in ordered])


def _matching(writer: ItemWriter, item: Matching) -> None:
    writer.stem()
    if not item.pairs:
        return
    texts = rights(item)
    interaction = node("matchInteraction", responseIdentifier=RESPONSE, shuffle=str(bool(item.shuffle)).lower())
    interaction.set("maxAssociations", str(len(item.pairs)))
    lefts, targets = node("simpleMatchSet"), node("simpleMatchSet")
    for position, pair in enumerate(item.pairs, 1):
        lefts.append(writer.choice("simpleAssociableChoice", f"L{position}", pair.left, matchMax="1"))
    for position, text in enumerate(texts, 1):
        targets.append(writer.choice("simpleAssociableChoice", f"R{position}", text, matchMax="0"))
    interaction.append(lefts)
    interaction.append(targets)
    writer.blocks.append(interaction)
    key = [f"L{position} R{texts.index(pair.right) + 1}" for position, pair in enumerate(item.pairs, 1)]
    declared = writer.respond(RESPONSE, "multiple", "directedPair", key)
    if item.scoring == "all_or_nothing":
        writer.score_chain([(is_correct(RESPONSE), 1.0)])
        return
    writer.mapping(declared, [(text, pair_share(item, pair), None) for text, pair in zip(key, item.pairs, strict=True)])
    writer.score_by_mapping()


def _ordering(writer: ItemWriter, item: Ordering) -> None:
    writer.stem()
    if not item.sequence:
        return
    idents = [f"o{position}" for position in range(1, len(item.sequence) + 1)]
    interaction = node("orderInteraction", responseIdentifier=RESPONSE, shuffle="true")
    # Entries stand in the order of their text, so that the page does not give the answer away.
    for ident, content in sorted(zip(idents, item.sequence, strict=True), key=lambda entry: plain_text(entry[1])):
        interaction.append(writer.choice("simpleChoice", ident, content))
    writer.blocks.append(interaction)
    writer.respond(RESPONSE, "ordered", "identifier", idents)
    if item.scoring == "all_or_nothing":
        writer.score_chain([(is_correct(RESPONSE), 1.0)])
        return
    for place, ident in enumerate(idents, 1):
        at_place = node("match", node("index", variable(RESPONSE), n=str(place)), identifier_value(ident))
        writer.add_chain([(at_place, 1 / len(idents))])


def _essay(writer: ItemWriter, item: Essay) -> None:
    writer.stem()
    writer.blocks.append(node("extendedTextInteraction", responseIdentifier=RESPONSE, expectedLines="10"))
    writer.respond(RESPONSE, "single", "string", [])
    if item.rubric:
        rubric = node("rubricBlock", view="scorer")
        body = node("contentBody") if writer.dialect.kebab else rubric
        writer.content.blocks(body, item.rubric)
        if body is not rubric:
            rubric.append(body)
        writer.blocks.append(rubric)
    if item.sample_answer:
        writer.solution(item.sample_answer)


def _information(writer: ItemWriter, _item: Item) -> None:
    writer.stem()


def _preserved(_writer: ItemWriter, _item: Preserved) -> None:
    """Its own markup is the caller's to write."""


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
