"""What the types are called, both ways."""

from __future__ import annotations

import re
from typing import get_args

from rogatum.core.items.model import ItemType
from rogatum.core.items.parts import TRAITS

TYPE_LABELS: dict[ItemType, str] = {item_type: TRAITS[item_type].label for item_type in get_args(ItemType)}
_OTHER_WORDS: dict[str, ItemType] = {
    "mc": "multiple_choice",
    "mcq": "multiple_choice",
    "choice": "multiple_choice",
    "single choice": "multiple_choice",
    "mr": "multiple_response",
    "multiple answer": "multiple_response",
    "multiple select": "multiple_response",
    "tf": "true_false",
    "true or false": "true_false",
    "fib": "fill_in",
    "fill in the blank": "fill_in",
    "short answer": "fill_in",
    "completion": "fill_in",
    "number": "numeric",
    "numerical": "numeric",
    "match": "matching",
    "order": "ordering",
    "sequence": "ordering",
    "long answer": "essay",
    "open": "essay",
    "text": "information",
    "fill": "fill_in",
    "fitb": "fill_in",
    "blank": "fill_in",
    "sa": "fill_in",
    "short": "fill_in",
    "num": "numeric",
    "calculation": "numeric",
    "calculated": "numeric",
    "ma": "multiple_response",
    "multi": "multiple_response",
    "multiple answers": "multiple_response",
    "multiple correct": "multiple_response",
    "checkbox": "multiple_response",
    "checkboxes": "multiple_response",
    "sc": "multiple_choice",
    "single": "multiple_choice",
    "single answer": "multiple_choice",
    "one answer": "multiple_choice",
    "t f": "true_false",
    "es": "essay",
    "ess": "essay",
    "open ended": "essay",
    "free text": "essay",
    "mat": "matching",
    "mt": "matching",
    "ord": "ordering",
    "sort": "ordering",
    "info": "information",
}


def type_named(text: str) -> ItemType | None:
    """The type that a word means, or None."""
    folded = re.sub(r"[\s_/-]+", " ", text.strip().lower())
    for item_type in get_args(ItemType):
        if folded in (item_type.replace("_", " "), re.sub(r"[\s_/-]+", " ", TYPE_LABELS[item_type])):
            return item_type  # type: ignore[no-any-return]
    return _OTHER_WORDS.get(folded)
