"""Makes one item of the model from a QTI 1.2 `item`: its form by its responses, its key by probing."""

from __future__ import annotations

import re
from collections.abc import Callable

from lxml import etree

from rogatum.core.formats.qti1.feedback import Shown, choice_feedback
from rogatum.core.formats.qti1.item_metadata import ItemContext, feedback_texts, read_metadata, read_solutions
from rogatum.core.formats.qti1.item_parts import blanks_of_one, cloze, group, matching, ordering, same_options
from rogatum.core.formats.qti1.item_reading import ItemReading, is_numeric
from rogatum.core.formats.qti1.presentation import Presentation, Response, read_presentation
from rogatum.core.formats.qti1.shaped import processing_of
from rogatum.core.formats.shared.keys import WRONG, Prober, Responses, TypedSlot, a_wrong_number, numbers, texts
from rogatum.core.items import (
    Choice,
    Essay,
    FillIn,
    Information,
    Item,
    MultipleChoice,
    MultipleResponse,
    Numeric,
    TrueFalse,
)
from rogatum.core.items.content import plain_text
from rogatum.core.items.type_words import type_named
from rogatum.core.quizzes.marking import Response as Answer

TRUE_WORDS, FALSE_WORDS = {"true", "t", "yes"}, {"false", "f", "no"}
_NUMERIC_FIBS = ("Integer", "Decimal", "Scientific")


def read_item(element: etree._Element, context: ItemContext) -> Item:
    """Reads an item; its id, place and pool are the caller's."""
    title = " ".join(context.claims.attribute(element, "title").split())
    read_metadata(element, context)
    presentation = element.find("presentation")
    parts = read_presentation(presentation, context.material) if presentation is not None else Presentation()
    processing = processing_of(element.findall("resprocessing"), context.claims, parts, context.shapes)
    form = ItemReading(context, element, parts, processing, Prober(processing), feedback_texts(element, context))
    item = _item(form)
    item.title = title
    item.metadata = context.metadata
    declared = context.declared_type
    # A stated type that says what the item is anyway is spent; any other may be of use to a person.
    if declared and not declared.startswith("cc.") and type_named(declared) != item.type:
        item.metadata.setdefault("type", []).append(declared)
    form.prove(item)
    read_solutions(element, context, item)
    return item


def _item(form: ItemReading) -> Item:
    responses = form.parts.responses
    if any(r.kind == "xy" or r.renderer in ("hotspot", "slider", "extension") for r in responses):
        return form.preserved("it is answered on a picture, with a slider or in a way of its own.")
    if not responses:
        item: Item = Information(id=form.id, stem=form.context.content(form.parts.stem()))
        item.points = form.context.declared_points
        form.plain_feedback(item, None, [])
        return item
    return _one(form, responses[0]) if len(responses) == 1 else _several(form, responses)


def _several(form: ItemReading, responses: list[Response]) -> Item:
    all_choices = all(r.renderer == "choice" and r.cardinality == "Single" for r in responses)
    if all_choices and all(r.prompt for r in responses) and same_options(responses):
        return matching(form, responses)
    if all(r.kind in ("lid", "str", "num") and r.cardinality == "Single" for r in responses):
        return cloze(form, responses)
    return form.preserved(f"it has {len(responses)} responses of different kinds.")


def _one(form: ItemReading, response: Response) -> Item:
    stem = form.context.content(form.parts.stem() + response.prompt)
    if response.kind == "grp":
        return group(form, stem, response)
    if response.renderer == "choice" or (response.kind == "lid" and response.labels):
        return ordering(form, stem, response) if response.cardinality == "Ordered" else _choices(form, stem, response)
    if len(response.labels) > 1 and response.renderer == "fib":
        return blanks_of_one(form, stem, response)
    return _filled(form, stem, response)


# Choices


def _choices(form: ItemReading, stem: str, response: Response) -> Item:
    if response.cardinality == "Multiple":
        key = form.prober.multiple_choice(response)
        scale, choices = key.scale, form.choice_list(response, key.weights)
        item: Item = MultipleResponse(
            id=form.id, stem=stem, choices=choices, shuffle=response.shuffle, scoring=key.scoring, lowest=key.lowest
        )
    else:
        weights, scale = form.prober.single_choice(response)
        choices = form.choice_list(response, weights)
        item = _true_false(form, stem, choices) or MultipleChoice(id=form.id, stem=stem, choices=choices, shuffle=response.shuffle)
    form.set_points(item, scale)
    form.given = _given_choices(item, response, choices)
    choice_feedback(item, _shown_by_choice(form, response), _shown_by_key(form, item, response), form.feedback, form.processing)
    return item


def _given_choices(item: Item, response: Response, choices: list[Choice]) -> Callable[[Answer], Responses]:
    """How picks of the model are given to the source: by the identifiers of its labels."""
    idents = {choice.id: label.ident for choice, label in zip(choices, response.labels, strict=True)}
    if isinstance(item, TrueFalse):
        idents |= {_truth_of(choice): idents[choice.id] for choice in choices}

    def given(answer: Answer) -> Responses:
        picked = answer if isinstance(answer, list) else [] if answer is None else [str(answer)]
        return {response.ident: [idents.get(pick, pick) for pick in picked]}

    return given


def _truth_of(choice: Choice) -> str:
    return "true" if plain_text(choice.content).lower().strip(". ") in TRUE_WORDS else "false"


def _true_false(form: ItemReading, stem: str, choices: list[Choice]) -> TrueFalse | None:
    words = [plain_text(choice.content).lower().strip(". ") for choice in choices]
    if len(words) != 2 or not ({words[0]} <= TRUE_WORDS and {words[1]} <= FALSE_WORDS):
        if len(words) != 2 or not ({words[1]} <= TRUE_WORDS and {words[0]} <= FALSE_WORDS):
            return None
        choices = choices[::-1]
    # “yes” and “no” are the words of a choice; only true and false are this type.
    if words[0] in ("yes", "no"):
        return None
    right = [choice.weight > 0.999 for choice in choices]
    partial = any(0 < abs(choice.weight) < 0.999 for choice in choices)
    if partial or right == [True, True] or min(choice.weight for choice in choices) < 0:
        return None
    return TrueFalse(id=form.id, stem=stem, answer=None if right == [False, False] else right[0])


def _shown_by_choice(form: ItemReading, response: Response) -> list[Shown]:
    return [Shown(label.ident, label.markup, form.prober.shown({response.ident: [label.ident]})) for label in response.labels]


def _shown_by_key(form: ItemReading, item: Item, response: Response) -> list[str]:
    if not isinstance(item, MultipleResponse):
        return []
    return form.prober.shown({response.ident: [choice.id for choice in item.choices if choice.weight > 0]})


# Text and numbers


def _filled(form: ItemReading, stem: str, response: Response) -> Item:
    def give(text: str) -> dict[str, list[str]]:
        return {response.ident: [text]}

    def given(answer: Answer) -> dict[str, list[str]]:
        return give(str(answer)) if answer is not None else {}

    slot = TypedSlot([n for n in form.processing.named if n.response == response.ident], give)
    if is_numeric(form, response):
        intervals, best = numbers(form.prober, slot)
        if intervals or response.kind == "num" or response.fibtype in _NUMERIC_FIBS:
            item: Item = Numeric(id=form.id, stem=stem, answers=intervals)
            form.set_points(item, form.prober.scale(best))
            form.given = given
            form.typed_feedback(item, intervals, give, a_wrong_number(intervals))
            return item
    key = texts(form.prober, slot)
    if key.answers or (response.rows <= 1 and "essay" not in form.context.declared_type.lower() and _says_fill_in(form)):
        item = FillIn(id=form.id, stem=stem, answers=key.answers, case_sensitive=key.case_sensitive)
        form.set_points(item, form.prober.scale(key.best))
        form.given = given
        form.typed_feedback(item, key.answers, give, WRONG)
        return item
    item = Essay(id=form.id, stem=stem)
    form.set_points(item, None)
    form.plain_feedback(item, None, [give(WRONG)])
    return item


def _says_fill_in(form: ItemReading) -> bool:
    return bool(re.search(r"fib|fill|short|blank", form.context.declared_type, re.I))
