"""One item of each type for each facet and trait that it can have: what forecasts are held against what happens with.

The name of an item says what of it is special: `numeric:exact-bounds`. An item that is called plain has nothing but what its type
needs, so that a verdict on it is about its type alone.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from typing import Any

from rogatum.core.items import (
    Bank,
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
    Pair,
    Stimulus,
    TextAnswer,
    TextBlank,
    TrueFalse,
)
from rogatum.core.items.content import formula_from_tex
from tests.core.strategies import PICTURES, media_box

PICTURE = sorted(PICTURES)[0]
FORMULA = formula_from_tex(r"\frac{m}{V}") or ""
BLANK = '<span data-blank="{}"></span>'


def _choices(*weights: float, **more: Any) -> list[Choice]:
    words = ("sand", "silt", "clay", "loam", "peat", "marl")
    return [Choice(id=f"c{n}", content=words[n], weight=weight, **more) for n, weight in enumerate(weights)]


def _choice(**more: Any) -> Item:
    return MultipleChoice(**{"choices": _choices(0, 1, 0)} | more)


def _response(**more: Any) -> Item:
    return MultipleResponse(**{"choices": _choices(0.5, 0, 0.5, 0), "scoring": "all_or_nothing"} | more)


def _cloze(**more: Any) -> Item:
    stem = f"Air fills the {BLANK.format('b1')}, water {BLANK.format('b2')}"
    blanks = [
        TextBlank(id="b1", answers=[TextAnswer(text="pores")], share=0.5),
        NumericBlank(id="b2", answers=[NumericAnswer(value=40, tolerance=1)], share=0.5),
    ]
    return Cloze(**{"blanks": blanks} | more | {"stem": stem + more.get("stem", "")})


PLAIN: dict[str, Callable[..., Item]] = {
    "multiple_choice": _choice,
    "multiple_response": _response,
    "true_false": lambda **more: TrueFalse(**{"answer": True} | more),
    "fill_in": lambda **more: FillIn(**{"answers": [TextAnswer(text="humus")]} | more),
    "numeric": lambda **more: Numeric(**{"answers": [NumericAnswer(value=1.3, tolerance=0.1)]} | more),
    "cloze": _cloze,
    "matching": lambda **more: Matching(
        **{"pairs": [Pair(left="O", right="litter"), Pair(left="A", right="humus")], "distractors": ["rock"]} | more
    ),
    "ordering": lambda **more: Ordering(**{"sequence": ["rock", "grus", "sand"]} | more),
    "essay": lambda **more: Essay(**more),
    "information": lambda **more: Information(**more),
}
# What an item of any type can have.
COMMON: dict[str, dict[str, Any]] = {
    "plain": {},
    "long": {"stem": " very" * 60},
    "title": {"title": "Own title"},
    "formatting": {"stem": " and <strong>all</strong> that"},
    "math": {"stem": f" {FORMULA} "},
    "media": {"stem": f' <img src="{PICTURE}" alt="profile"/>'},
    "points": {"points": 2.5},
    "no-points": {"points": None},
    "feedback-general": {"feedback": {"general": "See page 4."}},
    "feedback-sides": {"feedback": {"correct": "Well done.", "incorrect": "Look again."}},
    "outcome": {"metadata": {"outcome": ["2.1", "2.3"]}},
    "metadata": {"metadata": {"difficulty": ["easy"], "page": ["41"], "topic": ["Texture"]}},
    "tag": {"metadata": {"tag": ["spring", "wet"]}},
    "own-label": {"metadata": {"season": ["wet"]}},
    "passage": {"stimulus": "s1"},
    "pool": {},
}


def _two_texts(**more: Any) -> list[TextBlank]:
    """Two blanks of a cloze, the first with an answer more."""
    first = [TextAnswer(text="pores"), TextAnswer(**{"text": "holes"} | more)]
    return [
        TextBlank(id="b1", answers=first, share=0.5),
        TextBlank(id="b2", answers=[TextAnswer(text="40")], share=0.5),
    ]


# What only items of one type can have.
OWN: dict[str, dict[str, dict[str, Any]]] = {
    "multiple_choice": {
        "part-marks": {"choices": _choices(0, 1, 0.5)},
        "below-zero": {"choices": _choices(0, 1, -0.25)},
        "choice-feedback": {"choices": _choices(0, 1, 0, feedback="Not quite.")},
        "in-order": {"shuffle": False},
        "shuffled": {"shuffle": True},
        "many-choices": {"choices": _choices(0, 1, 0, 0, 0, 0)},
        "long-choice": {"choices": [Choice(id="c9", content="a soil " * 20, weight=0), *_choices(0, 1)]},
        "choice-picture": {"choices": [Choice(id="c9", content=f'<img src="{PICTURE}" alt="p"/>', weight=0), *_choices(0, 1)]},
        "choice-formatting": {"choices": [Choice(id="c9", content="<em>all</em>", weight=0), *_choices(0, 1)]},
        "choice-math": {"choices": [Choice(id="c9", content=FORMULA, weight=0), *_choices(0, 1)]},
    },
    "multiple_response": {
        "in-order": {"shuffle": False},
        "each-choice": {"choices": _choices(0.5, -0.5, 0.5, 0), "scoring": "per_choice"},
        "one-right": {"choices": _choices(1, 0, 0), "scoring": "all_or_nothing"},
        "choice-feedback": {"choices": _choices(0.5, 0, 0.5, feedback="Not quite.")},
        "no-lowest": {"choices": _choices(0.5, -0.5, 0.5, 0), "scoring": "per_choice", "lowest": None},
        "many-choices": {"choices": _choices(0.5, 0, 0, 0, 0, 0.5)},
    },
    "true_false": {"false": {"answer": False}, "choice-feedback": {"choice_feedback": {"true": "Yes.", "false": "Not quite."}}},
    "fill_in": {
        "part-marks": {"answers": [TextAnswer(text="humus"), TextAnswer(text="mould", weight=0.5)]},
        "forms": {"answers": [TextAnswer(text="humus"), TextAnswer(text="mould")]},
        "contains": {"answers": [TextAnswer(text="humus", match="contains")]},
        "regex": {"answers": [TextAnswer(text="hum(us|ic)", match="regex")]},
        "word-list": {"answers": [TextAnswer(text="humus|mould", match="regex")]},
        "case": {"case_sensitive": True},
        "answer-feedback": {"answers": [TextAnswer(text="humus"), TextAnswer(text="mould", weight=0.5, feedback="Older word.")]},
    },
    "numeric": {
        "exact": {"answers": [NumericAnswer(value=7, tolerance=0)]},
        "range": {"answers": [NumericAnswer(min=1, max=2)]},
        "open": {"answers": [NumericAnswer(min=1)]},
        "exact-bounds": {"answers": [NumericAnswer(min=1, max=2, include_max=False)]},
        "relative": {"answers": [NumericAnswer(value=2, relative=5)]},
        "unit": {"unit": "g"},
        "part-marks": {"answers": [NumericAnswer(value=1.3, tolerance=0.1), NumericAnswer(value=1.3, tolerance=0.5, weight=0.5)]},
        "answer-feedback": {"answers": [NumericAnswer(value=1.3, tolerance=0.1, feedback="By core.")]},
    },
    "cloze": {
        "choice-blank": {
            "blanks": [
                ChoiceBlank(id="b1", choices=_choices(0, 1, 0), share=0.5),
                TextBlank(id="b2", answers=[TextAnswer(text="40")], share=0.5),
            ]
        },
        "all-or-nothing": {"scoring": "all_or_nothing"},
        "pattern": {"blanks": _two_texts(match="regex", text="hol(e|es)")},
        "word-list": {"blanks": _two_texts(match="regex", text="holes|voids")},
        "glued": {"stem": "s"},
        "contains": {"blanks": _two_texts(match="contains")},
        "case": {"blanks": _two_texts(case_sensitive=True)},
        "part-marks": {"blanks": _two_texts(weight=0.5)},
        "blank-feedback": {"blanks": _two_texts(feedback="Older word.")},
        "exact-bounds": {
            "blanks": [
                TextBlank(id="b1", answers=[TextAnswer(text="pores")], share=0.5),
                NumericBlank(id="b2", answers=[NumericAnswer(min=1, max=2, include_max=False)], share=0.5),
            ]
        },
        "unequal": {
            "blanks": [
                TextBlank(id="b1", answers=[TextAnswer(text="pores")], share=0.75),
                TextBlank(id="b2", answers=[TextAnswer(text="40")], share=0.25),
            ]
        },
    },
    "matching": {
        "all-or-nothing": {"scoring": "all_or_nothing"},
        "shares": {"pairs": [Pair(left="O", right="litter", share=0.75), Pair(left="A", right="humus", share=0.25)]},
        "no-distractors": {"distractors": []},
        "shuffled": {"shuffle": True},
        "in-order": {"shuffle": False},
    },
    "ordering": {"each-place": {"scoring": "per_part"}},
    "essay": {"sample": {"sample_answer": "By its pores."}, "rubric": {"rubric": "One point for each of three."}},
    "information": {},
}


# What an item is without its key, where its type has one.
NO_KEY: dict[str, dict[str, Any]] = {
    "multiple_choice": {"choices": _choices(0, 0, 0)},
    "multiple_response": {"choices": _choices(0, 0, 0)},
    "true_false": {"answer": None},
    "fill_in": {"answers": []},
    "numeric": {"answers": []},
    "cloze": {"blanks": [TextBlank(id="b1", share=0.5), TextBlank(id="b2", share=0.5)]},
}


def _named(item_type: str) -> Iterator[tuple[str, dict[str, Any]]]:
    yield from COMMON.items()
    yield from OWN[item_type].items()
    if item_type in NO_KEY:
        for name, more in (
            ("no-key", {}),
            ("no-key-no-points", COMMON["no-points"]),
            ("no-key-feedback", COMMON["feedback-sides"]),
        ):
            yield name, NO_KEY[item_type] | more


def every_facet() -> Bank:
    """The bank of all of them, with what lies in its media box beside it."""
    bank = Bank(title="Soils", stimuli=[Stimulus(id="s1", content="<p>Field notes of a wet week.</p>")])
    for item_type, make in PLAIN.items():
        for trait, more in _named(item_type):
            name = f"{item_type}:{trait}"
            head = f"About {trait.replace('-', ' ')} in {item_type.replace('_', ' ')}"
            bank.items.append(_made(make, name, head, dict(more)))
            bank.place_in_pool(name, ["Soils", "Chapter 2", "Texture"] if trait == "pool" else ["Soils"])
    bank.media = [entry for entry in media_box().entries() if entry.ref == PICTURE]
    return bank


def _made(make: Callable[..., Item], name: str, head: str, more: dict[str, Any]) -> Item:
    item = make(**{"points": 1.0} | more | {"id": name})
    return item.model_copy(update={"stem": head + (" " if item.stem and not item.stem.startswith(" ") else "") + item.stem})
