"""What a receiver makes of what arrives, told by its sheet: the second half of a forecast.

Habits come in the order of `HABITS`. Each looks at what an item still holds and says what becomes of it, or nothing where the sheet
takes it as it is.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Collection, Iterator
from dataclasses import dataclass, field
from typing import Literal

from rogatum.core.fidelity import FACETS
from rogatum.core.fidelity.items import Facet
from rogatum.core.items import Choice, ChoiceBlank, Cloze, Item, Matching, Ordering
from rogatum.core.items.changes import map_content
from rogatum.core.items.coarser import all_or_nothing, cut_to, formulas_as_text, name_cut_to, nothing_below_zero, without_media
from rogatum.core.items.content import media_refs
from rogatum.core.items.parts import choices
from rogatum.core.receivers.by_format import TRAIT_FACETS, Verdicts
from rogatum.core.receivers.features import MODEL_ANSWER, Features, Surroundings
from rogatum.core.receivers.sheet import Beyond, Sheet, TextLimit

Held = frozenset[str]


@dataclass(frozen=True)
class Effect:
    """What a habit does: the verdicts of facets and why, and the features that are gone after it; or how it makes another item.

    `touches` are the facets that making it can change; the others need no judging.
    """

    verdicts: Verdicts = field(default_factory=dict)
    message: str = ""
    gone: frozenset[str] = frozenset()
    make: Callable[[Item], Item] | None = None
    touches: Collection[Facet] = FACETS
    seen: str = ""


Habit = Callable[[Sheet, Item, Held, Surroundings], Effect | None]


# Limits


@dataclass(frozen=True, slots=True)
class Excess:
    """What is beyond a limit: `has` of `most`; of a picture, bytes or 0 where its kind is not taken."""

    what: Literal["stem", "choice", "choices", "picture", "picture kind"]
    has: int
    most: int
    kind: str = ""

    @property
    def words(self) -> str:
        if self.what == "choices":
            return f"{self.has} choices of {self.most}, {self.has - self.most} too many"
        if self.what == "picture":
            return f"a picture of {_size(self.has)} of {_size(self.most)}"
        if self.what == "picture kind":
            return f"a picture of a kind that is not taken ({self.kind or 'unknown'})"
        name = "stem" if self.what == "stem" else "longest choice"
        return f"{name} {self.has} of {self.most} characters, {self.has - self.most} too many"

    def fitted(self, sheet: Sheet, item: Item, around: Surroundings) -> Item:
        """The item as it is made to fit."""
        if self.what == "stem":
            return item.model_copy(update={"stem": cut_to(item.stem, self.most)})
        if self.what == "choices":
            return item.model_copy(update={"choices": choices(item)[: self.most]})
        if self.what == "choice":
            return _with_short_options(item, self.most)
        return map_content(item, lambda content: without_unfit(sheet, content, around))


def _size(size: int) -> str:
    return f"{size / 1024:.0f} KB" if size < 1024 * 1024 else f"{size / 1024 / 1024:.1f} MB"


def _with_short_options(item: Item, most: int) -> Item:
    """The item with what students choose from cut; its stem, passages and feedback stay."""

    def cut(content: str) -> str:
        return cut_to(content, most)

    def short(choice: Choice) -> Choice:
        return choice.model_copy(update={"content": cut(choice.content)})

    changed: dict[str, object] = {}
    if choices(item):
        changed["choices"] = list(map(short, choices(item)))
    if isinstance(item, Ordering):
        changed["sequence"] = list(map(cut, item.sequence))
    if isinstance(item, Matching):
        changed["pairs"] = [pair.model_copy(update={"left": cut(pair.left), "right": cut(pair.right)}) for pair in item.pairs]
        changed["distractors"] = list(map(cut, item.distractors))
    if isinstance(item, Cloze):
        changed["blanks"] = [
            blank.model_copy(update={"choices": list(map(short, blank.choices))}) if isinstance(blank, ChoiceBlank) else blank
            for blank in item.blanks
        ]
    return item.model_copy(update=changed)


def without_unfit(sheet: Sheet, content: str, around: Surroundings) -> str:
    """The content without pictures that are too large or of a kind that is not taken."""
    unfit = [ref for ref in media_refs(content) if _unfit(sheet, *around.media.get(ref, (0, "")))]
    for ref in unfit:
        content = _without_picture(content, ref)
    return content


def _without_picture(content: str, ref: str) -> str:
    kept: list[str] = []
    for piece in content.split("<img"):
        head, end, rest = piece.partition(">")
        kept.append(rest if end and ref in head and kept else ("<img" if kept else "") + piece)
    return "".join(kept)


def _unfit(sheet: Sheet, size: int, kind: str) -> bool:
    limits = sheet.limits.pictures
    if limits is None or not kind.startswith("image/"):
        return False
    return (limits.bytes is not None and size > limits.bytes) or (limits.kinds is not None and kind not in limits.kinds)


def excesses_of(sheet: Sheet, features: Features, held: Held) -> Iterator[tuple[Excess, Beyond | Literal["drops"]]]:
    """What of an item is beyond the limits, and what the receiver does then."""
    limits = sheet.limits
    yield from _beyond("stem", features.stem, limits.stem)
    yield from _beyond("choice", features.choice, limits.choice)
    yield from _beyond("choices", features.choices, limits.choices)
    if limits.pictures is None or "media" not in held or sheet.content.pictures == "drops":
        return
    unfit = [(size, kind) for size, kind in features.pictures if _unfit(sheet, size, kind)]
    if unfit:
        size, kind = max(unfit)
        most = limits.pictures.bytes
        by_size = most is not None and size > most
        yield Excess("picture" if by_size else "picture kind", size, most or 0, kind), limits.pictures.beyond


def _beyond(what: Literal["stem", "choice", "choices"], has: int, limit: TextLimit | None) -> Iterator[tuple[Excess, Beyond]]:
    if limit is not None and has > limit.most:
        yield Excess(what, has, limit.most), limit.beyond


# Habits


def _marking(sheet: Sheet, _item: Item, held: Held, _around: Surroundings) -> Effect | None:
    """What is marked in another way is made and judged, since its probes tell."""
    if sheet.marking.part_marks == "drops" and held & _IN_PARTS:
        return Effect(make=all_or_nothing, touches=_MARKED)
    if sheet.marking.below_zero == "drops" and held & _BELOW_ZERO:
        return Effect(make=nothing_below_zero, touches=_MARKED)
    return None


# The feedback of answers is told in the order of what they earn.
_MARKED: tuple[Facet, ...] = ("key", "marking", "feedback")
_BODY: tuple[Facet, ...] = ("stem", "formatting", "math", "media")
_IN_PARTS = frozenset({"part-marks", "below-zero", "each-choice", "no-lowest", "shares", "each-part", "parts-each"})
_BELOW_ZERO = frozenset({"below-zero", "each-choice", "no-lowest"})


def _feedback(sheet: Sheet, _item: Item, held: Held, _around: Surroundings) -> Effect | None:
    dropped = [slot for slot in _SLOTS if slot in held and slot not in sheet.feedback.takes]
    if not dropped:
        return None
    named = ", ".join("for what was picked" if slot in ("choice", "answer") else slot for slot in dropped)
    verdicts: Verdicts = {"feedback": "lost", **_held_within(held, dropped)}
    return Effect(verdicts, f"{sheet.title} drops feedback: {named}.", _of(held, dropped))


def _of(held: Held, slots: Collection[str]) -> frozenset[str]:
    """The slots, and what they hold."""
    return frozenset(feature for feature in held if feature.partition("/")[0] in slots)


def _held_within(held: Held, slots: Collection[str]) -> Verdicts:
    """What goes with the slots that hold it."""
    traits = {feature.partition("/")[2] for feature in _of(held, slots)}
    return {TRAIT_FACETS[trait]: "lost" for trait in traits if trait in TRAIT_FACETS}


_SLOTS = ("general", "correct", "incorrect", "choice", "answer", "rubric")
_HOLDING = (*_SLOTS, MODEL_ANSWER)


def _model_answer(sheet: Sheet, _item: Item, held: Held, _around: Surroundings) -> Effect | None:
    if sheet.feedback.model_answers == "takes" or MODEL_ANSWER not in held:
        return None
    return Effect(
        {"key": "lost", **_held_within(held, [MODEL_ANSWER])}, f"{sheet.title} drops model answers.", _of(held, [MODEL_ANSWER])
    )


def _passage(sheet: Sheet, _item: Item, held: Held, around: Surroundings) -> Effect | None:
    if "passage" not in held or sheet.grouping.passages == "takes":
        return None
    if sheet.grouping.passages == "drops":
        return Effect({"grouping": "lost"}, f"{sheet.title} has no passages: it is not there.", frozenset({"passage"}))
    words = f"{sheet.title} puts the passage into the stem of each item."
    return Effect({"grouping": "lost"}, words, frozenset({"passage"}), make=around.with_passage, touches=_BODY)


def _pictures(sheet: Sheet, _item: Item, held: Held, _around: Surroundings) -> Effect | None:
    if sheet.content.pictures == "drops" and held & {"media", *_within("media")}:
        return Effect(make=_without_media)
    if sheet.content.alternative_texts == "drops" and held & {"alt", *_within("alt")}:
        gone = frozenset({"alt", *_within("alt")})
        return Effect({"media": "lost"}, f"{sheet.title} drops the texts that stand for pictures.", gone)
    return None


def _without_media(item: Item) -> Item:
    return map_content(item, without_media)


def _formulas_as_text(item: Item) -> Item:
    return map_content(item, formulas_as_text)


def _formatting(sheet: Sheet, _item: Item, held: Held, _around: Surroundings) -> Effect | None:
    gone = frozenset({"formatting", *_within("formatting")})
    if sheet.content.formatting == "takes" or not held & gone:
        return None
    return Effect({"formatting": "lost"}, f"{sheet.title} shows plain text.", gone)


def _formulas(sheet: Sheet, _item: Item, held: Held, _around: Surroundings) -> Effect | None:
    shown = sheet.content.formulas
    gone = frozenset({"math", "bare-math", *_within("math"), *_within("bare-math")})
    if shown == "as they are" or not held & gone:
        return None
    if shown == "text":
        return Effect(make=_formulas_as_text)
    if shown == "pictures":
        return Effect({"math": "recast"}, f"{sheet.title} shows formulas as pictures.", gone)
    bare = held & {"bare-math", *_within("bare-math")}
    return Effect({"math": "lost"}, "A formula that is not told in TeX is shown as text.", gone) if bare else None


def _within(trait: str) -> list[str]:
    return [f"{slot}/{trait}" for slot in _HOLDING]


def _labels(sheet: Sheet, item: Item, held: Held, _around: Surroundings) -> Effect | None:
    habits = sheet.labels
    dropped = [
        words
        for feature, habit, words in (
            ("title", habits.titles, "titles"),
            ("outcome", habits.outcomes, "outcomes"),
            ("tag", habits.tags, "tags"),
            ("label", habits.others, "other metadata"),
            ("own-label", habits.others, "other metadata"),
        )
        if habit == "drops" and feature in held
    ]
    if dropped:
        return Effect({"metadata": "lost"}, f"{sheet.title} drops {', '.join(dict.fromkeys(dropped))}.", seen="")
    moved = "outcome" in held and habits.outcomes != "takes"
    cut = cut_title(sheet, item) if "title" in held and not moved else None
    if cut is not None:
        return Effect({"metadata": "changed"}, f"{sheet.title} cuts the title.", seen=cut)
    if not moved:
        return None
    return _outcomes_moved(sheet, item, held)


def _outcomes_moved(sheet: Sheet, item: Item, held: Held) -> Effect:
    """Outcomes that become tags or part of the title; a title that is too long then is cut with them."""
    if sheet.labels.outcomes == "tags":
        cut = cut_title(sheet, item) if "title" in held else None
        lost = sheet.labels.tags == "drops" or cut is not None
        return Effect({"metadata": "lost" if lost else "recast"}, "Outcomes become tags.", seen=cut or "")
    title = title_with_outcomes(item if "title" in held else item.model_copy(update={"title": ""}))
    shown = name_cut_to(title, sheet.names.length, sheet.names.without)
    return Effect({"metadata": "recast" if shown == title else "lost"}, "Outcomes stand in the title.", seen=shown)


def title_with_outcomes(item: Item) -> str:
    codes = ", ".join(value for value in item.metadata.get("outcome", []) if value)
    return " ".join(filter(None, [f"[{codes}]" if codes else "", item.title]))


def outcomes_as_tags(item: Item) -> Item:
    """The item with its outcomes among its tags."""
    labels = {label: values for label, values in item.metadata.items() if label != "outcome"}
    tags = list(dict.fromkeys([*labels.get("tag", []), *item.metadata.get("outcome", [])]))
    return item.model_copy(update={"metadata": labels | ({"tag": tags} if tags else {})})


def outcomes_in_title(item: Item) -> Item:
    """The item with its outcomes in front of its title."""
    labels = {label: values for label, values in item.metadata.items() if label != "outcome"}
    return item.model_copy(update={"metadata": labels, "title": title_with_outcomes(item)})


def cut_title(sheet: Sheet, item: Item) -> str | None:
    """The title as it is cut, None where it stays."""
    shown = name_cut_to(item.title, sheet.names.length, sheet.names.without)
    return shown if shown != item.title else None


# The order in which a receiver goes about it.
HABITS: tuple[Habit, ...] = (_marking, _feedback, _model_answer, _passage, _pictures, _formatting, _formulas, _labels)


# Points and pools


def points_there(sheet: Sheet, points: float | None) -> float | None:
    """What an item is worth there; None for what has no points there."""
    habits = sheet.points
    if habits.points == "drops" or points is None:
        return habits.default
    worth = points * (habits.scale or 1)
    worth = rounded(worth, habits.step) if habits.step else worth
    worth = max(worth, habits.least) if habits.least is not None else worth
    return min(worth, habits.most) if habits.most is not None else worth


def rounded(points: float, step: float) -> float:
    """Points to the nearest step, halves upwards."""
    return round(math.floor(points / step + 0.5 + 1e-9) * step, 6)


def told_path(sheet: Sheet, path: tuple[str, ...], file_name: str) -> tuple[str, ...]:
    """Where an item lies there."""
    habits = sheet.grouping
    if habits.pools == "file name":
        return (name_cut_to(file_name, sheet.names.length, sheet.names.without),)
    if habits.pools == "drops" or not path:
        return ()
    levels = min(len(path), 1 if habits.pools == "joins names" else habits.nesting or len(path))
    joined = (*path[: levels - 1], " / ".join(path[levels - 1 :]))
    return tuple(name_cut_to(name, sheet.names.length, sheet.names.without) for name in joined)


__all__ = [
    "HABITS",
    "Effect",
    "Excess",
    "excesses_of",
    "outcomes_as_tags",
    "outcomes_in_title",
    "points_there",
    "told_path",
]
