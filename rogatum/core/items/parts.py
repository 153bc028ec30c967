"""What an item is made of, whatever its type: one table for each question, every type in each.

Formats, checks, marking and the ledger ask here; a table that has an answer of its own for a type stands beside its user and is a
`ByType` too.
"""

from __future__ import annotations

from collections.abc import Callable, Collection, Sequence
from dataclasses import dataclass, field
from typing import Any, Literal

from rogatum.core.items.by_type import ByBlank, ByType
from rogatum.core.items.content import comparable, plain_text
from rogatum.core.items.model import (
    Blank,
    Choice,
    ChoiceBlank,
    ChoiceItem,
    Cloze,
    Essay,
    FillIn,
    Item,
    ItemType,
    Matching,
    MultipleChoice,
    MultipleResponse,
    Numeric,
    NumericAnswer,
    NumericBlank,
    Ordering,
    Preserved,
    TextAnswer,
    TextBlank,
    TrueFalse,
)
from rogatum.core.items.walking import each_content

MOST_LETTERS = 26


def letter(index: int) -> str:
    """The letter of a choice by its index, as it is shown; its number beyond Z."""
    return chr(ord("A") + index) if index < MOST_LETTERS else str(index + 1)


def _nothing(_part: Any) -> list[Any]:
    return []


def content_fields(item: Item) -> list[str]:
    """All contents of an item whose formatting, formulas and media count."""
    return each_content(item)


# What can be picked


def _choices(item: ChoiceItem) -> list[Choice]:
    return item.choices


_CHOICES: ByType[Callable[[Any], list[Choice]]] = ByType(
    "the choices of an item that is answered by them",
    {
        "multiple_choice": _choices,
        "multiple_response": _choices,
        "true_false": _nothing,
        "fill_in": _nothing,
        "numeric": _nothing,
        "cloze": _nothing,
        "matching": _nothing,
        "ordering": _nothing,
        "essay": _nothing,
        "information": _nothing,
        "preserved": _nothing,
    },
)


def choices(item: Item) -> list[Choice]:
    """The choices of a multiple choice or response; none for another type, whose parts are no choices."""
    return _CHOICES.of(item)(item)


def _contents(item: ChoiceItem | ChoiceBlank) -> list[str]:
    return [choice.content for choice in item.choices]


def _sides(item: Matching) -> list[str]:
    return [pair.left for pair in item.pairs] + [pair.right for pair in item.pairs] + item.distractors


def _sequence(item: Ordering) -> list[str]:
    return list(item.sequence)


_OPTIONS_OF_BLANK: ByBlank[Callable[[Any], list[str]]] = ByBlank(
    "the contents that a student chooses from for a blank", {"text": _nothing, "numeric": _nothing, "choice": _contents}
)


def _of_blanks(item: Cloze) -> list[str]:
    return [content for blank in item.blanks for content in _OPTIONS_OF_BLANK.of(blank)(blank)]


_OPTIONS: ByType[Callable[[Any], list[str]]] = ByType(
    "the contents that a student chooses from",
    {
        "multiple_choice": _contents,
        "multiple_response": _contents,
        "true_false": lambda _item: ["True", "False"],
        "fill_in": _nothing,
        "numeric": _nothing,
        "cloze": _of_blanks,
        "matching": _sides,
        "ordering": _sequence,
        "essay": _nothing,
        "information": _nothing,
        "preserved": _nothing,
    },
)


def options(item: Item) -> list[str]:
    """The contents that a student chooses from, in order."""
    return _OPTIONS.of(item)(item)


@dataclass(frozen=True)
class Offered:
    """What a student is shown to answer by, as (id, content): options, the left sides of pairs, and the options of each blank.

    `mixed` says whether options come in any order: always, since their order would give the key away; never; or where nothing
    (None) is said against it.
    """

    options: list[tuple[str, str]] = field(default_factory=list)
    lefts: list[tuple[str, str]] = field(default_factory=list)
    blanks: dict[str, list[tuple[str, str]]] = field(default_factory=dict)
    unit: str | None = None
    mixed: bool | None = False


def _numbered(contents: list[str]) -> list[tuple[str, str]]:
    return [(str(n), content) for n, content in enumerate(contents)]


def _by_id(part: ChoiceItem | ChoiceBlank) -> list[tuple[str, str]]:
    return [(choice.id, choice.content) for choice in part.choices]


def rights(item: Matching) -> list[str]:
    """What the left sides can be matched with: each right once, distractors behind."""
    return list(dict.fromkeys([pair.right for pair in item.pairs] + item.distractors))


def _offered_choices(item: ChoiceItem) -> Offered:
    return Offered(_by_id(item), mixed=False if item.shuffle is False else None)


def _offered_pairs(item: Matching) -> Offered:
    return Offered(_numbered(rights(item)), _numbered([pair.left for pair in item.pairs]), mixed=True)


_OFFERED_IN_BLANK: ByBlank[Callable[[Any], list[tuple[str, str]]]] = ByBlank(
    "what is offered for a blank", {"text": _nothing, "numeric": _nothing, "choice": _by_id}
)


def _offered_blanks(item: Cloze) -> Offered:
    return Offered(blanks={blank.id: _OFFERED_IN_BLANK.of(blank)(blank) for blank in item.blanks})


def _stem_alone(_item: Item) -> Offered:
    return Offered()


_OFFERED: ByType[Callable[[Any], Offered]] = ByType(
    "what a student is shown to answer by",
    {
        "multiple_choice": _offered_choices,
        "multiple_response": _offered_choices,
        "true_false": _stem_alone,
        "fill_in": _stem_alone,
        "numeric": lambda item: Offered(unit=item.unit),
        "cloze": _offered_blanks,
        "matching": _offered_pairs,
        "ordering": lambda item: Offered(_numbered(item.sequence), mixed=True),
        "essay": _stem_alone,
        "information": _stem_alone,
        "preserved": _stem_alone,
    },
)


def offered(item: Item) -> Offered:
    return _OFFERED.of(item)(item)


# What is accepted


def _typed(part: FillIn | TextBlank) -> list[TextAnswer]:
    return part.answers


def _numbers(part: Numeric | NumericBlank) -> list[NumericAnswer]:
    return part.answers


_TEXTS_OF_BLANK: ByBlank[Callable[[Any], list[TextAnswer]]] = ByBlank(
    "the texts that a blank accepts", {"text": _typed, "numeric": _nothing, "choice": _nothing}
)
_TEXTS: ByType[Callable[[Any], list[TextAnswer]]] = ByType(
    "the texts that are accepted",
    {
        "multiple_choice": _nothing,
        "multiple_response": _nothing,
        "true_false": _nothing,
        "fill_in": _typed,
        "numeric": _nothing,
        "cloze": lambda item: [answer for blank in item.blanks for answer in _TEXTS_OF_BLANK.of(blank)(blank)],
        "matching": _nothing,
        "ordering": _nothing,
        "essay": _nothing,
        "information": _nothing,
        "preserved": _nothing,
    },
)


def text_answers(item: Item) -> list[TextAnswer]:
    """The texts that an item accepts, in all its blanks."""
    return _TEXTS.of(item)(item)


# Feedback


def _by_choice(item: ChoiceItem) -> dict[str, str]:
    return {f"choice {n}": choice.feedback for n, choice in enumerate(item.choices, 1) if choice.feedback}


def _by_truth(item: TrueFalse) -> dict[str, str]:
    return {f"choice {side}": text for side, text in item.choice_feedback.items() if text}


def _by_answer(item: FillIn | Numeric) -> dict[str, str]:
    # By what they earn: formats write the best first.
    answers: Sequence[TextAnswer | NumericAnswer] = sorted(item.answers, key=lambda answer: -answer.weight)
    return {f"answer {n}": answer.feedback for n, answer in enumerate(answers, 1) if answer.feedback}


def _by_blank(item: Cloze) -> dict[str, str]:
    found: dict[str, str] = {}
    for n, blank in enumerate(item.blanks, 1):
        found |= {f"blank {n}, {slot}": text for slot, text in feedback_of_blank(blank).items()}
    return found


def feedback_of_blank(blank: Blank) -> dict[str, str]:
    """The feedback of a blank, by the answer or choice that it is of."""
    return _FEEDBACK_OF_BLANK.of(blank)(blank)


def _by_none(_item: Item) -> dict[str, str]:
    return {}


_FEEDBACK: ByType[Callable[[Any], dict[str, str]]] = ByType(
    "feedback by what was picked or typed",
    {
        "multiple_choice": _by_choice,
        "multiple_response": _by_choice,
        "true_false": _by_truth,
        "fill_in": _by_answer,
        "numeric": _by_answer,
        "cloze": _by_blank,
        "matching": _by_none,
        "ordering": _by_none,
        "essay": lambda item: {"rubric": item.rubric} if item.rubric else {},
        "information": _by_none,
        "preserved": _by_none,
    },
)
_FEEDBACK_OF_BLANK: ByBlank[Callable[[Any], dict[str, str]]] = ByBlank(
    "feedback of a blank by what was picked or typed", {"text": _by_answer, "numeric": _by_answer, "choice": _by_choice}
)


def feedback(item: Item) -> dict[str, str]:
    """All feedback by its slot: general, correct, incorrect, by what was picked or typed; and an essay's rubric."""
    return {kind: text for kind, text in item.feedback.items() if text} | _FEEDBACK.of(item)(item)


def without_feedback(item: Item, kinds: Collection[str]) -> Item:
    """The item without feedback by what was picked (`choice`) or typed (`answer`)."""
    answers = {"feedback": None}

    def without(part: Any, kind: str) -> Any:
        held = [entry.model_copy(update=answers) for entry in getattr(part, kind)]
        return part.model_copy(update={kind: held})

    if "choice" in kinds and isinstance(item, MultipleChoice | MultipleResponse):
        return without(item, "choices")  # type: ignore[no-any-return]
    if "choice" in kinds and isinstance(item, TrueFalse):
        return item.model_copy(update={"choice_feedback": {}})
    if "answer" in kinds and isinstance(item, FillIn | Numeric):
        return without(item, "answers")  # type: ignore[no-any-return]
    if isinstance(item, Cloze):
        named = {"choice": "choices", "text": "answers", "numeric": "answers"}
        slot = {"choices": "choice", "answers": "answer"}
        blanks = [without(b, named[b.kind]) if slot[named[b.kind]] in kinds else b for b in item.blanks]
        return item.model_copy(update={"blanks": blanks})
    return item


# The key


def _right_choices(part: ChoiceItem | ChoiceBlank) -> list[str]:
    return sorted(comparable(choice.content) for choice in part.choices if choice.weight > 0)


def _right_texts(part: FillIn | TextBlank) -> list[str]:
    right = [answer for answer in part.answers if answer.weight > 0]
    return sorted(f"{answer.match} {answer.text}" if answer.match != "exact" else answer.text for answer in right)


def _right_numbers(part: Numeric | NumericBlank) -> list[str]:
    return sorted(_interval(answer) for answer in part.answers if answer.weight > 0)


def _interval(answer: NumericAnswer) -> str:
    low, high = answer.bounds()
    return f"{'' if answer.include_min else '>'}{low:.9g}..{'' if answer.include_max else '<'}{high:.9g}"


_KEY_OF_BLANK: ByBlank[Callable[[Any], list[str]]] = ByBlank(
    "the key of a blank as comparable texts", {"text": _right_texts, "numeric": _right_numbers, "choice": _right_choices}
)


def _right_blanks(item: Cloze) -> list[str]:
    return [part for n, blank in enumerate(item.blanks, 1) for part in [f"blank {n}", *_KEY_OF_BLANK.of(blank)(blank)]]


def _right_pairs(item: Matching) -> list[str]:
    return sorted(f"{comparable(pair.left)} -> {comparable(pair.right)}" for pair in item.pairs)


def _sample(item: Essay) -> list[str]:
    return [comparable(item.sample_answer)] if item.sample_answer else []


def _original(item: Preserved) -> list[str]:
    return [item.original]


_KEY: ByType[Callable[[Any], list[str]]] = ByType(
    "the key as comparable texts",
    {
        "multiple_choice": _right_choices,
        "multiple_response": _right_choices,
        "true_false": lambda item: [] if item.answer is None else [str(item.answer)],
        "fill_in": _right_texts,
        "numeric": _right_numbers,
        "cloze": _right_blanks,
        "matching": _right_pairs,
        "ordering": lambda item: [comparable(text) for text in item.sequence],
        "essay": _sample,
        "information": _nothing,
        "preserved": _original,
    },
)


def key(item: Item) -> list[str]:
    """The key as comparable texts: what is right, without weights."""
    return _KEY.of(item)(item)


def has_key(item: Item) -> bool:
    """Whether anything is right; the model answer of an essay is its key."""
    if isinstance(item, Cloze):
        return any(weight > 0 for blank in item.blanks for _, weight in weights_of_blank(blank))
    return any(key(item))


def _weights_of_choices(blank: ChoiceBlank) -> list[tuple[str, float]]:
    return [(choice.id, choice.weight) for choice in blank.choices]


def _weights_of_texts(blank: TextBlank) -> list[tuple[str, float]]:
    return [(answer.text, answer.weight) for answer in blank.answers]


def _weights_of_numbers(blank: NumericBlank) -> list[tuple[str, float]]:
    middles = [[bound for bound in answer.bounds() if abs(bound) != float("inf")] for answer in blank.answers]
    return [(repr(sum(m) / len(m)), a.weight) for m, a in zip(middles, blank.answers, strict=True) if m]


_WEIGHTS_OF_BLANK: ByBlank[Callable[[Any], list[tuple[str, float]]]] = ByBlank(
    "what can be put into a blank, with its weight",
    {"text": _weights_of_texts, "numeric": _weights_of_numbers, "choice": _weights_of_choices},
)


def weights_of_blank(blank: Blank) -> list[tuple[str, float]]:
    """What can be put into a blank, as (value, weight): texts, numbers within the intervals, ids of choices."""
    return _WEIGHTS_OF_BLANK.of(blank)(blank)


# What a type is


def title_of(item: Item) -> str:
    """What an item is called where each has a title: its own, else the first words of its stem, else its identifier."""
    words = plain_text(item.stem).split()
    return item.title or " ".join(words[:8])[:60].strip() or item.id


AnswerForm = Literal["one", "several", "truth", "text", "number", "blanks", "pairs", "order", "long", "none"]


@dataclass(frozen=True)
class Traits:
    """What a type is called, how it is answered, the seconds that takes (and `each` of its parts), and whether it is a question.

    What is none has no number, no points and no mark.
    """

    label: str
    form: AnswerForm
    seconds: float = 45
    each: float = 0
    question: bool = True


TRAITS: ByType[Traits] = ByType(
    "what a type is",
    {
        "multiple_choice": Traits("multiple choice", "one"),
        "multiple_response": Traits("multiple response", "several", 60),
        "true_false": Traits("true/false", "truth", 25),
        "fill_in": Traits("fill-in", "text"),
        "numeric": Traits("numeric", "number", 110),
        "cloze": Traits("cloze", "blanks", 20, each=25),
        "matching": Traits("matching", "pairs", 20, each=20),
        "ordering": Traits("ordering", "order", 20, each=15),
        "essay": Traits("essay", "long", 480),
        "information": Traits("information", "none", 5, question=False),
        "preserved": Traits("preserved", "none", 60),
    },
)


# The types whose choices may stand in another order for each student.
WITH_ORDER: tuple[ItemType, ...] = ("multiple_choice", "multiple_response", "matching")


def own_order(item: Item) -> bool | None:
    """Whether an item's choices may be shuffled, as it says itself; None where it does not, and the quiz decides."""
    return getattr(item, "shuffle", None)


def is_question(item: Item) -> bool:
    return TRAITS.of(item).question


def is_question_type(item_type: ItemType) -> bool:
    return TRAITS[item_type].question
