"""The path of a pool as the title of its assessment: a cartridge has no place for pools within pools."""

from __future__ import annotations

import re
from collections.abc import Iterable

_BETWEEN = " / "
_PARTED = re.compile(r"(?<=\S) / (?=\S)")


def title_of_path(path: Iterable[str]) -> str:
    """The names of a path as one title; what parts them has a second stroke where it stands in a name."""
    return _BETWEEN.join(name.replace(_BETWEEN, " // ") for name in path)


def path_of_title(title: str) -> list[str]:
    return [name.replace(" // ", _BETWEEN) for name in _PARTED.split(title)]
