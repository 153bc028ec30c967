"""Proof by sample: drawn when nothing flagged is left, looked at one by one, kept with the reading."""

from __future__ import annotations

import secrets
from collections.abc import Callable
from typing import Any

from django.db.models import QuerySet

from rogatum.core.checks.sampling import Sample, draw_sample, size_for
from rogatum.core.finding import NEED_LOOK
from rogatum.core.findings.items import SAMPLE_WRONG
from rogatum.web.courses.history import Recorder, fields_of
from rogatum.web.courses.rules import must
from rogatum.web.errors import NotPossible
from rogatum.web.sources.models import Reading, ReadingItem
from rogatum.web.sources.rules import can_see, must_edit
from rogatum.web.sources.storing import set_findings
from rogatum.web.sources.taking import waiting

USUAL = 20


def start_sample(reading: Reading, user: Any, count: int | None, bound: int | None, seed: int | None) -> Reading:
    """Draws a sample of the unflagged items: `count` of them, or as many as prove that at most `bound` are wrong.

    Raises NotPossible while something flagged is left: a sample says nothing of that.
    """
    must_edit(user, reading)

    def drawn(_now: Sample | None) -> Sample:
        flagged = waiting(reading, "all", []).filter(worst__in=NEED_LOOK).count()
        if flagged:
            raise NotPossible(f"{flagged} items still need a look.", "Look at them first: a sample proves the rest.")
        positions = list(unflagged(reading, user).values_list("position", flat=True))
        if not positions:
            raise NotPossible("There is nothing left to prove.", "All items were taken or left out.")
        size = size_for(bound, len(positions)) if bound is not None else count or USUAL
        return draw_sample(positions, size, secrets.randbelow(1_000_000) if seed is None else seed)

    return _changed(reading, user, drawn, f"Drew a sample of {reading.source.name}")


def unflagged(reading: Reading, user: Any) -> QuerySet[ReadingItem]:
    """The questions that wait and need no look: what a sample is drawn from."""
    must(can_see(user, reading))
    return waiting(reading, "sound", []).exclude(type="information")


def judge_sample(reading: Reading, user: Any, position: int, right: bool) -> Reading:
    """Says of an item of the sample that it is right, or wrong. Raises NotPossible for one that was not drawn."""
    must_edit(user, reading)

    def judged(now: Sample | None) -> Sample:
        if now is None or position not in now.drawn:
            raise NotPossible("This item is not in the sample.", "Go on with the next one of it.")
        now.verdicts[position] = right
        return now

    label = f"Looked at item {position} of the sample of {reading.source.name}"
    return _changed(reading, user, judged, label, {position: right})


def drop_sample(reading: Reading, user: Any) -> Reading:
    must_edit(user, reading)
    return _changed(reading, user, lambda _now: None, f"Dropped the sample of {reading.source.name}")


def sample_of(reading: Reading) -> Sample | None:
    return Sample(**reading.sample) if reading.sample else None


Change = Callable[[Sample | None], Sample | None]


def _changed(reading: Reading, user: Any, change: Change, label: str, judged: dict[int, bool] | None = None) -> Reading:
    """Keeps the sample as `change` makes it of the one that is there: two who judge at once both count."""
    with Recorder(reading.source.course, user, label) as record:
        reading = record.current(reading)
        before = fields_of(reading)
        made = change(sample_of(reading))
        reading.sample = made.model_dump(mode="json") if made else None
        reading.save(update_fields=["sample"])
        record.changed("reading", reading, before)
        for position, right in (judged or {}).items():
            _tell(reading, position, right, record)
    return reading


def _tell(reading: Reading, position: int, right: bool, record: Recorder) -> None:
    """An item that was found wrong needs a look, until it is corrected or found right."""
    row = reading.items.filter(position=position).first()
    if row is None:
        return
    before = fields_of(row)
    others = [finding for finding in row.findings if finding["code"] != SAMPLE_WRONG.code]
    told = [] if right else [SAMPLE_WRONG.at(row.place.get("where", ""), row.body["id"]).model_dump()]
    set_findings(row, others + told)
    row.save(update_fields=["findings", "worst"])
    record.changed("readingitem", row, before)
