"""A verdict of `same` is a promise: whatever one thing is changed in what was read back, the ledger notices."""

from __future__ import annotations

from collections.abc import Callable, Iterator

import pytest

from rogatum.core.exporting import export_bank
from rogatum.core.fidelity import compare
from rogatum.core.formats import writable_formats
from rogatum.core.items import (
    Bank,
    Choice,
    ChoiceBlank,
    Cloze,
    Essay,
    FillIn,
    Item,
    Matching,
    MultipleChoice,
    MultipleResponse,
    Numeric,
    NumericAnswer,
    NumericBlank,
    Ordering,
    Pair,
    PoolEntry,
    Stimulus,
    TextAnswer,
    TextBlank,
    TrueFalse,
)
from rogatum.core.items.content import blank_marker, formula_from_tex
from tests.core.strategies import PICTURES, media_box

FIRST, SECOND = sorted(PICTURES)


def bank() -> Bank:
    """One item of each type that can be marked, each with all that it can have."""
    said = {
        "feedback": {"general": "See page 3", "correct": "So it is", "incorrect": "Look again"},
        "metadata": {"outcome": ["2.1"]},
    }
    picture = f'Which layer? <em>Look</em> <img src="{FIRST}" alt="a pit"/> {formula_from_tex("x^2")}'
    several = [Choice(id=i, content=t, weight=w) for i, t, w in (("a", "clay", 0.5), ("b", "silt", 0.5), ("c", "peat", -0.25))]
    words = [TextAnswer(text="Loam"), TextAnswer(text="Clay", weight=0.5)]
    items: list[Item] = [
        MultipleChoice(
            id="i1",
            title="Layers",
            stem=picture,
            points=2,
            choices=[Choice(id="a", content="clay", weight=1, feedback="Yes"), Choice(id="b", content="silt", weight=0.25)],
            **said,
        ),
        MultipleResponse(id="i2", stem="Pick", points=1, choices=several, scoring="per_choice", lowest=None, **said),
        MultipleResponse(
            id="i3", stem="Pick all", points=1, choices=[c.model_copy(update={"weight": abs(c.weight) and 0.5}) for c in several]
        ),
        TrueFalse(id="i4", stem="Clay is fine", points=1, answer=True, choice_feedback={"true": "It is", "false": "No"}, **said),
        FillIn(id="i5", stem="A mixture", points=1, answers=words, case_sensitive=True, **said),
        Numeric(id="i6", stem="How many", points=1, unit="cm", answers=[NumericAnswer(value=4, tolerance=0.5)], **said),
        Numeric(id="i7", stem="How much", points=1, answers=[NumericAnswer(min=1, max=3, include_max=False)], **said),
        Cloze(
            id="i8",
            stem=f"{blank_marker('b1')} and {blank_marker('b2')} and {blank_marker('b3')}",
            points=3,
            blanks=[
                TextBlank(id="b1", answers=words, share=0.5),
                NumericBlank(id="b2", answers=[NumericAnswer(value=2)], share=0.25),
                ChoiceBlank(id="b3", choices=[Choice(id="x", content="one", weight=1), Choice(id="y", content="two")], share=0.25),
            ],
            **said,
        ),
        Matching(
            id="i9", stem="Match", points=2, pairs=[Pair(left=a, right=b) for a, b in ("AB", "CD", "EF")], distractors=["G"], **said
        ),
        Ordering(id="i10", stem="Order", points=2, sequence=["first", "second", "third"], scoring="per_part", **said),
        Essay(
            id="i11",
            stem="Say why",
            points=5,
            sample_answer="Since it is so",
            rubric="2 points each",
            feedback={"general": "Read on"},
        ),
    ]
    items[0].stimulus = "s1"
    pools = [PoolEntry(path=["Soils", "Texture"], items=[item.id for item in items])]
    return Bank(
        title="Soils", items=items, pools=pools, stimuli=[Stimulus(id="s1", content="A passage")], media=media_box().entries()[:1]
    )


Mutation = tuple[str, Callable[[Bank], object]]


def mutations(back: Bank) -> Iterator[Mutation]:
    """Changes of one thing each, by what they change; each takes a copy of the bank."""
    for place, item in enumerate(back.items):
        for path in _leaves(item.model_dump()):
            if path[-1] not in _NOT_SEEN and path[0] not in _NOT_SEEN:
                yield (
                    f"{item.type} {place}: {'.'.join(map(str, path))}",
                    lambda copy, place=place, path=path: _change(copy, place, path),
                )


# What no student meets, and what only says where an item came from or how it is shown.
_NOT_SEEN = {"id", "type", "kind", "stimulus", "shuffle", "original", "original_format", "rounding", "figures", "relative"}


def _leaves(value: object, path: tuple[str | int, ...] = ()) -> Iterator[tuple[str | int, ...]]:
    if isinstance(value, dict):
        for key, part in value.items():
            yield from _leaves(part, (*path, key))
    elif isinstance(value, list):
        for place, part in enumerate(value):
            yield from _leaves(part, (*path, place))
        if len(value) > 1 and path[-1] in ("sequence",):
            yield (*path, "swap")
    elif value is not None:
        yield path


_OTHER = {
    "per_part": "all_or_nothing",
    "all_or_nothing": "per_part",
    "per_choice": "all_or_nothing",
    "exact": "contains",
    "contains": "exact",
}


def _change(copy: Bank, place: int, path: tuple[str | int, ...]) -> None:
    item = copy.items[place]
    data = item.model_dump()
    home = data
    for step in path[:-1]:
        home = home[step]
    key = path[-1]
    if key == "swap":
        home[0], home[1] = home[1], home[0]
    elif key == "scoring" and data["type"] == "multiple_response":
        home[key] = "per_choice" if home[key] == "all_or_nothing" else "all_or_nothing"
    else:
        home[key] = _other(home[key])
    copy.items[place] = type(item).model_validate(data)


def _other(value: object) -> object:
    if isinstance(value, bool):
        return not value
    if isinstance(value, int | float):
        return value - 0.25 if value > 0 else value - 0.5
    assert isinstance(value, str)
    if value in _OTHER:
        return _OTHER[value]
    return value.replace(FIRST, SECOND) if FIRST in value else f"{value} x"


# Which of those that are changed mean nothing: the least of a sum that no weight takes anything off, and bounds beside a value.
def _means_nothing(item: Item, path: str) -> bool:
    if path.endswith("lowest"):
        return not isinstance(item, MultipleResponse) or min(choice.weight for choice in item.choices) >= 0
    return bool(path.endswith(".weight") and getattr(item, "scoring", "") == "all_or_nothing")


READ_BACK = [entry for entry in writable_formats() if entry.read and entry.name not in {"docx", "odt", "rtf", "html", "markdown"}]


@pytest.mark.parametrize("entry", READ_BACK, ids=lambda entry: entry.name)
def test_what_is_changed_in_an_export_is_noticed(entry):
    meant = bank()
    back = export_bank(meant, media_box(), entry.name).read_back
    usual = compare(meant, back)
    missed = []
    for name, change in mutations(back):
        place = int(name.split(" ")[1].rstrip(":"))
        copy = back.model_copy(update={"items": list(back.items)})
        try:
            change(copy)
        except ValueError:
            continue
        if compare(back, copy).items == compare(back, back).items and not _means_nothing(back.items[place], name):
            missed.append(name)
    assert not missed, (len(missed), missed[:20])
    assert usual.items
