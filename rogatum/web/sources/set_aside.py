"""What was done to items that read differently now: told with the item that each is now, as far as that can be told."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from django.db import transaction

from rogatum.core.fidelity.matching import match_items
from rogatum.core.finding import FindingKind
from rogatum.core.findings.sources import CHANGE_SET_ASIDE, LEFT_OUT_BEFORE, TAKEN_BEFORE
from rogatum.core.items import Bank, item_from
from rogatum.web.bulk import save_columns
from rogatum.web.courses.history import in_parts
from rogatum.web.database.steps import in_steps
from rogatum.web.sources.models import Reading, ReadingItem
from rogatum.web.sources.storing import STEP, set_findings

KINDS = (CHANGE_SET_ASIDE, LEFT_OUT_BEFORE, TAKEN_BEFORE)
Finding = dict[str, Any]


class SetAside:
    """Items of the reading before that none of a new one reads like: `homeless`, by number. `fresh` are those like none before."""

    def __init__(self, reading: Reading, homeless: Sequence[int], fresh: Sequence[ReadingItem]) -> None:
        self.reading, self.homeless, self.fresh = reading, homeless, fresh
        self._of_all = reading.findings
        self._done: dict[int, ReadingItem] = {}
        # Where it was told, with the findings there before that; and what each item is now.
        self._told: dict[int, tuple[ReadingItem, list[Finding]]] = {}
        self._now: dict[int, ReadingItem] | None = None

    def tell(self, items: Sequence[ReadingItem]) -> None:
        """Says what was done to these as they are by now, and to those before: with an item, else of a change with the whole."""
        for old in items:
            self._done.pop(old.pk, None)
            if _kind(old):
                self._done[old.pk] = old
        changed = {row.pk: row for row, _ in self._told.values()}
        for row, findings in self._told.values():
            set_findings(row, findings)
        self._told, gone = {}, []
        for old in self._done.values():
            row, kind = self._as_it_is_now(old), _kind(old)
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

    def _as_it_is_now(self, old: ReadingItem) -> ReadingItem | None:
        """Found for all of them when it is first asked."""
        if self._now is None:
            # Each by its number: what a person added may have the identifier of another.
            rows = (ReadingItem.objects.filter(pk__in=part).values_list("pk", "body") for part in in_parts(self.homeless, STEP))
            before = Bank(items=[item_from(body | {"id": str(key)}) for part in rows for key, body in part])
            fresh = {row.body["id"]: row for row in self.fresh}
            matched = match_items(before, Bank(items=[item_from(row.body) for row in self.fresh]))
            self._now = {int(one.id): fresh[other.id] for one, other in matched.pairs}
        return self._now.get(old.pk)


def _kind(old: ReadingItem) -> FindingKind | None:
    """What is to be said of an item; nothing where nothing was done to it."""
    if old.taken_id is not None:
        return TAKEN_BEFORE
    return CHANGE_SET_ASIDE if old.edited else LEFT_OUT_BEFORE if old.dropped else None
