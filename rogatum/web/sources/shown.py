"""Findings as they are shown: with the ways to repair them."""

from __future__ import annotations

from typing import Any

from rogatum.core.checks import REPAIRS, ways_of
from rogatum.core.fidelity.marks import otherwise
from rogatum.core.items import Item as CoreItem
from rogatum.core.items import parts
from rogatum.web.sources.schemas import ReadFinding, WayOut


def _marks(name: str, item: CoreItem) -> str:
    repair = REPAIRS.get(name)
    return otherwise(item, repair.change(item)) if repair and repair.type and parts.has_key(item) else ""


def shown_finding(data: dict[str, Any], item: CoreItem | None = None) -> ReadFinding:
    """A finding as it is shown; with its item, the ways to repair it."""
    label = REPAIRS[data["repair"]].label if data.get("repair") in REPAIRS else None
    out = ReadFinding(**{k: v for k, v in data.items() if k != "item"}, repair_label=label)
    if item is not None:
        out.ways = [
            WayOut(name=way.name, label=way.label, for_all=way.for_all, marks=_marks(way.name, item))
            for way in ways_of(out.code, item)
        ]
    elif out.repair:
        out.ways = [WayOut(name=out.repair, label=label or "", for_all=True)]
    return out
