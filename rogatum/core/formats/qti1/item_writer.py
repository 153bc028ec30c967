"""Writes one item as QTI 1.2 (ASI XML Binding 1.2, 3.1): what all types share of presentation, processing and feedback."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from lxml import etree

from rogatum.core.finding import Finding
from rogatum.core.findings.sources import LEFT_OUT
from rogatum.core.formats.qti1.elements import material, sub
from rogatum.core.formats.qti1.item_metadata import WEIGHTING
from rogatum.core.formats.shared.lom import POOL
from rogatum.core.formats.shared.numbers import exact_number, number
from rogatum.core.formats.shared.originals import original_tree
from rogatum.core.items import (
    Choice,
    Essay,
    Item,
    Preserved,
    TrueFalse,
    parts,
)
from rogatum.core.items.content import media_refs

_METADATA_LABELS = {"difficulty": "qmd_levelofdifficulty", "topic": "qmd_topic"}


class ItemWriter:
    """Writes one item. `reason` says why it could not be written, where `element` returns None."""

    # Whether rules may add to the score, and items have rubrics.
    adds, holds_rubrics = True, True

    def __init__(self, item: Item, pool: Sequence[str] = (), weight: float = 1.0) -> None:
        """`pool` is its pool's path, where nothing around it says so, `weight` what its points are multiplied by in its test."""
        self.item, self.pool, self.weight = item, pool, weight
        self.refs: set[str] = set()
        self.findings: list[Finding] = []
        # Feedback of typed answers, by the name of what shows it.
        self.notes: dict[str, str] = {}
        self.reason = ""
        # An item without points needs a maximum score all the same: 1.
        self.points = 1.0 if item.points is None else item.points
        self.full = self.points or 1.0
        self.maximum = self.points

    def element(self, write: Callable[[], None]) -> etree._Element | None:
        """The item's tree; `write` writes what is of its type."""
        if isinstance(self.item, Preserved):
            return self._verbatim(self.item)
        root = etree.Element("item", ident=self.item.id)
        if self.item.title:
            root.set("title", self.item.title)
        self._metadata(root)
        if isinstance(self.item, Essay) and self.item.rubric and self.holds_rubrics:
            self.material(sub(root, "rubric", view="Scorer"), self.item.rubric)
        self.presentation = etree.Element("presentation")
        root.append(self.presentation)
        self.processing: etree._Element | None = None
        self.root = root
        write()
        if not len(self.presentation):
            root.remove(self.presentation)
        self._feedback_texts()
        return root

    def _verbatim(self, item: Preserved) -> etree._Element | None:
        if item.original_format != "qti-1.2" or not item.original:
            self.reason = "it is a kind that is only preserved, from another format."
            return None
        root = original_tree(item, lambda ref: ref)
        if root is None:
            self.reason = "its original is not well-formed."
            return None
        self.refs |= {ref for content in item.media.values() for ref in media_refs(content)}
        return root

    def score(self, share: float) -> str:
        """A share of the points as a value of the score."""
        return number(share * self.full)

    def material(self, parent: etree._Element, content: str) -> None:
        self.refs |= set(media_refs(content))
        material(parent, content)

    def _metadata(self, root: etree._Element) -> None:
        entries = [(_METADATA_LABELS.get(label, label), value) for label, values in self.item.metadata.items() for value in values]
        entries += [(POOL, name) for name in self.pool]
        if self.weight != 1:
            entries.append((WEIGHTING, exact_number(self.weight)))
        if not entries:
            return
        fields = sub(sub(root, "itemmetadata"), "qtimetadata")
        for label, value in entries:
            entry = sub(fields, "qtimetadatafield")
            sub(entry, "fieldlabel").text = label
            sub(entry, "fieldentry").text = value

    # Processing

    def begin(self, lowest: float | None = None) -> etree._Element:
        """Starts the processing with the score's declaration, and general feedback, which is always shown.

        `lowest` is the least share of the points that the score comes to; None where there is no such bound.
        """
        self.processing = sub(self.root, "resprocessing")
        declared = sub(sub(self.processing, "outcomes"), "decvar", varname="SCORE", vartype="Decimal")
        if lowest is not None:
            declared.set("minvalue", number(lowest * self.full))
        declared.set("maxvalue", number(self.maximum))
        if self.item.feedback.get("general"):
            rule = self.rule(None, goes_on=True)
            self._show(rule, "general")
        return self.processing

    def rule(self, share: float | None, action: str = "Set", goes_on: bool = False) -> etree._Element:
        """A `respcondition` with an empty condition, which earns a share of the points."""
        assert self.processing is not None
        rule = sub(self.processing, "respcondition")
        if goes_on:
            rule.set("continue", "Yes")
        condition = sub(rule, "conditionvar")
        if share is None:
            sub(condition, "other")
        else:
            sub(rule, "setvar", varname="SCORE", action=action).text = self.score(share)
        return condition

    def _show(self, condition: etree._Element, name: str) -> None:
        rule = condition.getparent()
        assert rule is not None
        sub(rule, "displayfeedback", feedbacktype="Response", linkrefid=f"{self.item.id}_{name}")

    def tell_result(self, whole: Callable[[etree._Element], None]) -> None:
        """Feedback for a right response, whose condition `whole` makes, and for all others, after rules that add up."""
        if not (self.item.feedback.get("correct") or self.item.feedback.get("incorrect")):
            return
        assert self.processing is not None
        condition = sub(sub(self.processing, "respcondition"), "conditionvar")
        whole(condition)
        self.correct(condition)
        last = sub(sub(self.processing, "respcondition"), "conditionvar")
        sub(last, "other")
        self.incorrect(last)

    def correct(self, condition: etree._Element) -> None:
        if self.item.feedback.get("correct"):
            self._show(condition, "correct")

    def otherwise(self) -> None:
        """The last rule: all other responses earn nothing and show the feedback for wrong ones."""
        condition = self.rule(0.0)
        sub(condition, "other")
        self.incorrect(condition)

    def incorrect(self, condition: etree._Element) -> None:
        if self.item.feedback.get("incorrect"):
            self._show(condition, "incorrect")

    def choice_feedback(self, name: str, choices: list[tuple[str, str | None]]) -> None:
        """Feedback of single choices, shown whatever they earn."""
        for ident, text in choices:
            if text:
                assert self.processing is not None
                rule = sub(self.processing, "respcondition", {"continue": "Yes"})
                equal(sub(rule, "conditionvar"), name, ident)
                self._show(rule[0], f"note_{ident}")

    def answer_feedback(self, condition: etree._Element, name: str, place: int, text: str | None) -> None:
        """Feedback of one answer to a response, which its own rule shows."""
        if text:
            self._show(condition, f"answer_{name}_{place}")
            self.notes[f"answer_{name}_{place}"] = text

    def _feedback_texts(self) -> None:
        """The feedback that the processing shows; none is written that nothing shows."""
        linked = {shown.get("linkrefid") for shown in self.root.iter("displayfeedback")}
        texts = {kind: text for kind, text in self.item.feedback.items() if text}
        notes = [(choice.id, choice.feedback) for choice in parts.choices(self.item)]
        if isinstance(self.item, TrueFalse):
            notes = [(key, self.item.choice_feedback.get(key)) for key in ("true", "false")]
        for name, text in [*texts.items(), *((f"note_{ident}", text) for ident, text in notes), *self.notes.items()]:
            if text and f"{self.item.id}_{name}" not in linked:
                self.findings.append(LEFT_OUT.at("", self.item.id, detail="No response shows a part of its feedback."))
            elif text:
                feedback = sub(self.root, "itemfeedback", ident=f"{self.item.id}_{name}", view="Candidate")
                self.material(feedback, text)
        if isinstance(self.item, Essay) and self.item.sample_answer:
            feedback = sub(self.root, "itemfeedback", ident=f"{self.item.id}_solution", view="All")
            self.material(sub(sub(feedback, "solution"), "solutionmaterial"), self.item.sample_answer)

    # Presentation

    def stem(self) -> None:
        if self.item.stem:
            self.material(self.presentation, self.item.stem)

    def options(
        self, parent: etree._Element, name: str, cardinality: str, options: list[tuple[str, str]], shuffle: bool | None
    ) -> etree._Element:
        """A `response_lid` with its labels, given as (ident, content)."""
        response = sub(parent, "response_lid", ident=name, rcardinality=cardinality)
        render = sub(response, "render_choice")
        if shuffle is not None:
            render.set("shuffle", "Yes" if shuffle else "No")
        for ident, content in options:
            self.material(sub(render, "response_label", ident=ident), content)
        return response

    def field(self, parent: etree._Element, name: str, kind: str, rows: int = 1) -> None:
        """A response to type into; `kind` is String or Decimal."""
        tag = "response_num" if kind == "Decimal" else "response_str"
        response = sub(parent, tag, ident=name, rcardinality="Single")
        render = sub(response, "render_fib", fibtype=kind, prompt="Box", rows=str(rows), columns="60" if rows > 1 else "30")
        sub(render, "response_label", ident=f"{name}_1")


def equal(parent: etree._Element, name: str, value: str, index: int | None = None, case: bool | None = None) -> None:
    element = sub(parent, "varequal", respident=name)
    if index is not None:
        element.set("index", str(index))
    if case is not None:
        element.set("case", "Yes" if case else "No")
    element.text = value


def labelled(choices: list[Choice]) -> list[tuple[str, str]]:
    return [(choice.id, choice.content) for choice in choices]
