"""Draws: which items of a pool a student gets, reproducibly from a seed."""

from __future__ import annotations

import hashlib
from collections.abc import Sequence
from dataclasses import dataclass


def draw(candidates: Sequence[str], pick: int, seed: str) -> list[str]:
    """`pick` of the candidates, in random order.

    The same candidates and seed give the same draw on every machine and whatever the order of the candidates: each is
    ranked by the SHA-256 of seed and id. A pool that is too small gives all it has.
    """
    return sorted(set(candidates), key=lambda candidate: _rank(seed, candidate))[: max(0, pick)]


def _rank(seed: str, candidate: str) -> bytes:
    return hashlib.sha256(f"{seed}\x00{candidate}".encode()).digest()


def shuffled(values: Sequence[str], seed: str) -> list[str]:
    """All values in an order that the seed decides."""
    return draw(values, len(values), seed)


@dataclass(frozen=True)
class PartPlan:
    """A part of a quiz as ids: fixed items (`pick` is None) or a draw from candidates."""

    candidates: tuple[str, ...]
    pick: int | None = None


def assemble(parts: Sequence[PartPlan], seed: str) -> list[list[str]]:
    """The items of one attempt, part by part. No item comes twice: fixed ones first, then each draw without those before."""
    taken = {item for part in parts if part.pick is None for item in part.candidates}
    chosen: list[list[str]] = []
    for number, part in enumerate(parts):
        if part.pick is None:
            chosen.append(list(part.candidates))
            continue
        drawn = draw([c for c in part.candidates if c not in taken], part.pick, f"{seed}/{number}")
        taken.update(drawn)
        chosen.append(drawn)
    return chosen
