"""Writes one item as QTI 1.2 (ASI XML Binding 1.2, 3.1): presentation, processing and feedback for each type."""

from __future__ import annotations

import re
from collections.abc import Callable, Sequence
from functools import partial
from typing import Any

from lxml import etree

from rogatum.core.finding import Finding
from rogatum.core.findings.sources import LEFT_OUT
from rogatum.core.formats.qti1.elements import material, sub
from rogatum.core.formats.qti1.item_metadata import WEIGHTING
from rogatum.core.formats.shared.alternatives import as_words
from rogatum.core.formats.shared.lom import POOL
from rogatum.core.formats.shared.numbers import exact_number, number
from rogatum.core.formats.shared.originals import original_tree
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
    NumericAnswer,
    NumericBlank,
    Ordering,
    PartScoring,
    Preserved,
    TextAnswer,
    TextBlank,
    TrueFalse,
    parts,
)
from rogatum.core.items.by_type import ByBlank, ByType
from rogatum.core.items.content import blanks_of, media_refs, plain_text
from rogatum.core.items.parts import rights
from rogatum.core.quizzes.marking import pair_share

_METADATA_LABELS = {"difficulty": "qmd_levelofdifficulty", "topic": "qmd_topic"}
_BLANK_SPLIT = re.compile(r'<span data-blank="([^"]*)">\s*</span>')
_OPEN_CLOSE = re.compile(r"<(/?)([a-z0-9]+)((?:\s[^<>]*?)?)(/?)>")


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

    def element(self) -> etree._Element | None:
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
        _WRITERS.of(self.item)(self, self.item)
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


def _choices(choices: list[Choice]) -> list[tuple[str, str]]:
    return [(choice.id, choice.content) for choice in choices]


def _multiple_choice(writer: ItemWriter, item: MultipleChoice) -> None:
    writer.stem()
    writer.options(writer.presentation, "R1", "Single", _choices(item.choices), item.shuffle)
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
    writer.options(writer.presentation, "R1", "Multiple", _choices(item.choices), item.shuffle)
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


def _text_rules(
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


def _fill_in(writer: ItemWriter, item: FillIn) -> None:
    writer.stem()
    writer.field(writer.presentation, "R1", "String")
    writer.begin()
    _text_rules(writer, "R1", item.answers, item.case_sensitive, 1.0, "Set", goes_on=False)
    writer.otherwise()


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


def _number_rules(writer: ItemWriter, name: str, answers: list[NumericAnswer], share: float, action: str, goes_on: bool) -> None:
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


def _numeric(writer: ItemWriter, item: Numeric) -> None:
    writer.stem()
    writer.field(writer.presentation, "R1", "Decimal")
    writer.begin()
    _number_rules(writer, "R1", item.answers, 1.0, "Set", goes_on=False)
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


def _cloze(writer: ItemWriter, item: Cloze) -> None:
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
    _number_rules(writer, name, blank.answers, blank.share, "Add", goes_on=True)


def _text_blank_rules(writer: ItemWriter, name: str, blank: TextBlank) -> None:
    _text_rules(writer, name, blank.answers, blank.case_sensitive, blank.share, "Add", goes_on=True)


_BLANK_RULES: ByBlank[Callable[[ItemWriter, str, Any], None]] = ByBlank(
    "how a blank is marked in QTI 1.2", {"text": _text_blank_rules, "numeric": _numeric_blank_rules, "choice": _choice_rules}
)


def _blank(writer: ItemWriter, flow: etree._Element, blank: Blank) -> None:
    if isinstance(blank, ChoiceBlank):
        writer.options(flow, f"R_{blank.id}", "Single", _choices(blank.choices), None)
    else:
        writer.field(flow, f"R_{blank.id}", "Decimal" if isinstance(blank, NumericBlank) else "String")


_WRITERS: ByType[Callable[[ItemWriter, Any], None]] = ByType(
    "how an item is written",
    {
        "multiple_choice": _multiple_choice,
        "multiple_response": _multiple_response,
        "true_false": _true_false,
        "fill_in": _fill_in,
        "numeric": _numeric,
        "cloze": _cloze,
        "matching": _matching,
        "ordering": _ordering,
        "essay": _essay,
        "information": _information,
        "preserved": _preserved,
    },
)
