"""A quiz's settings in a test of QTI 2.x and 3.0, both ways: time limits, session control, modes (information model “Tests”)."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from lxml import etree

from rogatum.core.accounting import XmlClaims
from rogatum.core.formats.qti2.declarations import float_of
from rogatum.core.formats.qti2.elements import node
from rogatum.core.formats.shared.numbers import exact_number
from rogatum.core.quizzes.model import Settings

SECONDS = 60.0
# Whether something is shown: when is said in no other words.
_SHOWN: dict[object, str] = {"never": "false", "on submitting": "true"}
_NAVIGATION = {"linear": "in order", "nonlinear": "free"}
_SUBMISSION = {"individual": "item by item", "simultaneous": "at the end"}
# The settings that have a place, with their values.
PLACES: dict[str, frozenset[object] | None] = {
    "time_limit": None,
    "attempts": None,
    "shuffle_items": None,
    "show_feedback": frozenset(_SHOWN),
    "show_key": frozenset(_SHOWN),
    "show_responses": frozenset(_SHOWN),
    "navigation": None,
    "submission": None,
    "skipping": None,
    "feedback": None,
}


def _flag(text: str | None) -> bool | None:
    return {"true": True, "false": False, "1": True, "0": False}.get((text or "").strip().lower())


def _attempts(element: etree._Element) -> int | None:
    text = (element.get("maxAttempts") or "").strip()
    return int(text) if text.isascii() and text.isdigit() and int(text) <= 100 else None


@dataclass(frozen=True)
class Controlled:
    """A setting that an attribute of `itemSessionControl` says (QTI 2.1 assessment model, 5.2)."""

    attribute: str
    read: Callable[[etree._Element], Any]
    write: Callable[[Any], str]


def _flagged(attribute: str) -> Controlled:
    return Controlled(attribute, lambda element: _flag(element.get(attribute)), lambda value: str(value).lower())


def _showing(attribute: str) -> Controlled:
    """What is shown when all is submitted, or never."""
    words = {True: "on submitting", False: "never", None: None}
    return Controlled(attribute, lambda element: words[_flag(element.get(attribute))], lambda value: _SHOWN[value])


_CONTROL: dict[str, Controlled] = {
    "attempts": Controlled("maxAttempts", _attempts, str),
    "show_feedback": _showing("showFeedback"),
    "show_key": _showing("showSolution"),
    "skipping": _flagged("allowSkipping"),
    "show_responses": _showing("allowReview"),
}


def read_settings(root: etree._Element, claims: XmlClaims) -> Settings:
    """What a test says of the whole; what single sections and items say otherwise stays unclaimed."""
    parts = root.findall("testPart")
    found: dict[str, Any] = {"time_limit": _time_limit(root, parts, claims), "shuffle_items": _shuffled(root)}
    controls = [control for part in parts if (control := part.find("itemSessionControl")) is not None]
    if controls and len(controls) == len(parts):
        for name, said in _CONTROL.items():
            values = {said.read(element) for element in controls}
            if len(values) == 1 and values != {None}:
                found[name] = values.pop()
                for element in controls:
                    claims.attribute(element, said.attribute)
    for name, attribute, words in (("navigation", "navigationMode", _NAVIGATION), ("submission", "submissionMode", _SUBMISSION)):
        modes = {part.get(attribute, "") for part in parts}
        if len(modes) == 1:
            found[name] = words.get(modes.pop())
            for part in parts:
                claims.attribute(part, attribute)
    return Settings(**found)


def _time_limit(root: etree._Element, parts: list[etree._Element], claims: XmlClaims) -> float | None:
    """Minutes: of the test, or of its only part."""
    for element in [root, *(parts if len(parts) == 1 else [])]:
        limits = element.find("timeLimits")
        seconds = float_of(limits.get("maxTime")) if limits is not None else None
        if limits is not None and seconds and 0 < seconds <= 10_080 * SECONDS:
            claims.attribute(limits, "maxTime")
            return round(seconds / SECONDS, 6)
    return None


def _shuffled(root: etree._Element) -> bool | None:
    """Whether items come in any order: what all sections that hold items, and are no draws, say alike."""
    said: set[bool | None] = set()
    waiting = [section for part in root.iterfind("testPart") for section in part.iterfind("assessmentSection")]
    while waiting:
        section = waiting.pop()
        if section.find("selection") is not None:
            continue
        inner = section.findall("assessmentSection")
        # A section without a title only holds what shares a passage.
        passages = [child for child in inner if not child.get("title") and child.find("assessmentItemRef") is not None]
        if passages or section.find("assessmentItemRef") is not None:
            ordering = section.find("ordering")
            said.add(bool(_flag(ordering.get("shuffle"))) if ordering is not None else None)
        waiting += [child for child in inner if child not in passages]
    return said.pop() if len(said) == 1 else None


def mode_attributes(settings: Settings) -> dict[str, str]:
    """The attributes of a `testPart`; they have to be said."""
    ways = {value: key for key, value in _NAVIGATION.items()}
    times = {value: key for key, value in _SUBMISSION.items()}
    return {
        "navigationMode": ways[settings.navigation or "free"],
        "submissionMode": times[settings.submission or "at the end"],
    }


def session_control(settings: Settings) -> etree._Element | None:
    said = {name: getattr(settings, name) for name in _CONTROL}
    attributes = {
        _CONTROL[name].attribute: _CONTROL[name].write(value)
        for name, value in said.items()
        if value is not None and (name not in PLACES or PLACES[name] is None or value in (PLACES[name] or ()))
    }
    return node("itemSessionControl", **attributes) if attributes else None


def time_limits(settings: Settings) -> etree._Element | None:
    if settings.time_limit is None:
        return None
    return node("timeLimits", maxTime=exact_number(round(settings.time_limit * SECONDS, 3)))


def ordering(settings: Settings) -> etree._Element | None:
    """The ordering of a section of fixed items."""
    return None if settings.shuffle_items is None else node("ordering", shuffle=str(settings.shuffle_items).lower())
