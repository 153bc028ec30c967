"""Items with blanks: several interactions in one body, words to be put into gaps, choices within a line."""

from __future__ import annotations

from collections.abc import Callable

from lxml import etree

from rogatum.core.findings.items import TYPE_GUESSED
from rogatum.core.formats.qti2.body import BodyReader, Interaction, as_block
from rogatum.core.formats.qti2.declarations import Response
from rogatum.core.formats.qti2.item_reading import ItemReading
from rogatum.core.formats.shared.feedback import a_wrong_value
from rogatum.core.formats.shared.keys import (
    PartKey,
    Parts,
    Picks,
    Responses,
    TypedSlot,
    choice_weights,
    key_by_parts,
    lowest_of_blanks,
    numbers,
    shares,
    texts,
    typed_candidates,
)
from rogatum.core.items import Blank, ChoiceBlank, Cloze, Item, NumericBlank, TextBlank
from rogatum.core.quizzes.marking import Response as Answer


def several(form: ItemReading, interactions: list[Interaction]) -> Item:
    for interaction in interactions:
        response = form.response(interaction)
        blank = interaction.kind in ("textEntryInteraction", "inlineChoiceInteraction")
        one_of = interaction.kind == "choiceInteraction" and response is not None and response.cardinality == "single"
        if response is None or not (blank or one_of):
            return form.preserved(f"it has {len(interactions)} interactions of different kinds.")
    if any(interaction.kind == "choiceInteraction" for interaction in interactions):
        _choices_as_blanks(form, interactions)
    return cloze(form, interactions)


def _choices_as_blanks(form: ItemReading, interactions: list[Interaction]) -> None:
    """Questions with choices side by side become blanks to choose for, each behind its prompt."""
    reader = _BlankReader()
    form.body.markup = reader.read(form.root.find("itemBody")).markup  # type: ignore[arg-type]
    for interaction, again in zip(interactions, reader.body.interactions, strict=True):
        interaction.blanks = again.blanks
    form.context.note(TYPE_GUESSED, detail=f"{len(interactions)} questions in one item are its blanks.")


def gap_match(form: ItemReading, interaction: Interaction, response: Response) -> Item:
    """Words to be put into gaps: each gap is a blank with all words as choices."""
    if not interaction.targets:
        return form.preserved("it has no gaps.")
    right = {gap: word for word, gap in form.right_pairs(response)}
    gaps = dict(zip(interaction.blanks, (gap.ident for gap in interaction.targets), strict=True))
    words = [option.ident for option in interaction.options]

    def assemble(picks: Picks) -> Responses:
        return {interaction.ident: [f"{word} {gaps[blank]}" for blank, word in picks.items()]}

    candidates = {blank: list(dict.fromkeys([*filter(None, [right.get(gap)]), *words])) for blank, gap in gaps.items()}
    key = key_by_parts(Parts(candidates, assemble, form.prober.score))
    blanks: list[Blank] = []
    for blank in gaps:
        weights = [float(word == key.picks.get(blank)) for word in words]
        blanks.append(ChoiceBlank(id=blank, choices=form.choice_list(interaction.options, weights)))
    return _cloze_of(form, blanks, list(key.gains.values()), key, assemble)


def cloze(form: ItemReading, interactions: list[Interaction]) -> Item:
    """Interactions in one body as blanks; each one's key is found beside the right responses of the others."""
    slots = {interaction.blanks[0]: interaction for interaction in interactions}

    def assemble(picks: Picks) -> Responses:
        return {slots[blank].ident: [value] for blank, value in picks.items()}

    candidates = {blank: _candidates(form, interaction) for blank, interaction in slots.items()}
    key = key_by_parts(Parts(candidates, assemble, form.prober.score))
    gains: list[float] = []
    blanks: list[Blank] = []
    for blank_id, interaction in slots.items():

        def give(value: str, blank_id: str = blank_id) -> Responses:
            return assemble({**key.picks, blank_id: value})

        blank, best = _blank(form, interaction, give)
        blanks.append(blank)
        gains.append(best)
    return _cloze_of(form, blanks, gains, key, assemble)


def _candidates(form: ItemReading, interaction: Interaction) -> list[str]:
    """What may be right for an interaction: what is declared so, what conditions name, and what else it offers."""
    response = form.response(interaction)
    named = [n for n in form.processing.named if n.response == interaction.ident]
    values = [*(response.correct if response else []), *typed_candidates(named)]
    idents = [option.ident for option in interaction.options]
    return list(dict.fromkeys([*(value for value in values if not idents or value in idents), *idents]))


def _blank(form: ItemReading, interaction: Interaction, give: Callable[[str], Responses]) -> tuple[Blank, float]:
    response, blank_id, prober = form.response(interaction), interaction.blanks[0], form.prober
    assert response is not None
    if interaction.options:
        scores = [prober.score(give(option.ident)) for option in interaction.options]
        weights, best = choice_weights(scores, prober.score(give("")))
        return ChoiceBlank(id=blank_id, choices=form.choice_list(interaction.options, weights)), best
    slot = TypedSlot([n for n in form.processing.named if n.response == interaction.ident], give)
    if form.is_numeric(response):
        intervals, best = numbers(prober, slot)
        if intervals:
            return NumericBlank(id=blank_id, answers=intervals), best
    key = texts(prober, slot)
    return TextBlank(id=blank_id, answers=key.answers, case_sensitive=key.case_sensitive), key.best


def _cloze_of(
    form: ItemReading, blanks: list[Blank], gains: list[float], key: PartKey, assemble: Callable[[Picks], Responses]
) -> Item:
    """The item of its blanks: each has the share of what it earns."""
    for blank, share in zip(blanks, shares(gains), strict=True):
        blank.share = share
    item = Cloze(id=form.id, stem=form.stem(), blanks=blanks, scoring=key.scoring)
    form.key, form.wrong = assemble(key.picks), [assemble({blank.id: a_wrong_value(blank) for blank in blanks})]
    form.prober.needs_a_key(key.whole)
    form.set_points(item, form.prober.scale(key.whole))

    def given(answer: Answer) -> Responses:
        return assemble(answer if isinstance(answer, dict) else {})

    form.given = given
    item.lowest = lowest_of_blanks(item, lambda picks: form.prober.score(given(dict(picks))), key.whole)
    return item


class _BlankReader(BodyReader):
    """Reads a body so that each question with choices leaves a blank behind its prompt."""

    def __init__(self) -> None:
        super().__init__(lambda _element: None)

    def _choices(self, element: etree._Element, interaction: Interaction) -> str:
        super()._choices(element, interaction)
        return f"<p>{self._blank(interaction)}</p>"

    def _interaction(self, element: etree._Element) -> str:
        if element.tag != "choiceInteraction":
            return super()._interaction(element)
        interaction = Interaction("choiceInteraction", element.get("responseIdentifier", ""), element)
        self.body.interactions.append(interaction)
        prompt = element.find("prompt")
        shown = self.children(prompt) if prompt is not None else ""
        return as_block(shown) + self._choices(element, interaction)
