"""The sheets that ship: invented habits, each told as what it does."""

from __future__ import annotations

from functools import cache
from importlib.resources import files

from rogatum.core.errors import UnknownReceiver
from rogatum.core.receivers.sheet import Sheet, sheet_from_toml

# In the order in which they are shown: from the one that keeps most to the one that keeps least.
NAMES: tuple[str, ...] = (
    "whole-shelf",
    "plain-reader",
    "tag-library",
    "written-numbers",
    "first-shelf",
    "cartridge-hall",
    "small-hall",
    "text-room",
    "live-board",
    "paper",
)


@cache
def shipped_sheets() -> tuple[Sheet, ...]:
    return tuple(sheet_from_toml(_text(name), name) for name in NAMES)


def _text(name: str) -> str:
    return files(__package__).joinpath(f"{name}.toml").read_text(encoding="utf-8")


def shipped_sheet(name: str) -> Sheet:
    """The sheet of this name. Raises UnknownReceiver."""
    found = next((sheet for sheet in shipped_sheets() if sheet.name == name), None)
    if found is None:
        raise UnknownReceiver(name, list(NAMES))
    return found
