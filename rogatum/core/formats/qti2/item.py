"""Makes one item of the model from a QTI 2.x or 3.0 `assessmentItem`: its form by its interactions, its key by probing."""

from __future__ import annotations

from collections.abc import Callable

from lxml import etree

from rogatum.core.findings.items import TYPE_GUESSED
from rogatum.core.findings.keys import MARKING_APPROXIMATED
from rogatum.core.formats.qti2.blanks import cloze, gap_match, several
from rogatum.core.formats.qti2.body import Body, BodyReader, Interaction, Option
from rogatum.core.formats.qti2.declarations import Response, read_outcome, read_response
from rogatum.core.formats.qti2.expressions import Compiler, Declared
from rogatum.core.formats.qti2.feedback import says_true
from rogatum.core.formats.qti2.item_reading import ItemContext, ItemReading, giver
from rogatum.core.formats.qti2.processing import Processing
from rogatum.core.formats.shared.key_finding import Prober
from rogatum.core.items import (
    Choice,
    Essay,
    FillIn,
    Information,
    Item,
    Matching,
    MultipleChoice,
    MultipleResponse,
    Numeric,
    Ordering,
    Pair,
    TrueFalse,
)
from rogatum.core.items.content import plain_text

_GRAPHIC = "it is answered on a picture, by an upload, with a slider or in a way of its own."


def read_item(root: etree._Element, context: ItemContext) -> Item:
    """Reads an item whose names are ours (`in_our_names`); its id, place, pool and stimulus are the caller's."""
    claims = context.claims
    title = " ".join(claims.attribute(root, "title").split())
    declared = Declared({}, {})
    for element in root.iterfind("responseDeclaration"):
        response = read_response(element, claims)
        declared.responses[response.ident] = response
    for element in root.iterfind("outcomeDeclaration"):
        outcome = read_outcome(element, claims)
        declared.outcomes[outcome.ident] = outcome
    reader = BodyReader(lambda left: _left_out(left, context))
    body_element = root.find("itemBody")
    body = reader.read(body_element) if body_element is not None else Body()
    if body_element is not None:
        claims.subtree(body_element)
    processing = Processing(root, declared, Compiler(declared, claims))
    form = ItemReading(context, root, body, processing, Prober(processing))
    texts = form.feedback_texts(reader)
    item = _item(form)
    item.title = title
    item.metadata = context.metadata | item.metadata
    form.finish(item, texts)
    return item


def _left_out(element: etree._Element, context: ItemContext) -> None:
    text = " ".join("".join(map(str, element.itertext())).split())
    name = etree.QName(element).localname
    context.builder.account.leave(context.where, f"{name}: {element.get('href') or element.get('data') or text}")


def _item(form: ItemReading) -> Item:
    if form.root.find("templateDeclaration") is not None or form.root.find("templateProcessing") is not None or form.body.templated:
        return form.preserved("it makes its values anew each time (template processing).")
    interactions = [i for i in form.body.interactions if i.kind != "mediaInteraction"]
    if not form.body.interactions:
        item: Item = Information(id=form.id, stem=form.stem())
        item.points = form.processing.maximum
        return item
    if not interactions:
        return form.preserved("it asks that a sound or a film be played.")
    if len(interactions) > 1:
        return several(form, interactions)
    maker = _MAKERS.get(interactions[0].kind)
    response = form.response(interactions[0])
    if maker is None or response is None:
        return form.preserved(_GRAPHIC if maker is None else "its response is not declared.")
    return maker(form, interactions[0], response)


def _choices(form: ItemReading, interaction: Interaction, response: Response) -> Item:
    form.asked = interaction
    if response.cardinality != "single":
        weights, scoring, scale = form.prober.multiple_choice(interaction)
        choices = form.choice_list(interaction.options, weights)
        item: Item = MultipleResponse(id=form.id, stem=form.stem(), choices=choices, shuffle=interaction.shuffle, scoring=scoring)
        form.key = {interaction.ident: [choice.id for choice in choices if choice.weight > 0]}
    else:
        weights, scale = form.prober.single_choice(interaction)
        choices = form.choice_list(interaction.options, weights)
        best = [choice.id for choice in choices if choice.weight > 0.999]
        form.key = {interaction.ident: best[:1]} if best else None
        item = _true_false(form, interaction, choices) or MultipleChoice(
            id=form.id, stem=form.stem(), choices=choices, shuffle=interaction.shuffle
        )
    form.set_points(item, scale)
    return item


def _true_false(form: ItemReading, interaction: Interaction, choices: list[Choice]) -> TrueFalse | None:
    words = [plain_text(choice.content).lower().strip(" .") for choice in choices]
    if sorted(words) not in (["false", "true"], ["f", "t"]):
        return None
    right = [says_true(o.markup) for o, choice in zip(interaction.options, choices, strict=True) if choice.weight > 0.999]
    if len(right) > 1 or any(0 < abs(choice.weight) < 0.999 for choice in choices):
        return None
    item = TrueFalse(id=form.id, stem=form.stem(), answer=right[0] if right else None)
    for option, choice in zip(interaction.options, choices, strict=True):
        if choice.feedback:
            item.choice_feedback["true" if says_true(option.markup) else "false"] = choice.feedback
    return item


def _inline_choice(form: ItemReading, interaction: Interaction, _response: Response) -> Item:
    return cloze(form, [interaction])


def _hottext(form: ItemReading, interaction: Interaction, response: Response) -> Item:
    form.context.note(TYPE_GUESSED, detail="words to be marked in a text are its choices.")
    return _choices(form, interaction, response)


# Order and pairs


def _ordering(form: ItemReading, interaction: Interaction, response: Response) -> Item:
    options = {option.ident: option for option in interaction.options}
    order = [ident for ident in response.correct if ident in options]
    if sorted(order) != sorted(options):
        return form.preserved("its right order does not hold all entries.")
    form.key = {interaction.ident: order}
    gained = form.prober.score(form.key)
    if gained <= 0:
        form.prober.note(MARKING_APPROXIMATED, detail="the right order earns no points.")
    reverse = form.prober.score({interaction.ident: order[:2][::-1] + order[2:]})
    if 0 < reverse < gained:
        form.prober.note(MARKING_APPROXIMATED, detail="an order that is partly right earns a part of the points.")
    item = Ordering(id=form.id, stem=form.stem(), sequence=[form.context.content(options[i].markup) for i in order])
    form.set_points(item, form.prober.scale(gained))
    return item


def _matching(form: ItemReading, interaction: Interaction, response: Response) -> Item:
    pairs = form.right_pairs(response)
    lefts, rights = interaction.options, interaction.targets
    if interaction.kind == "associateInteraction":
        firsts = {a for a, _ in pairs}
        lefts = [option for option in interaction.options if option.ident in firsts]
        rights = [option for option in interaction.options if option.ident not in firsts]
        form.context.note(TYPE_GUESSED, detail="what belongs together without a side was read as left and right.")
    if not _one_each(pairs, lefts, 0) and _one_each(pairs, rights, 1):
        lefts, rights, pairs = rights, lefts, [(b, a) for a, b in pairs]
    if not pairs or not _one_each(pairs, lefts, 0):
        return form.preserved("its sides cannot be matched one to one.")
    return _matched(form, interaction, response, pairs, lefts, rights)


def _matched(
    form: ItemReading,
    interaction: Interaction,
    response: Response,
    pairs: list[tuple[str, str]],
    lefts: list[Option],
    rights: list[Option],
) -> Item:
    partner, texts = dict(pairs), {option.ident: form.context.content(option.markup) for option in rights}
    item = Matching(id=form.id, stem=form.stem(), shuffle=interaction.shuffle)
    for option in lefts:
        item.pairs.append(Pair(left=form.context.content(option.markup), right=texts[partner[option.ident]]))
    used = set(partner.values())
    item.distractors = [texts[option.ident] for option in rights if option.ident not in used]
    key = [" ".join(pair) for pair in form.right_pairs(response)]
    form.key = {interaction.ident: key}
    best = form.prober.score(form.key)
    _check_pairs(form, interaction.ident, key, best)
    form.set_points(item, form.prober.scale(best))
    return item


def _check_pairs(form: ItemReading, ident: str, key: list[str], best: float) -> None:
    """The model gives each pair its share; what the source does otherwise is said."""
    singles = [form.prober.score({ident: [pair]}) for pair in key]
    if best > 0 and len(key) > 1 and max(singles) <= 0:
        form.prober.note(MARKING_APPROXIMATED, detail="the pairs earn points only all together.")
    elif max(singles) - min(singles) > 1e-6:
        form.prober.note(MARKING_APPROXIMATED, detail="the pairs earn different points.")


# Text and numbers


def _text_entry(form: ItemReading, interaction: Interaction, response: Response) -> Item:
    if not interaction.blanks:
        interaction.blanks.append("b1")
    give = giver(interaction.ident)
    if form.is_numeric(response):
        numbers, best = form.prober.numbers(interaction, give)
        if numbers or response.base in ("float", "integer"):
            item: Item = Numeric(id=form.id, stem=form.stem_with_blank(), answers=numbers)
            form.key = give(response.correct[0]) if response.correct else None
            form.set_points(item, form.prober.scale(best))
            return item
    answers, sensitive, best = form.prober.texts(interaction, give)
    item = FillIn(id=form.id, stem=form.stem_with_blank(), answers=answers, case_sensitive=sensitive)
    form.key = give(answers[0].text) if answers else None
    form.set_points(item, form.prober.scale(best))
    return item


def _extended_text(form: ItemReading, interaction: Interaction, response: Response) -> Item:
    if response.base in ("float", "integer"):
        return _text_entry(form, interaction, response)
    if response.mapping is not None and response.mapping.entries:
        return _text_entry(form, interaction, response)
    item = Essay(id=form.id, stem=form.stem())
    if response.correct and any(response.correct):
        item.sample_answer = form.context.content("<br>".join(response.correct))
    item.points = form.processing.maximum
    return item


def _one_each(pairs: list[tuple[str, str]], options: list[Option], side: int) -> bool:
    """Whether each option stands in exactly one pair, on this side."""
    return sorted(pair[side] for pair in pairs) == sorted(option.ident for option in options)


_MAKERS: dict[str, Callable[[ItemReading, Interaction, Response], Item]] = {
    "choiceInteraction": _choices,
    "hottextInteraction": _hottext,
    "inlineChoiceInteraction": _inline_choice,
    "textEntryInteraction": _text_entry,
    "extendedTextInteraction": _extended_text,
    "matchInteraction": _matching,
    "associateInteraction": _matching,
    "gapMatchInteraction": gap_match,
    "orderInteraction": _ordering,
}
