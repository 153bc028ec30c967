"""Another type for an item: what stays, and what goes.

What an item holds beyond the common fields is taken apart into its `Gist`, whatever the type; the other type is made of that. What
it does not use goes, and is named. Nothing is invented: where the other type needs what is not there, checks say so afterwards.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Sequence
from dataclasses import dataclass, field, replace
from itertools import pairwise
from typing import Any, Literal

from rogatum.core.errors import NoSuchType
from rogatum.core.items.by_type import ByBlank, ByType
from rogatum.core.items.changes import common_fields
from rogatum.core.items.content import escape, plain_text
from rogatum.core.items.key import even_weights, number_words
from rogatum.core.items.model import (
    Blank,
    Choice,
    ChoiceBlank,
    ChoiceItem,
    Cloze,
    Essay,
    FillIn,
    Information,
    Item,
    ItemType,
    Matching,
    MultipleChoice,
    MultipleResponse,
    Numeric,
    NumericAnswer,
    NumericBlank,
    Ordering,
    Pair,
    PartScoring,
    Preserved,
    TextAnswer,
    TextBlank,
    TrueFalse,
)
from rogatum.core.items.typed_numbers import number_of

BlankKind = Literal["text", "numeric", "choice"]
# How many choices the blanks of one item may have in all.
MOST_CHOICES = 10_000
BLANK = '<span data-blank="{}"></span>'
_BLANK = re.compile(r'<span data-blank="([^"]*)">\s*</span>')
_LINE = "______"
_TRUTHS = {"true": True, "t": True, "yes": True, "false": False, "f": False, "no": False}
# What a part of a gist is called when it goes, in the order in which it is told.
_PARTS = {
    "choices": "the choices",
    "keys": "all right choices but the first",
    "weights": "what wrong choices earn or cost",
    "choice_feedback": "the feedback of choices",
    "texts": "the accepted answers",
    "matches": "how answers are matched",
    "numbers": "the accepted numbers",
    "tolerances": "the tolerances",
    "unit": "the unit",
    "pairs": "the pairs",
    "extra": "the rights without a partner",
    "sequence": "the order",
    "blanks": "the blanks",
    "sample": "the model answer",
    "rubric": "the rubric",
    "truth": "the key",
    "original": "the original markup",
}


@dataclass(frozen=True)
class Gist:
    """What an item holds beyond the common fields; parts that it has not are empty."""

    choices: list[Choice] = field(default_factory=list)
    texts: list[TextAnswer] = field(default_factory=list)
    numbers: list[NumericAnswer] = field(default_factory=list)
    unit: str | None = None
    pairs: list[Pair] = field(default_factory=list)
    extra: list[str] = field(default_factory=list)
    sequence: list[str] = field(default_factory=list)
    blanks: list[Blank] = field(default_factory=list)
    sample: str | None = None
    rubric: str | None = None
    truth: bool | None = None
    shuffle: bool | None = None
    scoring: PartScoring | None = None
    case: bool = False

    def of_parts(self) -> dict[str, PartScoring]:
        """How parts count together, for a type that has parts; where nothing says so, as is usual there."""
        return {} if self.scoring is None else {"scoring": self.scoring}

    def held(self, item: Item) -> set[str]:
        """The names of the parts that are there."""
        named = {name for name in _PARTS if getattr(self, name, None) not in (None, [], "")}
        if any(0 < choice.weight < 1 or choice.weight < 0 for choice in self.choices) and isinstance(item, MultipleChoice):
            named.add("weights")
        if sum(choice.weight > 0 for choice in self.choices) > 1:
            named.add("keys")
        if any(choice.feedback for choice in self.choices):
            named.add("choice_feedback")
        if any(len(set(answer.bounds())) > 1 for answer in self.numbers):
            named.add("tolerances")
        if any(answer.match != "exact" for answer in self.texts):
            named.add("matches")
        return named | ({"original"} if isinstance(item, Preserved) else set())


@dataclass(frozen=True)
class Retyped:
    """The item as another type, with what of it stays and what goes, in words."""

    item: Item
    stays: list[str]
    goes: list[str]


def as_type(item: Item, wanted: ItemType) -> Retyped:
    """The item as another type. The stem, points, feedback, passage and metadata stay always.

    Raises NoSuchType for a type that nothing is made into.
    """
    if wanted == item.type:
        return Retyped(item, [], [])
    gist = _GIST.of(item)(item)
    held = gist.held(item)
    fields = common_fields(item) | ({"original": "", "original_format": ""} if isinstance(item, Preserved) else {})
    made, used = _MAKE[wanted](_Common(fields), gist)
    told = [name for name in _PARTS if name in held]
    return Retyped(made, [_PARTS[name] for name in told if name in used], [_PARTS[name] for name in told if name not in used])


def blank_as(blank: Blank, wanted: BlankKind) -> Blank:
    """A blank of a cloze as another kind, made of what it holds as an item of that kind would be; its share stays."""
    if blank.kind == wanted:
        return blank
    gist, common = _OF_BLANK.of(blank)(blank), {"id": blank.id, "share": blank.share}
    if wanted == "text":
        return TextBlank(**common, answers=_texts_of(gist)[0], case_sensitive=gist.case)
    if wanted == "numeric":
        return NumericBlank(**common, answers=_numbers_of(gist)[0])
    return ChoiceBlank(**common, choices=_with_one_key(_choices_of(gist)[0]))


class _Common:
    """The common fields for a type, with another stem where blanks come or go."""

    def __init__(self, fields: dict[str, Any]) -> None:
        self.fields = fields
        self.stem: str = fields["stem"]

    def of(self, stem: str | None = None) -> dict[str, Any]:
        """Blanks of a cloze become lines to write on where the stem is not said."""
        return self.fields | {"stem": _BLANK.sub(_LINE, self.stem) if stem is None else stem}


# What an item holds


def _of_choices(item: ChoiceItem) -> Gist:
    return Gist(choices=item.choices, shuffle=item.shuffle)


def _of_truth(item: TrueFalse) -> Gist:
    told = item.choice_feedback
    choices = [
        Choice(id="true", content="True", weight=float(item.answer is True), feedback=told.get("true")),
        Choice(id="false", content="False", weight=float(item.answer is False), feedback=told.get("false")),
    ]
    return Gist(choices=choices, truth=item.answer)


_OF_BLANK: ByBlank[Callable[[Any], Gist]] = ByBlank(
    "what a blank holds",
    {
        "text": lambda blank: Gist(texts=blank.answers, case=blank.case_sensitive),
        "numeric": lambda blank: Gist(numbers=blank.answers),
        "choice": lambda blank: Gist(choices=blank.choices),
    },
)


def _of_cloze(item: Cloze) -> Gist:
    """A single blank is as good as an item of its kind."""
    alone = _OF_BLANK.of(item.blanks[0])(item.blanks[0]) if len(item.blanks) == 1 else Gist()
    return replace(alone, blanks=item.blanks, scoring=item.scoring)


_GIST: ByType[Callable[[Any], Gist]] = ByType(
    "what an item holds that another type could use",
    {
        "multiple_choice": _of_choices,
        "multiple_response": _of_choices,
        "true_false": _of_truth,
        "fill_in": lambda item: Gist(texts=item.answers, case=item.case_sensitive),
        "numeric": lambda item: Gist(numbers=item.answers, unit=item.unit),
        "cloze": _of_cloze,
        "matching": lambda item: Gist(pairs=item.pairs, extra=item.distractors, shuffle=item.shuffle, scoring=item.scoring),
        "ordering": lambda item: Gist(sequence=item.sequence, scoring=item.scoring),
        "essay": lambda item: Gist(sample=item.sample_answer, rubric=item.rubric),
        "information": lambda _item: Gist(),
        "preserved": lambda _item: Gist(),
    },
)

# What is made of it

Made = tuple[Item, set[str]]
_CHOICE_PARTS = {"choices", "choice_feedback", "truth"}


def _choices_of(gist: Gist) -> tuple[list[Choice], set[str]]:
    if gist.choices:
        return gist.choices, _CHOICE_PARTS | {"blanks"}
    if gist.texts:
        return _as_choices([(escape(a.text), a.weight, a.feedback) for a in gist.texts]), {"texts", "blanks"}
    if gist.numbers:
        return _as_choices([(number_words(a), a.weight, a.feedback) for a in gist.numbers]), {"numbers", "tolerances", "blanks"}
    if gist.sequence:
        return _as_choices([(content, 0.0, None) for content in gist.sequence]), set()
    return _as_choices([(pair.right, 0.0, None) for pair in gist.pairs] + [(right, 0.0, None) for right in gist.extra]), set()


def _as_choices(entries: Sequence[tuple[str, float, str | None]]) -> list[Choice]:
    return [Choice(id=f"c{n}", content=c, weight=w, feedback=f) for n, (c, w, f) in enumerate(entries, 1)]


def _make_choice(common: _Common, gist: Gist) -> Made:
    choices, used = _choices_of(gist)
    return MultipleChoice(**common.of(), choices=_with_one_key(choices), shuffle=gist.shuffle), used | {"weights"}


def _with_one_key(choices: list[Choice]) -> list[Choice]:
    """The choices with the best of them as the only key, the first where several are as good."""
    best = max((choice.weight for choice in choices), default=0.0)
    rightly = next((choice.id for choice in choices if choice.weight == best and best > 0), None)
    return [choice.model_copy(update={"weight": _one_weight(choice, rightly, best)}) for choice in choices]


def _one_weight(choice: Choice, right: str | None, best: float) -> float:
    """Of several that are equally right the first is the key: the others would be keys too."""
    if choice.id == right:
        return 1.0
    return 0.0 if choice.weight >= best else choice.weight


def _make_response(common: _Common, gist: Gist) -> Made:
    choices, used = _choices_of(gist)
    return even_weights(MultipleResponse(**common.of(), choices=choices, shuffle=gist.shuffle)), used | {"keys"}


def _make_truth(common: _Common, gist: Gist) -> Made:
    sides = {_TRUTHS.get(plain_text(choice.content).casefold().strip(" .")): choice for choice in gist.choices}
    item = TrueFalse(**common.of())
    if set(sides) != {True, False}:
        return item, set()
    key = [side for side in (True, False) if sides[side].weight > 0]
    feedback = {name: told for name, side in (("true", True), ("false", False)) if (told := sides[side].feedback)}
    return item.model_copy(update={"answer": key[0] if len(key) == 1 else None, "choice_feedback": feedback}), _CHOICE_PARTS


def _texts_of(gist: Gist) -> tuple[list[TextAnswer], set[str]]:
    if gist.texts:
        return gist.texts, {"texts", "matches", "blanks"}
    if gist.numbers:
        exact = [answer for answer in gist.numbers if answer.value is not None]
        answers = [TextAnswer(text=f"{a.value:.12g}", weight=a.weight, feedback=a.feedback) for a in exact]
        return answers, {"blanks", *(["numbers"] if len(exact) == len(gist.numbers) else [])}
    if gist.choices:
        right = [choice for choice in gist.choices if choice.weight > 0]
        return [TextAnswer(text=plain_text(choice.content), feedback=choice.feedback) for choice in right], set()
    words = plain_text(gist.sample or "")
    return ([TextAnswer(text=words)], {"sample"}) if words else ([], set())


def _make_fill_in(common: _Common, gist: Gist) -> Made:
    answers, used = _texts_of(gist)
    return FillIn(**common.of(), answers=answers, case_sensitive=gist.case), used


def _numbers_of(gist: Gist) -> tuple[list[NumericAnswer], str | None, set[str]]:
    """The numbers, where all that is right is one; units are parted from them where they agree."""
    if gist.numbers:
        return gist.numbers, gist.unit, {"numbers", "tolerances", "unit", "blanks"}
    right = [a for a in gist.texts if a.weight > 0] or [
        TextAnswer(text=plain_text(c.content)) for c in gist.choices if c.weight > 0
    ]
    read = [number_of(answer.text) for answer in right]
    units = {entry.unit for entry in read if entry and entry.unit}
    if not read or None in read or len(units) > 1:
        return [], None, set()
    answers = [
        entry.answer.model_copy(update={"weight": answer.weight, "feedback": answer.feedback})
        for entry, answer in zip(read, right, strict=True)
        if entry
    ]
    return _distinct(answers), next(iter(units), None), {"texts", "blanks"}


def _distinct(answers: list[NumericAnswer]) -> list[NumericAnswer]:
    """“4,5” and “4.5” are two texts and one number."""
    return list({answer.bounds(): answer for answer in reversed(answers)}.values())[::-1]


def _make_numeric(common: _Common, gist: Gist) -> Made:
    numbers, unit, used = _numbers_of(gist)
    return Numeric(**common.of(), answers=numbers, unit=unit), used


def _make_cloze(common: _Common, gist: Gist) -> Made:
    """An item with one answer becomes a cloze with one blank, at the line to write on where the stem has one."""
    made = next(
        (
            (blank, used)
            for blank, used in (
                (ChoiceBlank(id="b1", choices=_with_one_key(gist.choices)), _CHOICE_PARTS | {"weights"}),
                (TextBlank(id="b1", answers=gist.texts, case_sensitive=gist.case), {"texts", "matches"}),
                (NumericBlank(id="b1", answers=gist.numbers), {"numbers", "tolerances"}),
            )
            if (blank.choices if isinstance(blank, ChoiceBlank) else blank.answers)
        ),
        None,
    )
    if gist.pairs:
        rights = list(dict.fromkeys([pair.right for pair in gist.pairs] + gist.extra))
        if len(rights) * len(gist.pairs) > MOST_CHOICES:
            raise NoSuchType(f"{len(gist.pairs):,} pairs are too many for blanks, each of which would offer all rights.")
        blanks = [_pair_blank(n, pair, rights, len(gist.pairs)) for n, pair in enumerate(gist.pairs, 1)]
        rows = "".join(f"<p>{pair.left} {BLANK.format(f'b{n}')}</p>" for n, pair in enumerate(gist.pairs, 1))
        return Cloze(**common.of(f"{common.stem}{rows}"), blanks=blanks, **gist.of_parts()), {"pairs", "extra"}
    if made is None:
        return Cloze(**common.of()), set()
    stem, count = re.subn(r"_{3,}", BLANK.format("b1"), common.stem, count=1)
    return Cloze(**common.of(stem if count else f"{stem} {BLANK.format('b1')}"), blanks=[made[0]]), set(made[1])


def _pair_blank(number: int, pair: Pair, rights: list[str], count: int) -> ChoiceBlank:
    choices = [Choice(id=f"b{number}c{n}", content=right, weight=float(right == pair.right)) for n, right in enumerate(rights, 1)]
    return ChoiceBlank(id=f"b{number}", choices=choices, share=pair.share or 1 / count)


def _make_matching(common: _Common, gist: Gist) -> Made:
    if gist.sequence:
        pairs = [Pair(left=str(n), right=content) for n, content in enumerate(gist.sequence, 1)]
        return Matching(**common.of(), pairs=pairs, **gist.of_parts()), {"sequence"}
    if gist.blanks and all(isinstance(blank, ChoiceBlank) for blank in gist.blanks):
        return _pairs_of_blanks(common, [blank for blank in gist.blanks if isinstance(blank, ChoiceBlank)], gist)
    return Matching(**common.of(), pairs=[]), set()


def _pairs_of_blanks(common: _Common, blanks: list[ChoiceBlank], gist: Gist) -> Made:
    """What stands before each blank is the left side; what the blanks offer besides has no partner."""
    spans = [0, *(match.end() for match in _BLANK.finditer(common.stem))]
    lefts = [plain_text(_BLANK.sub("", common.stem[a:b])) for a, b in pairwise(spans)] or [""] * len(blanks)
    rights = [next((choice.content for choice in blank.choices if choice.weight > 0), "") for blank in blanks]
    offered = dict.fromkeys(choice.content for blank in blanks for choice in blank.choices)
    pairs = [Pair(left=escape(left), right=right) for left, right in zip(lefts, rights, strict=False)]
    extra = [content for content in offered if content not in rights]
    return Matching(**common.of(), pairs=pairs, distractors=extra, **gist.of_parts()), {"blanks", "choices"}


def _make_ordering(common: _Common, gist: Gist) -> Made:
    entries = [choice.content for choice in gist.choices] or [pair.right for pair in gist.pairs]
    return Ordering(**common.of(), sequence=entries, **gist.of_parts()), set()


def _make_essay(common: _Common, gist: Gist) -> Made:
    right = [choice.content for choice in gist.choices if choice.weight > 0] or [escape(a.text) for a in gist.texts if a.weight > 0]
    right = right or [number_words(answer) for answer in gist.numbers]
    sample = gist.sample or "; ".join(right) or None
    used = {"sample", "rubric"} | ({"texts"} if gist.texts else set()) | ({"numbers", "tolerances"} if gist.numbers else set())
    return Essay(**common.of(), sample_answer=sample, rubric=gist.rubric), used


def _make_information(common: _Common, _gist: Gist) -> Made:
    return Information(**common.of()), set()


def _make_preserved(_common: _Common, _gist: Gist) -> Made:
    raise NoSuchType("An item is kept as its original only where it was read so.")


_MAKE: ByType[Callable[[_Common, Gist], Made]] = ByType(
    "how the type is made of what another held, and what of that it uses",
    {
        "multiple_choice": _make_choice,
        "multiple_response": _make_response,
        "true_false": _make_truth,
        "fill_in": _make_fill_in,
        "numeric": _make_numeric,
        "cloze": _make_cloze,
        "matching": _make_matching,
        "ordering": _make_ordering,
        "essay": _make_essay,
        "information": _make_information,
        "preserved": _make_preserved,
    },
)
