"""Sending a hand-off to a stand-in: a program of its own is given the file, and what it holds then is held against the forecast."""

from __future__ import annotations

import json
import resource
import subprocess
import sys
import tempfile
import threading
import time
from collections.abc import Iterator
from pathlib import Path
from typing import Any

from django.conf import settings

from rogatum.core.exporting import room_of
from rogatum.core.fidelity import Ledger, compare
from rogatum.core.fidelity.ledger import LedgerItem
from rogatum.core.formats import format_named
from rogatum.core.items import Bank
from rogatum.core.quizzes.worth import worth_on_items
from rogatum.core.receivers.sheet import Sheet, sheet_to_toml
from rogatum.core.sources.bounds import end_with_parent
from rogatum.web.courses import rules as courses
from rogatum.web.errors import NotPossible
from rogatum.web.files import HANDOFFS
from rogatum.web.handoffs.models import HandOff
from rogatum.web.handoffs.packing import files_of

# Of one sending: seconds by the clock, files, and what each program may take of memory.
SECONDS, MOST_FILES, MEMORY = 60, 12, 1536 * 1024 * 1024
_DIES_WITH_US = end_with_parent()
# However many send at once, one program works at a time.
_one_after_the_other = threading.Lock()
PROGRAM = {"course platform": "course-platform", "live quiz board": "live-board"}


def can_be_sent(handoff: HandOff) -> bool:
    """Whether there is a stand-in for its receiver: one that reads what was written."""
    sheet = handoff.sheet or {}
    return sheet.get("kind") in PROGRAM and format_named(handoff.format).read is not None


def send_to_stand_in(handoff: HandOff, user: Any) -> HandOff:
    """Gives the file to the stand-in of its receiver, and keeps what it holds then beside what was forecast."""
    courses.must_edit(user, handoff.course)
    if not can_be_sent(handoff):
        raise NotPossible("There is no stand-in for this receiver.", "Look at the file itself.", status=422)
    sheet = Sheet(**handoff.sheet)
    held = Bank()
    report: list[str] = []
    files = files_of(HANDOFFS.path(handoff.sha256).read_bytes())
    if len(files) > MOST_FILES:
        raise NotPossible(f"These are {len(files)} files.", f"Hand on at most {MOST_FILES} pools at once to send them.", status=422)
    deadline = time.monotonic() + SECONDS
    for name, data in files:
        with _one_after_the_other:
            answer = _answer(sheet, handoff.format, name, data, max(0.1, deadline - time.monotonic()))
        if "refused_file" in answer:
            raise NotPossible(answer["refused_file"], "Hand it on anew: the sheet says what is taken.")
        part = Bank.model_validate(answer["held"])
        held.items += part.items
        held.pools += part.pools
        held.stimuli += part.stimuli
        held.media += part.media
        held.quizzes += part.quizzes
        report += answer["report"]
    ledger = _compared(handoff, held)
    handoff.arrived = {"ledger": ledger.model_dump(), "report": report[:400], "otherwise": _otherwise(handoff, ledger)}
    handoff.save(update_fields=["arrived"])
    return handoff


def _confine() -> None:
    """What such a program may take; it ends when this process does."""
    if _DIES_WITH_US:
        _DIES_WITH_US()
    resource.setrlimit(resource.RLIMIT_AS, (MEMORY, MEMORY))
    resource.setrlimit(resource.RLIMIT_CPU, (SECONDS, SECONDS))


def _answer(sheet: Sheet, format_name: str, name: str, data: bytes, seconds: float) -> dict[str, Any]:
    Path(settings.SCRATCH).mkdir(parents=True, exist_ok=True, mode=0o700)
    with tempfile.TemporaryDirectory(dir=settings.SCRATCH) as folder:
        file, said = Path(folder) / "file", Path(folder) / "sheet.toml"
        file.write_bytes(data)
        said.write_text(sheet_to_toml(sheet), encoding="utf-8")
        command = [sys.executable, "-m", "rogatum.standins.program", PROGRAM[sheet.kind], str(file)]
        words = ["--format", format_name, "--sheet", str(said), "--name", name]
        try:
            done = subprocess.run(  # noqa: S603
                [*command, *words], capture_output=True, timeout=seconds, check=False, preexec_fn=_confine
            )
        except subprocess.TimeoutExpired:
            raise NotPossible("The stand-in does not answer.", "Try it again, or with fewer items.") from None
    try:
        answer: dict[str, Any] = json.loads(done.stdout)
    except json.JSONDecodeError:
        raise NotPossible("The stand-in broke off.", "Try it again; the file itself is as it was.") from None
    return answer


def _compared(handoff: HandOff, held: Bank) -> Ledger:
    """What was meant against what stands there; which item is which is known, since the file had their names."""
    meant = Bank.model_validate_json(HANDOFFS.path(handoff.meant).read_bytes())
    room = room_of(format_named(handoff.format), meant)
    partners = {entry["a"]: entry["b"] for entry in handoff.ledger["items"] if entry["a"] and entry["b"]}
    return compare(worth_on_items(meant) if room.points_on_items else meant, held, {}, room, partners=partners)


def _otherwise(handoff: HandOff, ledger: Ledger) -> list[dict[str, str]]:
    """Where what is found differs from what was forecast."""
    told = (handoff.forecast or {}).get("items", {})
    return [entry for found in ledger.items if found.a in told for entry in _differences(found, told[found.a])]


def _differences(found: LedgerItem, expected: Any) -> Iterator[dict[str, str]]:
    refused, gone = expected == "refused", not found.b
    if refused != gone:
        yield _differs(found.title, "type", "refused" if refused else "taken", "not there" if gone else "taken")
    elif not gone:
        for facet, verdict in found.facets.items():
            if expected.get(facet) != verdict:
                yield _differs(found.title, facet, expected.get(facet, ""), verdict)


def _differs(title: str, facet: str, forecast: str, became: str) -> dict[str, str]:
    return {"title": title, "facet": facet, "forecast": forecast, "became": became}
