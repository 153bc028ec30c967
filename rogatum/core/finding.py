"""What a finding is: one thing that a reader or a check noticed, and the kinds of them, which the catalogue lists."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from pydantic import BaseModel

# Advice is about the writing of an item, and apart from what is said of its reading.
Level = Literal["error", "warning", "note", "advice"]
LEVELS: tuple[Level, ...] = ("error", "warning", "note", "advice")
# Who makes a finding: a reader, or a check, which can be asked again, of an item on its own or of a bank as a whole.
Maker = Literal["reader", "item check", "bank check", "advice"]
# What a person does that settles what was said: sets the key, or the points, or adds what is missing.
Settling = Literal["key", "points", "media"]
# The levels of what a person is to look at before an item is sound; the worst first.
NEED_LOOK: tuple[Level, ...] = ("error", "warning")


class OtherReading(BaseModel):
    """Another way to read an item that is nearly as likely: what is there now, what would be, and the lines' roles that make it so.

    `kind` is the same for all items that differ in the same way; `roles` are by the names of lines (see `ViewLine.name`).
    """

    kind: str
    now: str
    then: str
    roles: dict[str, str]


class Finding(BaseModel):
    """One finding, with its place (`where`), what is the matter (`message`) and the way out (`fix`).

    `repair` names a repair of `checks.repairs` that can be applied to this item, where there is one; `other` is the other
    reading that a doubt is about.
    """

    level: Level
    code: str
    item: str | None = None
    where: str = ""
    message: str
    fix: str = ""
    repair: str | None = None
    other: OtherReading | None = None


@dataclass(frozen=True)
class FindingKind:
    code: str
    level: Level
    why: str
    fix: str
    repair: str | None = None
    by: Maker = "reader"
    settled_by: Settling | None = None

    @property
    def checked(self) -> bool:
        """Whether a check finds it anew, whatever was found before."""
        return self.by != "reader"

    def at(self, where: str = "", item: str | None = None, **values: object) -> Finding:
        """A finding of this kind at a place; `values` fill the braces of the catalogue's text."""
        text = self.why.format(**values)
        return Finding(level=self.level, code=self.code, item=item, where=where, message=text, fix=self.fix, repair=self.repair)
