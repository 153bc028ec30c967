"""Verdicts, and the usual comparison: equal, gone, new, or different."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import dataclass
from typing import Literal

from pydantic import BaseModel

Verdict = Literal["same", "recast", "changed", "lost", "added"]
# The worst verdict of an item or a quiz decides which total it counts in.
SEVERITY: tuple[Verdict, ...] = ("same", "added", "recast", "changed", "lost")


@dataclass(frozen=True)
class Judgement:
    verdict: Verdict
    code: str = ""
    message: str = ""
    a: str = ""
    b: str = ""


SAME = Judgement("same")


class Note(BaseModel):
    """Why a facet is not `same`; `a` and `b` are what differs, as short texts."""

    facet: str
    code: str
    message: str
    a: str = ""
    b: str = ""


def worst_of(verdicts: Iterable[Verdict]) -> Verdict:
    return max(verdicts, key=SEVERITY.index)


def compared(a: object, b: object, what: str, code: str, shown: Callable[[object], str] = str) -> Judgement:
    """Equal, gone, new, or different."""
    if a == b:
        return SAME
    if a and not b:
        return Judgement("lost", f"{code}-lost", f"{what} did not come over.", shown(a), "")
    if b and not a:
        return Judgement("added", f"{code}-added", f"{what} was added.", "", shown(b))
    return Judgement("changed", f"{code}-changed", f"{what} differs.", shown(a), shown(b))
