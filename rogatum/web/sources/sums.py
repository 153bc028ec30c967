"""What readings add up to, for lists of sources."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable
from dataclasses import dataclass, field

from django.db.models import Count, Min

from rogatum.core.finding import NEED_LOOK
from rogatum.web.sources.models import ReadingItem


@dataclass
class Sums:
    """What the items of a reading add up to; `worst` counts those that wait by the worst that is said of them."""

    items: int = 0
    waiting: int = 0
    sound: int = 0
    types: dict[str, int] = field(default_factory=dict)
    worst: dict[str, int] = field(default_factory=dict)
    pools: list[list[str]] = field(default_factory=list)


def sums_of(readings: Iterable[int]) -> dict[int, Sums]:
    """The sums of readings by their numbers, in as many queries for many as for one."""
    rows = ReadingItem.objects.filter(reading__in=list(readings)).order_by()
    found: dict[int, Sums] = defaultdict(Sums)
    for reading, kind, count in rows.values_list("reading", "type").annotate(Count("id")):
        found[reading].types[kind] = count
        found[reading].items += count
    waiting = rows.filter(taken__isnull=True, dropped=False)
    for reading, worst, count in waiting.exclude(worst="").values_list("reading", "worst").annotate(Count("id")):
        found[reading].worst[worst] = count
    for reading, count in waiting.values_list("reading").annotate(Count("id")):
        found[reading].waiting = count
    for reading, count in waiting.exclude(worst__in=NEED_LOOK).values_list("reading").annotate(Count("id")):
        found[reading].sound = count
    for reading, path, _first in rows.values_list("reading", "path").annotate(first=Min("position")).order_by("first"):
        found[reading].pools.append(path)
    return found
