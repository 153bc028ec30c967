"""What advice says of an item on its own. Each rule says which guideline of 2002 it follows."""

from __future__ import annotations

from collections.abc import Callable, Iterator

from rogatum.core.checks.advice import choices, stem
from rogatum.core.checks.advice.reading import Seen
from rogatum.core.checks.item import RUN_ON
from rogatum.core.finding import Finding, FindingKind
from rogatum.core.items import Item
from rogatum.core.items.by_type import ByType

Noted = tuple[FindingKind, dict[str, object]]
Rule = Callable[[Seen], Iterator[Noted]]

_ALL: tuple[Rule, ...] = (stem.refers_to_item, stem.refers_to_page, stem.figure_absent)
_PICKED: tuple[Rule, ...] = (
    choices.key_longest,
    choices.article_cue,
    choices.number_cue,
    choices.word_shared,
    choices.absolute_word,
    stem.negative_stem,
    choices.all_or_none_of_the_above,
    choices.choices_overlap,
    choices.choices_unordered,
    choices.choice_names_choice,
    stem.blank_first,
    stem.two_questions,
    stem.no_question,
)
_RULES: ByType[tuple[Rule, ...]] = ByType(
    "what is advised on",
    {
        "multiple_choice": (*_ALL, *_PICKED),
        "multiple_response": (*_ALL, *_PICKED),
        "true_false": (*_ALL, stem.absolute_statement, stem.two_questions),
        "fill_in": (*_ALL, stem.blank_first, stem.two_questions, stem.for_paper),
        "numeric": (*_ALL, stem.two_questions, stem.for_paper),
        "cloze": (*_ALL, stem.blank_first),
        "matching": _ALL,
        "ordering": _ALL,
        "essay": (*_ALL, stem.for_paper),
        "information": (),
        "preserved": (),
    },
)
# Rules that need no words, and so hold in any language.
_WITHOUT_WORDS: frozenset[Rule] = frozenset(
    {choices.key_longest, choices.choices_overlap, choices.choices_unordered, stem.two_questions, stem.blank_first}
)


def advise_item(item: Item, passage: str = "", where: str = "") -> list[Finding]:
    """The advice on an item, with the content of the passage that it shares.

    Nothing is said of an item in whose choices another question or choice seems to lie: what it is comes first.
    """
    seen = Seen(item, passage)
    if any(RUN_ON.search(choice) for choice in seen.choices):
        return []
    rules = _RULES.of(item)
    return [
        kind.at(where, item.id, **values)
        for rule in rules
        if rule in _WITHOUT_WORDS or seen.is_english
        for kind, values in rule(seen)
    ]
