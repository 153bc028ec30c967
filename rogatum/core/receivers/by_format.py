"""What a format makes of what items hold, told by what it says that it carries: the first half of a forecast.

Each feature that a format has no place for has the verdicts of its facets: those that the ledger finds when the file is read back.
A format says in its `carries.py` where it differs from the rules below (`otherwise`).
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field
from functools import lru_cache

from rogatum.core.fidelity import Verdict
from rogatum.core.fidelity.items import Facet
from rogatum.core.formats import Carries, Format, format_named
from rogatum.core.items import ItemType
from rogatum.core.items.parts import TRAITS
from rogatum.core.receivers.features import ORDERED

Verdicts = dict[Facet, Verdict]


@dataclass(frozen=True)
class Reaction:
    """What becomes of a feature: the verdicts of the facets, why, and whether the feature itself is gone after it.

    `refused` says that the whole item is left out.
    """

    verdicts: Verdicts = field(default_factory=dict)
    message: str = ""
    gone: bool = True
    refused: bool = False


@dataclass(frozen=True)
class Rule:
    """Where `lacks` says that a format has no place for the feature: the verdicts, and what it is called."""

    lacks: Callable[[Carries], bool]
    verdicts: Verdicts
    words: str
    refused: bool = False


MARKED: Verdicts = {"marking": "changed"}
KEYED: Verdicts = {"key": "changed", "marking": "changed"}
_SLOTS = {
    "general": "general feedback",
    "correct": "feedback when right",
    "incorrect": "feedback when wrong",
    "choice": "feedback of choices",
    "answer": "feedback of typed answers",
    "rubric": "rubrics",
}
TRAIT_FACETS: dict[str, Facet] = {"formatting": "formatting", "math": "math", "media": "media", "alt": "media"}
RULES: dict[str, Rule] = {
    "formatting": Rule(lambda c: not c.formatting, {"formatting": "lost"}, "formatting"),
    "math": Rule(lambda c: not c.formulas, {"math": "lost"}, "formulas"),
    "media": Rule(lambda c: not c.media, {"media": "lost"}, "pictures"),
    "alt": Rule(lambda c: c.media and not c.alt_texts, {"media": "lost"}, "alternative texts"),
    "bare-picture": Rule(lambda c: not c.media, {"choices": "lost"}, "choices that are pictures alone"),
    "points": Rule(lambda c: not c.points, {"points": "lost"}, "points"),
    "title": Rule(lambda c: not c.titles, {"metadata": "lost"}, "titles"),
    "outcome": Rule(lambda c: not c.metadata, {"metadata": "lost"}, "outcomes"),
    "tag": Rule(lambda c: not c.metadata, {"metadata": "lost"}, "tags"),
    "label": Rule(lambda c: not c.metadata, {"metadata": "lost"}, "metadata"),
    "own-label": Rule(lambda c: not c.metadata, {"metadata": "lost"}, "labels of your own"),
    "passage": Rule(lambda c: not c.stimuli, {"grouping": "lost"}, "passages"),
    "pool": Rule(lambda c: not c.pools, {"grouping": "lost"}, "pools"),
    "part-marks": Rule(lambda c: not c.partial_credit, KEYED, "a part of the points for an answer"),
    "below-zero": Rule(lambda c: not (c.below_zero or c.per_choice), MARKED, "marks below 0"),
    "each-choice": Rule(lambda c: not c.per_choice, MARKED, "marks for each choice"),
    "all-or-nothing": Rule(lambda c: not c.all_or_nothing, MARKED, "several choices that count all together"),
    "no-lowest": Rule(lambda c: not c.below_zero, MARKED, "sums below 0"),
    "pattern": Rule(lambda c: not c.regex, KEYED, "patterns as answers"),
    "word-list": Rule(lambda c: not c.regex, {"key": "recast"}, "lists of words as one answer"),
    "contains": Rule(lambda c: not c.contains, KEYED, "answers within more text"),
    "case": Rule(lambda c: not c.case, MARKED, "capitals that count"),
    "exact-bounds": Rule(lambda c: not c.exact_bounds, KEYED, "bounds that do not count"),
    "all-parts@cloze": Rule(lambda c: not c.part_scoring, MARKED, "blanks that count all together"),
    "all-parts@matching": Rule(lambda c: not c.part_scoring, MARKED, "pairs that count all together"),
    "each-part@ordering": Rule(lambda c: not c.part_scoring, MARKED, "marks for each place of an order"),
    "shares@matching": Rule(lambda c: not c.part_scoring, MARKED, "pairs that earn differently"),
    "shares@cloze": Rule(lambda c: not c.part_scoring, KEYED, "blanks that earn differently"),
    ORDERED: Rule(lambda _: True, {"choices": "added"}, "the order of choices in a quiz: each item has it"),
    "order-set": Rule(lambda c: not c.choice_order, {"choices": "lost"}, "the order of choices"),
    "choice-blank": Rule(lambda c: not c.choice_blanks, {}, "blanks with choices of their own", refused=True),
    "model-answer": Rule(lambda c: not c.sample_answer, {"key": "lost"}, "model answers"),
    "rubric": Rule(lambda c: not c.sample_answer, {"feedback": "lost"}, "rubrics"),
    **{
        slot: Rule(lambda c, slot=slot: slot not in c.feedback, {"feedback": "lost"}, words)  # type: ignore[misc]
        for slot, words in _SLOTS.items()
        if slot != "rubric"
    },
}


@lru_cache(maxsize=20_000)
def reaction_of(format_name: str, feature: str, item_type: ItemType) -> Reaction | None:
    """What a format makes of a feature of an item of this type; None where it comes over as it is."""
    entry = format_named(format_name)
    slot, _, trait = feature.partition("/")
    if trait:
        return _within_feedback(entry, slot, trait, item_type)
    said = _said_otherwise(entry, feature, item_type)
    if said is not None:
        return said if said.verdicts or said.refused else None
    rule = RULES.get(f"{feature}@{item_type}") or RULES.get(feature)
    if rule is None or not rule.lacks(entry.carries):
        return None
    return Reaction(dict(rule.verdicts), _no_place(entry, rule.words), refused=rule.refused)


def _said_otherwise(entry: Format, feature: str, item_type: ItemType) -> Reaction | None:
    said = entry.carries.otherwise
    verdicts = said.get(f"{feature}@{item_type}", said.get(feature))
    if not verdicts:
        return None if verdicts is None else Reaction()
    if verdicts == {"type": "lost"}:
        return Reaction(message=f"{entry.label} {_written_otherwise(feature)}.", refused=True)
    adds = set(verdicts.values()) == {"added"}
    words = _ADDED.get(feature, "writes points where none are said") if adds else _written_otherwise(feature)
    return Reaction(dict(verdicts), f"{entry.label} {words}.", gone=not adds)  # type: ignore[arg-type]


_ADDED = {"order-not-set": "has to say whether choices may be shuffled, and says no where nothing is set"}
# What formats make of features that no rule is about.
_OTHERWISE = {
    "no-key": "has another form for what has no key",
    "keyless-feedback": "has no place for feedback when right or wrong where nothing is",
    "unit": "has no place for the unit of a number",
    "forms": "has no place for several answers of one blank",
    "one-right": "takes several choices of which one is right for a single choice",
    "open-range": "has no place for numbers without a bound",
    "glued-blank": "puts a space beside a blank",
    "best-feedback": "tells the feedback of the best answer as that of a right one",
}


def _written_otherwise(feature: str) -> str:
    rule = RULES.get(feature)
    return f"has no place for {rule.words}" if rule else _OTHERWISE[feature]


def _within_feedback(entry: Format, slot: str, trait: str, item_type: ItemType) -> Reaction | None:
    """What feedback holds goes with it."""
    whole = reaction_of(entry.name, slot, item_type)
    if whole is not None and whole.gone and "lost" in whole.verdicts.values():
        return Reaction({TRAIT_FACETS[trait]: "lost"}, whole.message)
    return reaction_of(entry.name, trait, item_type)


def _no_place(entry: Format, words: str) -> str:
    return f"{entry.label} has no place for {words}."


@lru_cache(maxsize=1000)
def left_out(format_name: str, item_type: ItemType) -> str:
    """Why a format leaves items of a type out; empty where it has a place for them."""
    entry = format_named(format_name)
    return "" if item_type in entry.carries.types else f"{entry.label} has no {TRAITS[item_type].label} items."
