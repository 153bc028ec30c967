"""Two items that ask the same made into one: what the one that stays takes over from the other."""

from __future__ import annotations

import re
from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from rogatum.core.items import Item, parts
from rogatum.core.items.changes import map_content
from rogatum.core.items.content import comparable, media_refs, with_refs

_PICTURE = re.compile(r"<img [^<>]{0,4000}>")


@dataclass(frozen=True)
class MergedItem:
    """The item that stays as it is afterwards, and what it took over, in words."""

    item: Item
    took: tuple[str, ...]


def merged(kept: Item, other: Item, size: Callable[[str], int]) -> MergedItem:
    """An item with what another has and it has not: title, points, feedback, metadata, and the better picture of both.

    `size` tells how large a picture is by its ref: of two that stand in the same place, the larger is the better.
    """
    took: list[str] = []
    changes: dict[str, Any] = {}
    if not kept.title and other.title:
        changes["title"] = other.title
        took.append("title")
    if kept.points is None and other.points is not None:
        changes["points"] = other.points
        took.append("points")
    feedback = {slot: text for slot, text in other.feedback.items() if text and not kept.feedback.get(slot)}
    if feedback:
        changes["feedback"] = kept.feedback | feedback
        took.append("feedback")
    metadata = _metadata(kept, other)
    if metadata != kept.metadata:
        changes["metadata"] = metadata
        took += [label for label in metadata if metadata[label] != kept.metadata.get(label)]
    item = _with_feedback_of_choices(kept.model_copy(update=changes), other, took)
    return MergedItem(_with_better_pictures(item, other, size, took), tuple(dict.fromkeys(took)))


def _metadata(kept: Item, other: Item) -> dict[str, list[str]]:
    return {
        label: list(dict.fromkeys([*kept.metadata.get(label, []), *other.metadata.get(label, [])]))
        for label in dict.fromkeys([*kept.metadata, *other.metadata])
    }


def _with_feedback_of_choices(kept: Item, other: Item, took: list[str]) -> Item:
    """Feedback of choices that read the same in both."""
    said: dict[str, str | None] = {comparable(c.content): c.feedback for c in parts.choices(other) if c.feedback}
    choices = [
        choice.model_copy(update={"feedback": choice.feedback or said.get(comparable(choice.content))})
        for choice in parts.choices(kept)
    ]
    if choices == parts.choices(kept):
        return kept
    took.append("feedback of choices")
    return kept.model_copy(update={"choices": choices})


def _with_better_pictures(kept: Item, other: Item, size: Callable[[str], int], took: list[str]) -> Item:
    mine, its = (_pictures(item) for item in (kept, other))
    if not mine and (shown := _PICTURE.findall(other.stem)):
        took.append("picture")
        return kept.model_copy(update={"stem": kept.stem + "".join(f"<p>{picture}</p>" for picture in shown)})
    if len(mine) != len(its):
        return kept
    better = {a: b for a, b in zip(mine, its, strict=True) if a != b and size(b) > size(a)}
    if not better:
        return kept
    took.append("picture")
    return map_content(kept, lambda content: with_refs(content, lambda ref: better.get(ref, ref)))


def _pictures(item: Item) -> list[str]:
    return [ref for content in parts.content_fields(item) for ref in media_refs(content)]
