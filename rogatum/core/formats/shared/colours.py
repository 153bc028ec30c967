"""Colours that tell a text from others, and those that are only ink and paper."""

from __future__ import annotations

import re

_INK = re.compile(r"^(?:auto|0{6}|[0-3][0-9A-F][0-3][0-9A-F][0-3][0-9A-F])$", re.I)
_PAPER = re.compile(r"^(?:auto|clear|nil|transparent|f{6})$", re.I)


def is_coloured(colour: str) -> bool:
    """Whether the colour of a text, as RRGGBB or by name, stands out from ink; none at all does not."""
    return bool(colour) and not _INK.match(colour.lstrip("#"))


def is_tinted(ground: str) -> bool:
    """Whether the colour of a ground, as RRGGBB or by name, stands out from paper; none at all does not."""
    return bool(ground) and not _PAPER.match(ground.lstrip("#"))
