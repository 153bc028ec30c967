"""Another item in the place of one: what is like it, best first, and the next one that a plan's row would give."""

from __future__ import annotations

from collections.abc import Collection, Mapping

from rogatum.core.quizzes.catalogue import Catalogue, Lot
from rogatum.core.quizzes.criteria import Draw
from rogatum.core.quizzes.draws import draw
from rogatum.core.quizzes.model import Part


def next_from(source: Draw, catalogue: Catalogue, taken: Collection[str], uses: Mapping[str, int], seed: str) -> str | None:
    """An item of what a part was picked from that is not taken: of those used least, the one that the seed decides."""
    never = set(taken)
    free = [key for lot in catalogue.drawn_from(source) for key in lot.ids if key not in never]
    least = min((uses.get(key, 0) for key in free), default=0)
    return next(iter(draw([key for key in free if uses.get(key, 0) == least], 1, seed)), None)


def like_ones(
    item: str, part: Part, catalogue: Catalogue, taken: Collection[str], uses: Mapping[str, int], most: int = 20
) -> list[str]:
    """Items that could stand for one, the most like first: those of its pool, or of what its part was picked from."""
    here, never = catalogue.by_id.get(item), {*taken, item}
    if here is None:
        return []
    source = part.picked_from or Draw(pool=list(here.path), pick=1)
    found = [(lot, key) for lot in catalogue.drawn_from(source) for key in lot.ids if key not in never]
    found.sort(key=lambda entry: (_unlike(here, entry[0]), uses.get(entry[1], 0), len(entry[1]), entry[1]))
    return [key for _, key in found[:most]]


def _unlike(one: Lot, other: Lot) -> tuple[bool, bool, bool, bool]:
    """In what two items differ, the weightiest first."""
    return (
        one.type != other.type,
        bool(one.outcomes) and not set(one.outcomes) & set(other.outcomes),
        one.difficulties != other.difficulties,
        one.points != other.points,
    )
