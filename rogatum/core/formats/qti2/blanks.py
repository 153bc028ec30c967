"""Items with blanks: several interactions in one body, words to be put into gaps, choices within a line."""

from __future__ import annotations

from lxml import etree

from rogatum.core.findings.items import TYPE_GUESSED
from rogatum.core.findings.keys import MARKING_APPROXIMATED
from rogatum.core.formats.qti2.body import BodyReader, Interaction, as_block
from rogatum.core.formats.qti2.declarations import Response
from rogatum.core.formats.qti2.item_reading import ItemReading, giver
from rogatum.core.formats.shared.key_finding import choice_weights, shares
from rogatum.core.items import Blank, ChoiceBlank, Cloze, Item, NumericBlank, TextBlank


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
    right = {gap: word for word, gap in form.right_pairs(response)}
    if not interaction.targets:
        return form.preserved("it has no gaps.")
    key = [f"{word} {gap}" for gap, word in right.items()]
    whole = form.prober.score({interaction.ident: key})
    gains: list[float] = []
    blanks: list[Blank] = []
    for gap, blank in zip(interaction.targets, interaction.blanks, strict=True):
        weights = [float(option.ident == right.get(gap.ident)) for option in interaction.options]
        blanks.append(ChoiceBlank(id=blank, choices=form.choice_list(interaction.options, weights)))
        gains.append(form.prober.score({interaction.ident: [f"{right.get(gap.ident, '')} {gap.ident}"]}))
    form.key = {interaction.ident: key}
    return _cloze_of(form, blanks, gains, whole)


def cloze(form: ItemReading, interactions: list[Interaction]) -> Item:
    others = {i.ident: r.correct for i in interactions if (r := form.response(i)) is not None and r.correct}
    alone = any(form.prober.score({name: texts}) > 0 for name, texts in others.items())
    gains: list[float] = []
    blanks: list[Blank] = []
    for interaction in interactions:
        response = form.response(interaction)
        assert response is not None
        company = {} if alone else {name: texts for name, texts in others.items() if name != interaction.ident}
        blank, best = _blank(form, interaction, response, company)
        blanks.append(blank)
        gains.append(best)
    form.key = dict(others)
    whole = form.prober.score(form.key)
    if not alone and whole > 0 and len(interactions) > 1:
        form.prober.note(MARKING_APPROXIMATED, detail="the blanks earn points only all together.")
    return _cloze_of(form, blanks, gains, whole)


def _blank(form: ItemReading, interaction: Interaction, response: Response, company: dict[str, list[str]]) -> tuple[Blank, float]:
    give, blank_id = giver(interaction.ident, company), interaction.blanks[0]
    if interaction.options:
        scores = [form.prober.score(give(option.ident)) for option in interaction.options]
        weights, best = choice_weights(scores, form.prober.score(dict(company)))
        return ChoiceBlank(id=blank_id, choices=form.choice_list(interaction.options, weights)), best
    if form.is_numeric(response):
        numbers, best = form.prober.numbers(interaction, give)
        if numbers:
            return NumericBlank(id=blank_id, answers=numbers), best
    answers, sensitive, best = form.prober.texts(interaction, give)
    return TextBlank(id=blank_id, answers=answers, case_sensitive=sensitive), best


def _cloze_of(form: ItemReading, blanks: list[Blank], gains: list[float], whole: float) -> Item:
    """The item of its blanks: each has the share of what it earns."""
    for blank, share in zip(blanks, shares(gains), strict=True):
        blank.share = share
    if whole > 0 and sum(gains) <= 0:
        form.prober.note(MARKING_APPROXIMATED, detail="the blanks earn points only all together.")
    item = Cloze(id=form.id, stem=form.stem(), blanks=blanks)
    form.set_points(item, form.prober.scale(whole or sum(gains)))
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
