"""Coarser forms of items and contents: without emphasis, with formulas as text or pictures, shorter, all or nothing.

Places that items are handed on to make these of what they do not take, and repairs make them beforehand, where one can see it.
"""

from __future__ import annotations

import html
import re
from collections.abc import Callable
from typing import Any

from rogatum.core.items.by_type import ByType
from rogatum.core.items.content import MATH, TEX, escape, plain_text
from rogatum.core.items.key import even_weights
from rogatum.core.items.model import (
    Choice,
    ChoiceBlank,
    Cloze,
    FillIn,
    Item,
    Matching,
    MultipleChoice,
    MultipleResponse,
    Numeric,
    NumericBlank,
    TextBlank,
    TrueFalse,
)
from rogatum.core.items.parts import options

ELLIPSIS = "…"
# Pictures, sounds, formulas and blanks are no formatting.
_KEPT = re.compile(r"<math\b.*?</math>|<img\b[^<>]*/?>|<(audio|video)\b.*?</\1>|<span data-blank=\"[^\"]*\">\s*</span>", re.S)
_BLOCK = re.compile(r"</?(?:p|br|li|tr|td|th|table|ul|ol|pre|blockquote|caption|thead|tbody)\b[^<>]*>")
_TAG = re.compile(r"<[^<>]+>")
_PICTURE = re.compile(r"<img\b[^<>]*/?>|<(audio|video)\b.*?</\1>", re.S)
_ALT = re.compile(r'(<img\b[^<>]*?\salt=")[^"]*(")')


def without_formatting(content: str) -> str:
    """The content as running text; pictures, formulas and blanks stay where they stand."""
    if "<" not in content:
        return content
    found: list[str] = []
    end = 0
    for match in _KEPT.finditer(content):
        found += [_bare(content[end : match.start()]), match[0]]
        end = match.end()
    return re.sub(r"\s+", " ", "".join([*found, _bare(content[end:])])).strip()


def _bare(markup: str) -> str:
    return _TAG.sub("", _BLOCK.sub(" ", markup))


def without_media(content: str) -> str:
    """The content without pictures, sounds and films."""
    return _PICTURE.sub("", content)


def without_alternatives(content: str) -> str:
    """The content whose pictures have no alternative text."""
    return _ALT.sub(r"\1\2", content)


def formulas_as(content: str, shown: Callable[[str], str]) -> str:
    """The content with each formula as `shown` makes it of its TeX, or of its text where it has none."""

    def replaced(match: re.Match[str]) -> str:
        tex = TEX.search(match[0])
        return shown(html.unescape(tex[1] if tex else _TAG.sub("", match[0])))

    return MATH.sub(replaced, content) if "<math" in content else content


def formulas_as_text(content: str) -> str:
    return formulas_as(content, escape)


def cut_to(content: str, most: int) -> str:
    """The content as plain text of at most so many characters, with a sign where something is missing; what fits stays."""
    text = plain_text(content)
    return content if len(text) <= most else escape(text[: most - 1].rstrip() + ELLIPSIS)


def name_cut_to(name: str, most: int | None, without: str = "") -> str:
    """A name of at most so many characters, with a hyphen for each sign that it cannot have."""
    kept = "".join("-" if sign in without else sign for sign in name) if without else name
    return kept if most is None or len(kept) <= most else kept[: most - 1].rstrip() + ELLIPSIS


def lengths(item: Item) -> tuple[int, list[int]]:
    """The characters of the stem, and of each option; statements are true or false, which is no text of theirs."""
    written = [] if isinstance(item, TrueFalse) else options(item)
    return len(plain_text(item.stem)), [len(plain_text(content)) for content in written]


# All or nothing


def _one_right(choices: list[Choice]) -> list[Choice]:
    best = max((choice.weight for choice in choices), default=0.0)
    return [choice.model_copy(update={"weight": float(choice.weight == best > 0)}) for choice in choices]


def _whole_choice(item: MultipleChoice) -> Item:
    return item.model_copy(update={"choices": _one_right(item.choices)})


def _whole_response(item: MultipleResponse) -> Item:
    return even_weights(item.model_copy(update={"scoring": "all_or_nothing", "lowest": 0.0}))


def _all_accepted(part: Any) -> Any:
    """What earned something is right, and what earned nothing is not accepted."""
    accepted = [answer.model_copy(update={"weight": 1.0}) for answer in part.answers if answer.weight > 0]
    return part.model_copy(update={"answers": accepted})


def _whole_blank(blank: TextBlank | NumericBlank | ChoiceBlank, share: float) -> Any:
    whole = (
        blank.model_copy(update={"choices": _one_right(blank.choices)}) if isinstance(blank, ChoiceBlank) else _all_accepted(blank)
    )
    return whole.model_copy(update={"share": share})


def _whole_blanks(item: Cloze) -> Item:
    share = round(1 / len(item.blanks), 6) if item.blanks else 1.0
    blanks = [_whole_blank(blank, share) for blank in item.blanks]
    return item.model_copy(update={"blanks": blanks, "scoring": "all_or_nothing", "lowest": 0.0})


def _whole_pairs(item: Matching) -> Item:
    pairs = [pair.model_copy(update={"share": None}) for pair in item.pairs]
    return item.model_copy(update={"pairs": pairs, "scoring": "all_or_nothing"})


def _as_it_is(item: Item) -> Item:
    return item


_WHOLE: ByType[Callable[[Any], Item]] = ByType(
    "the item where a response is right or wrong, with nothing between",
    {
        "multiple_choice": _whole_choice,
        "multiple_response": _whole_response,
        "true_false": _as_it_is,
        "fill_in": _all_accepted,
        "numeric": _all_accepted,
        "cloze": _whole_blanks,
        "matching": _whole_pairs,
        "ordering": lambda item: item.model_copy(update={"scoring": "all_or_nothing"}),
        "essay": _as_it_is,
        "information": _as_it_is,
        "preserved": _as_it_is,
    },
)


def all_or_nothing(item: Item) -> Item:
    """The item where a response is right or wrong: no part of the points, none below 0."""
    return _WHOLE.of(item)(item)


def _not_below(choices: list[Choice]) -> list[Choice]:
    return [choice.model_copy(update={"weight": max(0.0, choice.weight)}) for choice in choices]


def nothing_below_zero(item: Item) -> Item:
    """The item where no response costs points."""
    changed: dict[str, Any] = {}
    if isinstance(item, MultipleChoice | MultipleResponse):
        changed["choices"] = _not_below(item.choices)
    if isinstance(item, MultipleResponse | Cloze) and item.lowest != 0:
        changed["lowest"] = 0.0
    if isinstance(item, FillIn | Numeric):
        changed["answers"] = [answer.model_copy(update={"weight": max(0.0, answer.weight)}) for answer in item.answers]
    if isinstance(item, Cloze):
        changed["blanks"] = [
            blank.model_copy(update={"choices": _not_below(blank.choices)}) if isinstance(blank, ChoiceBlank) else blank
            for blank in item.blanks
        ]
    return item.model_copy(update=changed)


__all__ = [
    "all_or_nothing",
    "cut_to",
    "formulas_as",
    "formulas_as_text",
    "lengths",
    "name_cut_to",
    "nothing_below_zero",
    "without_alternatives",
    "without_formatting",
    "without_media",
]
