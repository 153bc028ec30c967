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
from rogatum.core.fidelity.matching import match_items
from rogatum.core.finding import FindingKind
from rogatum.core.findings.items import SAMPLE_WRONG
from rogatum.core.findings.sources import CHANGE_SET_ASIDE, LEFT_OUT_BEFORE, TAKEN_BEFORE
from rogatum.core.items import Bank, item_from
from rogatum.web.bulk import one_state, save_columns
from rogatum.web.courses.history import in_parts
from rogatum.web.database.steps import in_steps
from rogatum.web.sources.models import Reading, ReadingItem, Source
from rogatum.web.sources.storing import STEP, Written, set_findings, worst_of

# What an item that reads as before keeps: always, where something was said of it, and where it was edited.
ALWAYS, SAID = ("taken_id", "dropped"), ("findings", "worst", "advice", "put_into", "path")
EDITED = ("body", "type", "text", "points", "edited", "traits", "findings", "worst", "advice")
KEPT = tuple(dict.fromkeys((*ALWAYS, *SAID, *EDITED)))
# Rounds before the lock, until no more than so many items are left to catch up with.
ROUNDS, FEW = 5, 10

# Findings that no reader makes: they stay with an item that reads as before until they are settled.
TOLD_BY_US = (SAMPLE_WRONG.code, CHANGE_SET_ASIDE.code, LEFT_OUT_BEFORE.code, TAKEN_BEFORE.code)

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
Finding = dict[str, Any]
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
        # The new row of each one before, and those that nothing before reads like.
        self._rows: dict[int, ReadingItem] = {}
        self._fresh: list[ReadingItem] = []
        for row, key in zip(written.rows, _numbered(digests), strict=True):
            if key in places:
                self._rows[places[key]] = row
            else:
                self._fresh.append(row)
        self._homeless = [pk for pk, _ in there if pk not in self._rows]
        self._same = bool(there) and digests == known
        # What was taken over, of which rows, and rows and findings as they were read.
        self._known: dict[int, State] = {}
        self._own: dict[int, dict[str, Any]] = {}
        self._of_all = self.reading.findings
        # Those with no place any more of which that is to be told, where it was told, and what each of them is now.
        self._aside: dict[int, ReadingItem] = {}
        self._like: dict[int, ReadingItem] | None = None
        self._told: dict[int, tuple[ReadingItem, list[Finding]]] = {}

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
        aside = False
        for part in in_steps(behind, STEP):
            aside |= self._take_over(part)
        if aside:
            self._tell_set_aside()
        return len(behind)

    def _take_over(self, keys: list[int]) -> bool:
        """Takes over what was done to these; returns whether one of them has no place any more."""
        with one_state():
            states = self._states(self._there().filter(pk__in=keys))
            before = list(ReadingItem.objects.filter(pk__in=keys))
        for key in keys:
            self._known.pop(key, None)
        self._known |= states
        kept = [(self._rows[old.pk], old) for old in before if old.pk in self._rows]
        for row, old in kept:
            self._keep(row, old)
        aside = [old for old in before if old.pk not in self._rows]
        for old in aside:
            self._aside.pop(old.pk, None)
            if _set_aside(old):
                self._aside[old.pk] = old
        with transaction.atomic():
            save_columns([row for row, _ in kept], KEPT)
        return bool(aside)

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

    def _tell_set_aside(self) -> None:
        """Says of what was done that it has no place any more: with the item that it is now, else of a change with the whole."""
        changed = {row.pk: row for row, _ in self._told.values()}
        for row, findings in self._told.values():
            set_findings(row, findings)
        self._told, gone = {}, []
        for old in self._aside.values():
            row, kind = self._now(old), _set_aside(old)
            if kind and row:
                changed[row.pk] = row
                self._told.setdefault(row.pk, (row, row.findings))
                told = kind.at(row.place.get("where", ""), row.body["id"], stem=old.text[:80])
                set_findings(row, [*row.findings, told.model_dump()])
            elif kind is CHANGE_SET_ASIDE:
                gone.append(kind.at("", stem=old.text[:80]).model_dump())
        self.reading.findings = [*self._of_all, *gone]
        for part in in_steps(changed.values(), STEP):
            with transaction.atomic():
                save_columns(part, ["findings", "worst"])

    def _now(self, old: ReadingItem) -> ReadingItem | None:
        """What an item that nothing reads like is now, as far as it can be told; found for all of them when it is first asked."""
        if self._like is None:
            # Each by its number: what a person added may have the identifier of another.
            bodies = (self._there().filter(pk__in=part).values_list("pk", "body") for part in in_parts(self._homeless, STEP))
            before = Bank(items=[item_from(body | {"id": str(key)}) for part in bodies for key, body in part])
            rows = {row.body["id"]: row for row in self._fresh}
            matched = match_items(before, Bank(items=[item_from(row.body) for row in self._fresh]))
            self._like = {int(one.id): rows[other.id] for one, other in matched.pairs}
        return self._like.get(old.pk)


def _set_aside(old: ReadingItem) -> FindingKind | None:
    """What is to be said of an item that reads differently now; nothing where nothing was done to it."""
    if old.taken_id is not None:
        return TAKEN_BEFORE
    return CHANGE_SET_ASIDE if old.edited else LEFT_OUT_BEFORE if old.dropped else None


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
