"""Makes one item of the model from a QTI 2.x or 3.0 `assessmentItem`: its form by its interactions, its key by probing."""

from __future__ import annotations

from collections.abc import Callable

from lxml import etree

from rogatum.core.findings.items import TYPE_GUESSED
from rogatum.core.formats.qti2.blanks import cloze, gap_match, several
from rogatum.core.formats.qti2.body import Body, BodyReader, Interaction, Option
from rogatum.core.formats.qti2.declarations import Response
from rogatum.core.formats.qti2.feedback import says_true
from rogatum.core.formats.qti2.item_reading import ItemContext, ItemReading
from rogatum.core.formats.qti2.shaped import processing_of
from rogatum.core.formats.shared.keys import (
    Parts,
    Picks,
    Prober,
    Responses,
    TypedSlot,
    a_right_text,
    a_wrong_number,
    key_by_parts,
    numbers,
    pair_shares,
    scoring_of_order,
    texts,
)
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
from rogatum.core.items.parts import rights as rights_of
from rogatum.core.quizzes.marking import Response as Answer

_GRAPHIC = "it is answered on a picture, by an upload, with a slider or in a way of its own."


def read_item(root: etree._Element, context: ItemContext) -> Item:
    """Reads an item whose names are ours (`in_our_names`); its id, place, pool and stimulus are the caller's."""
    claims = context.claims
    title = " ".join(claims.attribute(root, "title").split())
    reader = BodyReader(lambda left: _left_out(left, context))
    body_element = root.find("itemBody")
    body = reader.read(body_element) if body_element is not None else Body()
    if body_element is not None:
        claims.subtree(body_element)
    processing = processing_of(root, claims, body.interactions, context.shapes)
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
        key = form.prober.multiple_choice(interaction)
        scale, choices = key.scale, form.choice_list(interaction.options, key.weights)
        item: Item = MultipleResponse(
            id=form.id, stem=form.stem(), choices=choices, shuffle=interaction.shuffle, scoring=key.scoring, lowest=key.lowest
        )
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
    idents = {choice.id: option.ident for choice, option in zip(choices, interaction.options, strict=True)}
    if isinstance(item, TrueFalse):
        idents |= {"true" if says_true(option.markup) else "false": option.ident for option in interaction.options}

    def given(answer: Answer) -> Responses:
        picked = answer if isinstance(answer, list) else [] if answer is None else [str(answer)]
        return {interaction.ident: [idents.get(pick, pick) for pick in picked]}

    form.given = given
    return item


def _true_false(form: ItemReading, interaction: Interaction, choices: list[Choice]) -> TrueFalse | None:
    words = [plain_text(choice.content).lower().strip(" .") for choice in choices]
    if sorted(words) not in (["false", "true"], ["f", "t"]):
        return None
    right = [says_true(o.markup) for o, choice in zip(interaction.options, choices, strict=True) if choice.weight > 0.999]
    if len(right) > 1 or any(0 < abs(choice.weight) < 0.999 or choice.weight < 0 for choice in choices):
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
    order = _order(form, response, list(options))
    if sorted(order) != sorted(options):
        return form.preserved("its right order does not hold all entries.")

    def give(entries: list[str]) -> Responses:
        return {interaction.ident: entries}

    gained = form.prober.score(give(order))
    form.key, form.wrong = give(order), [give(order[::-1]), give(order[1:] + order[:1])]
    form.prober.needs_a_key(gained)
    item = Ordering(
        id=form.id,
        stem=form.stem(),
        sequence=[form.context.content(options[i].markup) for i in order],
        scoring=scoring_of_order(order, lambda entries: form.prober.score(give(entries))),
    )
    form.set_points(item, form.prober.scale(gained))

    def given(answer: Answer) -> Responses:
        return give([order[int(place)] for place in answer]) if isinstance(answer, list) else {}

    form.given = given
    return item


def _order(form: ItemReading, response: Response, idents: list[str]) -> list[str]:
    """The right order: as it is declared, else as conditions name it, by place or in turn."""
    if response.correct:
        return [ident for ident in response.correct if ident in idents]
    named = [n for n in form.processing.named if n.response == response.ident and n.value in idents]
    by_place = {n.index: n.value for n in named if n.index}
    return [by_place[i] for i in sorted(by_place)] or list(dict.fromkeys(n.value for n in named))


def _matching(form: ItemReading, interaction: Interaction, response: Response) -> Item:
    pairs = form.right_pairs(response)
    lefts, rights = interaction.options, interaction.targets
    if interaction.kind == "associateInteraction":
        firsts = {a for a, _ in pairs}
        lefts = [option for option in interaction.options if option.ident in firsts]
        rights = [option for option in interaction.options if option.ident not in firsts]
        form.context.note(TYPE_GUESSED, detail="what belongs together without a side was read as left and right.")
    turned = not _one_each(pairs, lefts, 0) and _one_each(pairs, rights, 1)
    if turned:
        lefts, rights, pairs = rights, lefts, [(b, a) for a, b in pairs]
    if not pairs or not _one_each(pairs, lefts, 0):
        return form.preserved("its sides cannot be matched one to one.")
    return _matched(form, interaction, pairs, lefts, rights, turned)


def _matched(
    form: ItemReading,
    interaction: Interaction,
    pairs: list[tuple[str, str]],
    lefts: list[Option],
    rights: list[Option],
    turned: bool,
) -> Item:
    """A matching of lefts and rights; `turned` says that the source names the right first."""
    partner, texts = dict(pairs), {option.ident: form.context.content(option.markup) for option in rights}

    def assemble(picks: Picks) -> Responses:
        return {interaction.ident: [f"{b} {a}" if turned else f"{a} {b}" for a, b in picks.items()]}

    first = {option.ident: partner[option.ident] for option in lefts}
    candidates = {left: list(dict.fromkeys([right, *texts])) for left, right in first.items()}
    key = key_by_parts(Parts(candidates, assemble, form.prober.score))
    item = Matching(id=form.id, stem=form.stem(), shuffle=interaction.shuffle, scoring=key.scoring)
    for option in lefts:
        item.pairs.append(Pair(left=form.context.content(option.markup), right=texts[key.picks[option.ident]]))
    for pair, share in zip(item.pairs, pair_shares(key), strict=True):
        pair.share = share
    used = set(key.picks.values())
    item.distractors = [texts[option.ident] for option in rights if option.ident not in used]
    shifted = [*list(key.picks.values())[1:], *list(key.picks.values())[:1]]
    form.key, form.wrong = assemble(key.picks), [assemble(dict(zip(key.picks, shifted, strict=True)))]
    form.prober.needs_a_key(key.whole)
    form.set_points(item, form.prober.scale(key.whole))
    idents = {text: ident for ident, text in texts.items()}

    def given(answer: Answer) -> Responses:
        offered = rights_of(item)
        picks = answer.items() if isinstance(answer, dict) else ()
        return assemble({lefts[int(left)].ident: idents[offered[int(right)]] for left, right in picks})

    form.given = given
    return item


# Text and numbers


def _text_entry(form: ItemReading, interaction: Interaction, response: Response) -> Item:
    if not interaction.blanks:
        interaction.blanks.append("b1")

    def give(text: str) -> Responses:
        return {interaction.ident: [text]}

    def given(answer: Answer) -> Responses:
        return give(str(answer)) if answer is not None else {}

    form.given = given
    slot = TypedSlot([n for n in form.processing.named if n.response == interaction.ident], give)
    if form.is_numeric(response):
        intervals, best = numbers(form.prober, slot)
        if intervals or response.base in ("float", "integer"):
            item: Item = Numeric(id=form.id, stem=form.stem_with_blank(), answers=intervals)
            right = response.correct[0] if response.correct else a_right_text(intervals)
            form.key = give(right) if right is not None else None
            form.wrong = [give(a_wrong_number(intervals))]
            form.set_points(item, form.prober.scale(best))
            return item
    key = texts(form.prober, slot)
    item = FillIn(id=form.id, stem=form.stem_with_blank(), answers=key.answers, case_sensitive=key.case_sensitive)
    right = a_right_text(key.answers)
    form.key = give(right) if right is not None else None
    form.set_points(item, form.prober.scale(key.best))
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
