"""What lists, filters and counts ask of an item, found once and kept beside it."""

from __future__ import annotations

from typing import Any

from rogatum.core.admission import missing_media
from rogatum.core.checks import check_item
from rogatum.core.checks.advice import advise_item
from rogatum.core.checks.traits import key_letter, traits_of
from rogatum.core.finding import Finding
from rogatum.core.items import Item
from rogatum.core.items.content import plain_text
from rogatum.core.items.identity import identity_of
from rogatum.core.quizzes.timing import load_of_item, seconds_of


def findings_of(item: Item) -> list[Finding]:
    return [*check_item(item), *missing_media(item)]


def columns_of(item: Item, passage: str) -> dict[str, Any]:
    """The columns that mirror an item's body; `passage` is the content of what lies with it."""
    has = traits_of(item).has
    return {
        "type": item.type,
        "text": plain_text(item.stem),
        "title": plain_text(item.title)[:300],
        "points": item.points,
        "outcome": "; ".join(item.metadata.get("outcome", []))[:300],
        "difficulty": "; ".join(item.metadata.get("difficulty", []))[:60],
        "picture": "picture" in has,
        "formula": "formula" in has,
        "feedback": "feedback" in has,
        "findings": _codes(findings_of(item)),
        "advice": _codes(advise_item(item, passage)),
        "seconds": seconds_of(item),
        "words": load_of_item(item).words,
        "key_place": key_letter(item),
        "digest": identity_of(item, passage).whole,
        "body": item.model_dump(mode="json"),
    }


def _codes(findings: list[Finding]) -> str:
    return " ".join(sorted({finding.code for finding in findings}))[:300]
