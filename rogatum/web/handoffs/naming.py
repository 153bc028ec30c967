"""Names of what is handed on: they say course, what and for whom, so that a folder of downloads stays readable."""

from __future__ import annotations

import re

from rogatum.core.formats.shared.base import WriteOptions
from rogatum.web.courses.models import Course
from rogatum.web.handoffs.models import HandOff

_COPY_WORDS = {"student": "for students", "key list": "for students with keys"}
LONGEST = 150


def base_name(course: Course, title: str, receiver: str, section: str = "") -> str:
    """The name of a file for a receiver, without its suffix; signs that file systems do not take become hyphens."""
    said = f"{course.name} - {title}" if title != course.name else course.name
    whom = f" - for {receiver}" + (f", {section}" if section else "") if receiver else ""
    return re.sub(r"[^\w\-, ()]+", "-", said)[: LONGEST - len(whom)].strip(" -") + re.sub(r"[^\w\-, ()]+", "-", whom)


def made_as(handoff: HandOff) -> str:
    """For whom a document was written and in how many versions, where that is not the usual."""
    options = WriteOptions(**handoff.scope.get("options") or {})
    words = [_COPY_WORDS[options.copy]] if options.copy != "teacher" else []
    words += [f"{options.versions} versions"] if options.versions > 1 else []
    return ", ".join([*words, f"seed {options.seed}"] if drawn(handoff) else words)


def drawn(handoff: HandOff) -> bool:
    """Whether sets were drawn for its papers."""
    return any(note["code"] == "drawn" for quiz in handoff.ledger.get("quizzes", []) for note in quiz["notes"])


def file_name(handoff: HandOff) -> str:
    """What a download is called."""
    if handoff.sheet:
        return base_name(handoff.course, handoff.title, handoff.sheet["title"], handoff.section) + handoff.suffix
    base = re.sub(r"[^\w\-]+", "-", f"{handoff.course.name} {handoff.title}".strip()).strip("-")
    made = re.sub(r"[^\w]+", "-", made_as(handoff))
    return f"{base}-{handoff.format}{'-' + made if made else ''}{handoff.suffix}"
