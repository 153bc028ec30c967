"""A forecast as JSON: the sums, each item with its verdicts and why, and the quizzes."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from rogatum.core.receivers.outlook import Forecast, ForecastItem, ForecastNote, Standing

# An item is kept where nothing of it was changed, whatever is added.
_KEPT: Mapping[Standing, str] = {"same": "kept", "added": "kept"}


def _sums(counts: Mapping[Standing, int]) -> dict[str, int]:
    told: dict[str, int] = {}
    for standing, count in counts.items():
        name = _KEPT.get(standing, standing)
        told[name] = told.get(name, 0) + count
    return told


def told_as_json(told: Forecast) -> dict[str, Any]:
    """The form that `rogatum forecast` prints."""
    return {
        "receiver": told.receiver,
        "title": told.title,
        "format": told.format,
        **{name: _sums(counts) for name, counts in told.sums.items()},
        "files": told.files,
        "items": [item_as_json(item) for item in told.items],
        "quizzes": [quiz.model_dump(mode="json") for quiz in told.quizzes],
    }


def item_as_json(item: ForecastItem) -> dict[str, Any]:
    return {
        "item": item.id,
        "title": item.title,
        "type": item.type,
        "standing": _KEPT.get(item.standing, item.standing),
        "for_students": _KEPT.get(item.for_students, item.for_students),
        "for_you": _KEPT.get(item.for_you, item.for_you),
        "facets": dict(item.facets),
        "notes": [note_as_json(note) for note in item.notes],
    }


def note_as_json(note: ForecastNote) -> dict[str, Any]:
    told: dict[str, Any] = {"facet": note.facet, "verdict": note.verdict, "message": note.message, "by": note.by}
    if note.seen:
        told["seen"] = note.seen
    if note.excess is not None:
        told["excess"] = {"what": note.excess.what, "has": note.excess.has, "most": note.excess.most, "words": note.excess.words}
    return told
