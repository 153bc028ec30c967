"""Makes one item of the model from a QTI 1.2 `item`: its form by its responses, its key by probing."""

from __future__ import annotations

import re
from collections.abc import Callable
from dataclasses import dataclass

from lxml import etree

from rogatum.core.findings.items import PRESERVED_KIND
from rogatum.core.findings.keys import MARKING_APPROXIMATED
from rogatum.core.formats.qti1.feedback import Shown, choice_feedback
from rogatum.core.formats.qti1.item_metadata import ItemContext, feedback_texts, read_metadata, read_solutions
from rogatum.core.formats.qti1.presentation import Presentation, Response, read_presentation
from rogatum.core.formats.qti1.processing import Processing
from rogatum.core.formats.shared.feedback import plain_feedback
from rogatum.core.formats.shared.key_finding import Prober, Scale, choice_weights, shares
from rogatum.core.items import (
    Blank,
    Choice,
    ChoiceBlank,
    Cloze,
    Essay,
    FillIn,
    Information,
    Item,
    Matching,
    MultipleChoice,
    MultipleResponse,
    Numeric,
    NumericBlank,
    Ordering,
    Pair,
    Preserved,
    TextBlank,
    TrueFalse,
)
from rogatum.core.items.content import blank_marker, plain_text
from rogatum.core.items.type_words import type_named

TRUE_WORDS, FALSE_WORDS = {"true", "t", "yes"}, {"false", "f", "no"}


def read_item(element: etree._Element, context: ItemContext) -> Item:
    """Reads an item; its id, place and pool are the caller's."""
    title = " ".join(context.claims.attribute(element, "title").split())
    read_metadata(element, context)
    presentation = element.find("presentation")
    parts = read_presentation(presentation, context.material) if presentation is not None else Presentation()
    single = frozenset(r.ident for r in parts.responses if r.cardinality == "Single")
    processing = Processing(element.findall("resprocessing"), context.claims, single)
    form = _ItemReading(context, parts, processing, Prober(processing), feedback_texts(element, context))
    item = form.item(element)
    item.title = title
    item.metadata = context.metadata
    declared = context.declared_type
    # A stated type that says what the item is anyway is spent; any other may be of use to a person.
    if declared and not declared.startswith("cc.") and type_named(declared) != item.type:
        item.metadata.setdefault("type", []).append(declared)
    for kind, values in form.prober.notes:
        context.builder.note(kind.at(context.where, context.item_id, **values))
    read_solutions(element, context, item)
    return item


@dataclass
class _ItemReading:
    """Decides what form an item has and fills it in."""

    context: ItemContext
    parts: Presentation
    processing: Processing
    prober: Prober
    feedback: dict[str, str]

    def item(self, element: etree._Element) -> Item:
        responses = self.parts.responses
        if any(r.kind == "xy" or r.renderer in ("hotspot", "slider", "extension") for r in responses):
            return self._preserved(element, "it is answered on a picture, with a slider or in a way of its own.")
        if not responses:
            item: Item = Information(id=self.context.item_id, stem=self.context.content(self.parts.stem()))
            self._points(item, None)
            item.points = self.context.declared_points
            return item
        if len(responses) == 1:
            return self._one(element, responses[0])
        return self._several(element, responses)

    # Points

    def _points(self, item: Item, scale: Scale | None) -> None:
        """What the item is worth: what its metadata say, else the maximum of its score."""
        declared = self.context.declared_points
        if declared is not None:
            item.points = declared
        elif self.context.percent_scores:
            # A cartridge's scores are per cent; an item without cc_weighting weighs 1.
            item.points = 1.0
        elif scale is not None:
            item.points = scale.points
        else:
            item.points = self.processing.maximum

    # One response

    def _one(self, element: etree._Element, response: Response) -> Item:
        stem = self.context.content(self.parts.stem() + response.prompt)
        if response.kind == "grp":
            return self._group(element, stem, response)
        if response.renderer == "choice" or (response.kind == "lid" and response.labels):
            return self._choices(stem, response)
        if len(response.labels) > 1 and response.renderer == "fib":
            return self._blanks_of_one(stem, response)
        return self._filled(stem, response)

    def _choices(self, stem: str, response: Response) -> Item:
        if response.cardinality == "Ordered":
            return self._ordering(stem, response)
        if response.cardinality == "Multiple":
            weights, scoring, scale = self.prober.multiple_choice(response)
            item: Item = MultipleResponse(
                id=self.context.item_id,
                stem=stem,
                choices=self._choice_list(response, weights),
                shuffle=response.shuffle,
                scoring=scoring,
            )
        else:
            weights, scale = self.prober.single_choice(response)
            choices = self._choice_list(response, weights)
            item = self._true_false(stem, choices) or MultipleChoice(
                id=self.context.item_id, stem=stem, choices=choices, shuffle=response.shuffle
            )
        self._points(item, scale)
        choice_feedback(item, self._shown_by_choice(response), self._shown_by_key(item, response), self.feedback, self.processing)
        return item

    def _choice_list(self, response: Response, weights: list[float]) -> list[Choice]:
        return [
            Choice(id=label.ident or f"c{n}", content=self.context.content(label.markup), weight=weight)
            for n, (label, weight) in enumerate(zip(response.labels, weights, strict=True), 1)
        ]

    def _true_false(self, stem: str, choices: list[Choice]) -> TrueFalse | None:
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
        if partial or right == [True, True]:
            return None
        return TrueFalse(id=self.context.item_id, stem=stem, answer=None if right == [False, False] else right[0])

    def _shown_by_choice(self, response: Response) -> list[Shown]:
        return [Shown(label.ident, label.markup, self.prober.shown({response.ident: [label.ident]})) for label in response.labels]

    def _shown_by_key(self, item: Item, response: Response) -> list[str]:
        if not isinstance(item, MultipleResponse):
            return []
        return self.prober.shown({response.ident: [choice.id for choice in item.choices if choice.weight > 0]})

    def _ordering(self, stem: str, response: Response) -> Item:
        labels = {label.ident: label for label in response.labels}
        order = self._order(response, list(labels))
        earned = max(self.prober.score({response.ident: given}) for given in (order, *self._listed_orders(response, order)))
        scale = self.prober.scale(earned)
        if scale.points is None or earned <= 0:
            self.prober.note(MARKING_APPROXIMATED, detail="no order of the entries earns points.")
        item = Ordering(id=self.context.item_id, stem=stem, sequence=[self.context.content(labels[i].markup) for i in order])
        self._points(item, scale)
        plain_feedback(
            item,
            self.prober.shown({response.ident: order}),
            self.prober.shown({response.ident: order[::-1]}),
            self.feedback,
        )
        return item

    def _listed_orders(self, response: Response, order: list[str]) -> list[list[str]]:
        """The ways in which the conditions name an order as one value: "B,C,A"."""
        named = [n.value for n in self.processing.named if n.response == response.ident and not n.negated]
        return [[value] for value in named if re.split(r"[,\s]+", value.strip()) == order]

    def _order(self, response: Response, idents: list[str]) -> list[str]:
        """The order that the conditions name by index, else the first named list that holds all entries."""
        by_index = {n.index: n.value for n in self.processing.named if n.response == response.ident and n.index and not n.negated}
        order = [by_index[i] for i in sorted(by_index) if by_index[i] in idents]
        if len(set(order)) == len(idents):
            return order
        for name in self.processing.named:
            listed = [part.strip() for part in re.split(r"[,\s]+", name.value) if part.strip()]
            if sorted(listed) == sorted(idents):
                return listed
        named = [n.value for n in self.processing.named if n.response == response.ident and n.value in idents]
        return list(dict.fromkeys([*named, *idents]))

    def _filled(self, stem: str, response: Response) -> Item:
        context, prober = self.context, self.prober

        def give(text: str) -> dict[str, list[str]]:
            return {response.ident: [text]}

        if self._is_numeric(response):
            numbers, best = prober.numbers(response, give)
            if numbers or response.kind == "num" or response.fibtype in ("Integer", "Decimal", "Scientific"):
                item: Item = Numeric(id=context.item_id, stem=stem, answers=numbers)
                self._points(item, prober.scale(best))
                self._response_feedback(item, give, [str(n.value if n.value is not None else n.min) for n in numbers])
                return item
        answers, sensitive, best = prober.texts(response, give)
        if answers or (response.rows <= 1 and "essay" not in context.declared_type.lower() and self._says_fill_in()):
            item = FillIn(id=context.item_id, stem=stem, answers=answers, case_sensitive=sensitive)
            self._points(item, prober.scale(best))
            self._response_feedback(item, give, [answer.text for answer in answers])
            return item
        item = Essay(id=context.item_id, stem=stem)
        self._points(item, None)
        self._response_feedback(item, give, [])
        return item

    def _says_fill_in(self) -> bool:
        return bool(re.search(r"fib|fill|short|blank", self.context.declared_type, re.I))

    def _is_numeric(self, response: Response) -> bool:
        if response.kind == "num" or response.fibtype in ("Integer", "Decimal", "Scientific"):
            return True
        compared = {"varlt", "varlte", "vargt", "vargte"}
        return any(n.response == response.ident and n.test in compared for n in self.processing.named)

    def _response_feedback(self, item: Item, give: Callable[[str], dict[str, list[str]]], right: list[str]) -> None:
        shown_right = self.prober.shown(give(right[0])) if right else None
        plain_feedback(item, shown_right, self.prober.shown(give("\u2042")), self.feedback)

    # Several responses

    def _several(self, element: etree._Element, responses: list[Response]) -> Item:
        all_choices = all(r.renderer == "choice" and r.cardinality == "Single" for r in responses)
        if all_choices and all(r.prompt for r in responses) and self._same_options(responses):
            return self._matching(responses)
        if all(r.kind in ("lid", "str", "num") and r.cardinality == "Single" for r in responses):
            return self._cloze(responses)
        return self._preserved(element, f"it has {len(responses)} responses of different kinds.")

    @staticmethod
    def _same_options(responses: list[Response]) -> bool:
        first = [label.markup for label in responses[0].labels]
        return all(sorted(label.markup for label in r.labels) == sorted(first) for r in responses)

    def _matching(self, responses: list[Response]) -> Item:
        item = Matching(id=self.context.item_id, stem=self.context.content(self.parts.stem()), shuffle=responses[0].shuffle)
        used: set[str] = set()
        key: dict[str, list[str]] = {}
        for response in responses:
            scores = [self.prober.score({response.ident: [label.ident]}) for label in response.labels]
            best = self._best_in_company(response, scores)
            label = response.labels[best]
            used.add(label.markup)
            key[response.ident] = [label.ident]
            item.pairs.append(Pair(left=self.context.content(response.prompt), right=self.context.content(label.markup)))
        item.distractors = [self.context.content(label.markup) for label in responses[0].labels if label.markup not in used]
        self._points(item, self.prober.scale(self.prober.score(key)))
        wrong = {r.ident: ["\u2042"] for r in responses}
        plain_feedback(item, self.prober.shown(key), self.prober.shown(wrong), self.feedback)
        return item

    def _best_in_company(self, response: Response, scores: list[float]) -> int:
        """The position of the right label; where single picks earn nothing, the label that the conditions name."""
        if max(scores) > min(scores):
            return scores.index(max(scores))
        named = [n.value for n in self.processing.named if n.response == response.ident and not n.negated]
        idents = [label.ident for label in response.labels]
        if named and named[0] in idents:
            if max(scores) <= 0:
                self.prober.note(MARKING_APPROXIMATED, detail="the pairs earn points only all together.")
            return idents.index(named[0])
        self.prober.note(MARKING_APPROXIMATED, detail="no pair earns points.")
        return 0

    def _cloze(self, responses: list[Response]) -> Item:
        numbers = {response.ident: f"b{n}" for n, response in enumerate(responses, 1)}
        markup = ""
        for part in self.parts.parts:
            text = part if isinstance(part, str) else part.prompt
            markup += f" {text}" if markup.endswith("</span>") and text[:1].isalnum() else text
            if not isinstance(part, str):
                markup += (" " if markup[-1:].isalnum() else "") + blank_marker(numbers[part.ident])
        gains: list[float] = []
        blanks: list[Blank] = []
        for response in responses:
            blank, best = self._blank(response, numbers[response.ident])
            blanks.append(blank)
            gains.append(best)
        item = Cloze(id=self.context.item_id, stem=self.context.content(markup), blanks=blanks)
        self._share_out(item, gains)
        return item

    def _share_out(self, item: Cloze, gains: list[float]) -> None:
        for blank, share in zip(item.blanks, shares(gains), strict=True):
            blank.share = share
        self._points(item, self.prober.scale(sum(gains)))

    def _blank(self, response: Response, blank_id: str, index: int | None = None) -> tuple[Blank, float]:
        def give(text: str) -> dict[str, list[str]]:
            return {response.ident: [text] if index is None else [""] * (index - 1) + [text]}

        if response.renderer == "choice":
            weights, best = choice_weights([self.prober.score(give(label.ident)) for label in response.labels])
            return ChoiceBlank(id=blank_id, choices=self._choice_list(response, weights)), best
        if self._is_numeric(response):
            numbers, best = self.prober.numbers(response, give, index)
            if numbers:
                return NumericBlank(id=blank_id, answers=numbers), best
        answers, sensitive, best = self.prober.texts(response, give, index)
        return TextBlank(id=blank_id, answers=answers, case_sensitive=sensitive), best

    def _blanks_of_one(self, stem: str, response: Response) -> Item:
        """One response with several labels to fill in: each is a blank, told apart by its index."""
        gains: list[float] = []
        blanks: list[Blank] = []
        for index in range(1, len(response.labels) + 1):
            blank, best = self._blank(response, f"b{index}", index)
            blanks.append(blank)
            gains.append(best)
            stem += f" {blank_marker(blank.id)}"
        item = Cloze(id=self.context.item_id, stem=stem, blanks=blanks)
        self._share_out(item, gains)
        return item

    def _group(self, element: etree._Element, stem: str, response: Response) -> Item:
        """A `response_grp`: labels with a match_group are the lefts, what they name the rights."""
        lefts = [label for label in response.labels if label.match_group]
        rights = {label.ident: label for label in response.labels if not label.match_group}
        item = Matching(id=self.context.item_id, stem=stem)
        used: set[str] = set()
        for left in lefts:
            right = self._partner(response, left.ident, list(rights))
            if right is not None:
                used.add(right)
                item.pairs.append(Pair(left=self.context.content(left.markup), right=self.context.content(rights[right].markup)))
        if not item.pairs:
            return self._preserved(element, "its groups could not be matched.")
        item.distractors = [self.context.content(label.markup) for ident, label in rights.items() if ident not in used]
        best = self.prober.score({response.ident: [n.value for n in self.processing.named if not n.negated]})
        self._points(item, self.prober.scale(best))
        return item

    def _partner(self, response: Response, left: str, rights: list[str]) -> str | None:
        for name in self.processing.named:
            parts = [part for part in re.split(r"[,.\s:|]+", name.value) if part]
            if name.response == response.ident and not name.negated and left in parts:
                return next((part for part in parts if part in rights), None)
        return None

    def _preserved(self, element: etree._Element, reason: str) -> Item:
        self.context.builder.note(PRESERVED_KIND.at(self.context.where, self.context.item_id, detail=reason))
        original = etree.tostring(element, encoding="unicode", with_tail=False)
        item = Preserved(
            id=self.context.item_id,
            stem=self.context.content(self.parts.stem() + "".join(r.prompt for r in self.parts.responses)),
            original=original,
            original_format="qti-1.2",
            reason=reason,
        )
        self._points(item, None)
        self.context.claims.subtree(element)
        return item
