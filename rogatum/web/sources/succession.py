"""A reading that takes the place of the one before it: what a person did there stays so, where the item reads as before.

It is found out and written before the lock; what is done meanwhile is caught up with under it.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable, Iterator, Sequence
from functools import reduce
from operator import or_
from typing import Any

from django.db import transaction
from django.db.models import Q, QuerySet, TextField
from django.db.models.functions import Cast

from rogatum.apart import NoLongerWanted
from rogatum.core.findings.items import SAMPLE_WRONG
from rogatum.web.bulk import one_state, save_columns
from rogatum.web.database.steps import in_steps
from rogatum.web.sources import set_aside
from rogatum.web.sources.models import Reading, ReadingItem, Source
from rogatum.web.sources.set_aside import Finding, SetAside
from rogatum.web.sources.storing import STEP, Written, worst_of

# What an item that reads as before keeps: always, where something was said of it, and where it was edited.
ALWAYS, SAID = ("taken_id", "dropped"), ("findings", "worst", "advice", "put_into", "path")
EDITED = ("body", "type", "text", "points", "edited", "traits", "findings", "worst", "advice")
KEPT = tuple(dict.fromkeys((*ALWAYS, *SAID, *EDITED)))
# Rounds before the lock, until no more than so many items are left to catch up with.
ROUNDS, FEW = 5, 10

# Findings that no reader makes: they stay with an item that reads as before until they are settled.
TOLD_BY_US = tuple(kind.code for kind in (SAMPLE_WRONG, *set_aside.KINDS))

_DISMISSED = '"dismissed": true'
_TEXTS = {f"{name}_text": Cast(name, TextField()) for name in ("body", "findings", "advice", "put_into")}
_SAID = (
    Q(edited=True)
    | Q(findings_text__contains=_DISMISSED)
    | Q(advice_text__contains=_DISMISSED)
    | ~Q(put_into_text="[]")
    | reduce(or_, (Q(findings_text__contains=f'"{code}"') for code in TOLD_BY_US))
)
_MARKED = Q(taken__isnull=False) | Q(dropped=True)
# What tells one state of an item from another: its marks, and what stands for all that was said of it.
State = tuple[Any, ...]


class Succession:
    """From the reading that a source has to the one that was written beside it.

    Call `prepare` before the lock, and `succeed` within the transaction that is to make it the source's reading.
    """

    def __init__(self, source: Source, written: Written) -> None:
        self.source, self.reading = source, written.reading
        self.before = source.readings.filter(current=True).values_list("pk", flat=True).first()
        there = list(self._there().order_by("position").values_list("pk", "read_digest"))
        digests, known = [row.read_digest for row in written.rows], [digest for _, digest in there]
        places = dict(zip(_numbered(known), (pk for pk, _ in there), strict=True))
        # The new row of each one before.
        self._rows: dict[int, ReadingItem] = {}
        fresh: list[ReadingItem] = []
        for row, key in zip(written.rows, _numbered(digests), strict=True):
            if key in places:
                self._rows[places[key]] = row
            else:
                fresh.append(row)
        self._aside = SetAside(self.reading, [pk for pk, _ in there if pk not in self._rows], fresh)
        self._same = bool(there) and digests == known
        # What was taken over, and rows as they were read.
        self._known: dict[int, State] = {}
        self._own: dict[int, dict[str, Any]] = {}

    def prepare(self) -> None:
        """Takes over what was done, in short transactions, until there is little left to."""
        for _ in range(ROUNDS):
            if self._catch_up() <= FEW:
                return

    @transaction.atomic
    def succeed(self) -> Reading:
        """Puts the reading in its place. Raises NoLongerWanted where another is there by now."""
        now = self.source.readings.filter(current=True).first()
        if (now and now.pk) != self.before:
            raise NoLongerWanted
        self._catch_up()
        reading = self.reading
        if now is not None:
            # The same items in the same order: what was proved of them holds.
            reading.sample = now.sample if self._same else None
            told = [finding for finding in now.findings if finding["code"] in TOLD_BY_US]
            reading.findings = _looked_at([*reading.findings, *told], now.findings)
            _keep_passages(reading, now)
            Reading.objects.filter(pk=now.pk).update(current=False)
        reading.current = True
        reading.save(update_fields=["current", "sample", "findings", "stimuli", "passages_read"])
        Source.objects.filter(pk=self.source.pk).update(problem=None)
        return reading

    def _there(self) -> QuerySet[ReadingItem]:
        return ReadingItem.objects.filter(reading=self.before).order_by()

    def _states(self, rows: QuerySet[ReadingItem]) -> dict[int, State]:
        """What was done to items, as far as anything was; each is told by its numbers alone, where nothing was said of it."""
        rows = rows.annotate(**_TEXTS)
        marked = rows.filter(_MARKED).exclude(_SAID).values_list("pk", *ALWAYS)
        said = rows.filter(_SAID).values_list("pk", *ALWAYS, "edited", *_TEXTS)
        states: dict[int, State] = {key: (taken, dropped) for key, taken, dropped in marked}
        for key, taken, dropped, *of_it in said.iterator():
            states[key] = (taken, dropped, hash(tuple(of_it)))
        return states

    def _catch_up(self) -> int:
        """Takes over what was done since; returns of how many items."""
        states = self._states(self._there())
        behind = [key for key in states.keys() | self._known.keys() if states.get(key) != self._known.get(key)]
        aside = [old for part in in_steps(behind, STEP) for old in self._take_over(part)]
        if aside:
            self._aside.tell(aside)
        return len(behind)

    def _take_over(self, keys: list[int]) -> list[ReadingItem]:
        """Takes over what was done to these; returns those that have no place any more."""
        with one_state():
            states = self._states(self._there().filter(pk__in=keys))
            before = list(ReadingItem.objects.filter(pk__in=keys))
        for key in keys:
            self._known.pop(key, None)
        self._known |= states
        kept = [(self._rows[old.pk], old) for old in before if old.pk in self._rows]
        for row, old in kept:
            self._keep(row, old)
        with transaction.atomic():
            save_columns([row for row, _ in kept], KEPT)
        return [old for old in before if old.pk not in self._rows]

    def _keep(self, row: ReadingItem, old: ReadingItem) -> None:
        """An item that reads as before keeps what a person did with it."""
        own = self._own.setdefault(row.pk, {name: getattr(row, name) for name in KEPT})
        kept = own | {name: getattr(old, name) for name in (*ALWAYS, "put_into")}
        if old.edited:
            kept |= {name: getattr(old, name) for name in EDITED}
        else:
            told = [finding | {"item": row.body["id"]} for finding in old.findings if finding["code"] in TOLD_BY_US]
            kept["findings"] = _looked_at([*own["findings"], *told], old.findings)
            kept["worst"] = worst_of(kept["findings"])
            kept["advice"] = _looked_at(own["advice"], old.advice)
        if old.put_into:
            kept["path"] = [*(own["path"] or [self.reading.title]), *old.put_into]
        for name, value in kept.items():
            setattr(row, name, value)


def _numbered(digests: Iterable[str]) -> Iterator[tuple[str, int]]:
    """What tells each item from all others: several may read the same, and are numbered then."""
    seen: Counter[str] = Counter()
    for digest in digests:
        seen[digest] += 1
        yield digest, seen[digest]


def _looked_at(findings: Sequence[Finding], before: Sequence[Finding]) -> list[Finding]:
    """Findings, of which those stay marked as looked at that were so before."""
    seen = {(finding["code"], finding["message"]) for finding in before if finding.get("dismissed")}
    return [f | {"dismissed": True} if (f["code"], f["message"]) in seen else f for f in findings]


def _keep_passages(reading: Reading, before: Reading) -> None:
    """A passage that was changed by hand stays so where it reads as before, and one that was added stays where it has a place."""
    for key, read in before.passages_read.items():
        alike = [of for of, passage in reading.stimuli.items() if passage["content"] == read]
        at = key if key in alike else next(iter(alike), None)
        if read is None and key not in reading.stimuli:
            at = key
        if at is not None:
            reading.stimuli |= {at: {"id": at, "content": before.stimuli[key]["content"]}}
            reading.passages_read |= {at: read}
