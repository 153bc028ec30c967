"""A quiz's settings in an assessment of QTI 1.2 (ASI information model, 3.3) and of a cartridge, both ways."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass
from typing import Any

from lxml import etree

from rogatum.core.accounting import XmlClaims
from rogatum.core.formats.qti1.elements import sub
from rogatum.core.formats.shared.numbers import number
from rogatum.core.quizzes.model import ANY_NUMBER, Settings

_DURATION = re.compile(
    r"P(?:(?P<years>\d{1,4})Y)?(?:(?P<months>\d{1,4})M)?(?:(?P<days>\d{1,5})D)?"
    r"(?:T(?:(?P<hours>\d{1,6})H)?(?:(?P<minutes>\d{1,7})M)?(?:(?P<seconds>\d{1,9}(?:\.\d{1,6})?)S)?)?"
)
_MINUTES = {"days": 1440.0, "hours": 60.0, "minutes": 1.0, "seconds": 1 / 60}
MOST_MINUTES = 10_080
_YES, _NO = "Yes", "No"
# Whether feedback and solutions are shown: when is said in no other words.
_SHOWN: dict[object, str] = {"never": _NO, "on submitting": _YES}
_SHOWN_WHEN: frozenset[object] = frozenset(_SHOWN)
_SWITCHES = ("feedbackswitch", "hintswitch", "solutionswitch")
PLACES: dict[str, frozenset[object] | None] = {
    "time_limit": None,
    "shuffle_items": None,
    "show_feedback": _SHOWN_WHEN,
    "show_key": _SHOWN_WHEN,
}
CARTRIDGE_PLACES: dict[str, frozenset[object] | None] = {
    "time_limit": None,
    "attempts": None,
    "show_feedback": _SHOWN_WHEN,
    "show_key": _SHOWN_WHEN,
}


@dataclass(frozen=True)
class Entry:
    """A setting that an assessment says by an entry of its metadata."""

    label: str
    read: Callable[[str], Any]


def _minutes(text: str) -> float | None:
    match = re.fullmatch(r"\d{1,5}(?:\.\d{1,6})?", text.strip())
    return _bounded(float(match[0])) if match else None


def _bounded(minutes: float) -> float | None:
    return round(minutes, 6) if 0 < minutes <= MOST_MINUTES else None


def _attempts(text: str) -> int | None:
    if text.strip().lower() == "unlimited":
        return ANY_NUMBER
    match = re.fullmatch(r"\d{1,3}", text.strip())
    return int(match[0]) if match and int(match[0]) <= 100 else None


def _yes_or_no(text: str | None) -> bool | None:
    return {"yes": True, "no": False, "true": True, "false": False}.get((text or "").strip().lower())


TIME, ATTEMPTS, FEEDBACK, SOLUTIONS = "qmd_timelimit", "cc_maxattempts", "qmd_feedbackpermitted", "qmd_solutionspermitted"
_ENTRIES = {"time_limit": Entry(TIME, _minutes), "attempts": Entry(ATTEMPTS, _attempts)}


def minutes_of(duration: str) -> float | None:
    """The minutes of a duration of ISO 8601, as `duration` has it; None where it is none, or longer than a week."""
    match = _DURATION.fullmatch(duration.strip())
    if match is None or match["years"] not in (None, "0") and int(match["years"]) or int(match["months"] or 0):
        return None
    return _bounded(sum(float(match[name] or 0) * factor for name, factor in _MINUTES.items()))


def read_settings(element: etree._Element, claims: XmlClaims) -> Settings:
    """What an assessment says: its duration, its switches, its metadata. What could not be read of them stays unclaimed."""
    entries = _metadata(element)
    found: dict[str, Any] = {name: entry.read(entries.get(entry.label, "")) for name, entry in _ENTRIES.items()}
    duration = element.find("duration")
    if duration is not None and (minutes := minutes_of(duration.text or "")) is not None:
        claims.text(duration)
        found["time_limit"] = minutes
    found["show_feedback"], found["show_key"] = map(_when_shown, _shown(element, entries))
    found["shuffle_items"] = _shuffled(element)
    return Settings(**found)


def _metadata(element: etree._Element) -> dict[str, str]:
    """The entries of an assessment's metadata by their labels."""
    found: dict[str, str] = {}
    for entry in element.iterfind("qtimetadata/qtimetadatafield"):
        label = (entry.findtext("fieldlabel") or "").strip().lower()
        found[label] = entry.findtext("fieldentry") or ""
    return found


def _shown(element: etree._Element, entries: dict[str, str]) -> tuple[bool | None, bool | None]:
    """Whether feedback and solutions are shown."""
    control = element.find("assessmentcontrol")
    if control is not None:
        return _yes_or_no(control.get("feedbackswitch")), _yes_or_no(control.get("solutionswitch"))
    return _yes_or_no(entries.get(FEEDBACK)), _yes_or_no(entries.get(SOLUTIONS))


def _when_shown(shown: bool | None) -> str | None:
    return None if shown is None else "on submitting" if shown else "never"


def beyond_a_quiz(element: etree._Element, claims: XmlClaims) -> Iterator[str]:
    """What a container says that no quiz of ours does: sections drawn as a whole, switches of one section."""
    chosen = element.find("selection_ordering/selection/selection_number")
    if chosen is not None and any(map(_of_several, element.iterchildren("section", "sectionref"))):
        yield f"selection: {claims.text(chosen).strip()} whole sections are selected, with all their items"
    for control in element.iterfind("sectioncontrol"):
        off = [name for name in _SWITCHES if _yes_or_no(control.get(name)) is False]
        if off:
            yield f"sectioncontrol: {', '.join(off)} off in one section"


def _of_several(section: etree._Element) -> bool:
    """Whether a section may hold more than one item; of one that stands elsewhere that is not known here."""
    return section.tag == "sectionref" or len(list(section.iter("item", "itemref"))) > 1


def _shuffled(element: etree._Element) -> bool | None:
    """Whether items come in any order: what all sections that hold items, and are no draws, say alike; else the assessment."""
    said: set[bool | None] = set()
    waiting = element.findall("section")
    while waiting:
        section = waiting.pop()
        if section.find("selection_ordering/selection") is not None:
            continue
        inner = section.findall("section")
        # A section without a title only holds what shares a passage.
        passages = [child for child in inner if not child.get("title") and _holds_items(child)]
        if passages or _holds_items(section):
            said.add(_ordered(section))
        waiting += [child for child in inner if child not in passages]
    return said.pop() if len(said) == 1 and said != {None} else _ordered(element)


def _holds_items(section: etree._Element) -> bool:
    return section.find("item") is not None or section.find("itemref") is not None


def _ordered(element: etree._Element) -> bool | None:
    order = element.find("selection_ordering/order")
    return None if order is None else (order.get("order_type") or "").strip().lower() == "random"


# Writing


def write_duration(assessment: etree._Element, settings: Settings) -> None:
    if settings.time_limit is not None:
        sub(assessment, "duration").text = f"PT{number(settings.time_limit * 60)}S"


def write_control(assessment: etree._Element, settings: Settings) -> None:
    said = {"feedbackswitch": settings.show_feedback, "solutionswitch": settings.show_key}
    switches = {name: _SHOWN[when] for name, when in said.items() if when in _SHOWN}
    if switches:
        sub(assessment, "assessmentcontrol", switches)


def write_order(section: etree._Element, settings: Settings) -> None:
    """The order of a section of fixed items."""
    if settings.shuffle_items is not None:
        kind = "Random" if settings.shuffle_items else "Sequential"
        sub(sub(section, "selection_ordering"), "order", order_type=kind)


def cartridge_entries(settings: Settings) -> Iterable[tuple[str, str]]:
    """What the metadata of a cartridge's assessment say of the settings (IMS CC 1.3, 4.2)."""
    if settings.time_limit is not None:
        yield TIME, number(settings.time_limit)
    if settings.attempts is not None:
        yield ATTEMPTS, "unlimited" if settings.attempts == ANY_NUMBER else str(settings.attempts)
    for label, when in ((FEEDBACK, settings.show_feedback), (SOLUTIONS, settings.show_key)):
        if when in _SHOWN:
            yield label, _SHOWN[when]
