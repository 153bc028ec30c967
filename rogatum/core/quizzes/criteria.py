"""Which items are meant: conditions on what counts of an item before anybody answers it, and draws from what meets them."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field

Facet = Literal["type", "outcome", "difficulty"]
Facets = Mapping[Facet, Sequence[str]]
Said = Annotated[str, Field(min_length=1, max_length=300)]


class Condition(BaseModel):
    """An item's facet is one of `values`; with `but`, it is none of them."""

    model_config = ConfigDict(frozen=True)

    facet: Facet
    values: tuple[Said, ...] = Field(min_length=1, max_length=50)
    but: bool = False

    def meets(self, facets: Facets) -> bool:
        said = {value.casefold() for value in self.values}
        return any(value.casefold() in said for value in facets[self.facet]) is not self.but


def meets(where: Iterable[Condition], facets: Facets) -> bool:
    return all(condition.meets(facets) for condition in where)


class Draw(BaseModel):
    """`pick` of the items of a pool, with those below it unless it is taken `alone`, that meet all conditions.

    Without a path it is from the whole course. Items of `without` are never drawn.
    """

    pool: list[str] = Field(default_factory=list)
    pick: int = Field(ge=1)
    alone: bool = False
    where: list[Condition] = Field(default_factory=list, max_length=20)
    without: list[str] = Field(default_factory=list)

    def holds(self, path: Sequence[str]) -> bool:
        """Whether what lies in a pool is among what is drawn from."""
        here = tuple(self.pool)
        return tuple(path) == here if self.alone and here else tuple(path[: len(here)]) == here
