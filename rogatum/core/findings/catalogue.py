"""The catalogue of findings by their codes, which are never renamed or reused."""

from __future__ import annotations

from rogatum.core.finding import NEED_LOOK, FindingKind, Level, Maker, Settling

CATALOGUE: dict[str, FindingKind] = {}


def finding_kind(
    code: str,
    level: Level,
    why: str,
    fix: str,
    repair: str | None = None,
    by: Maker = "reader",
    settled_by: Settling | None = None,
) -> FindingKind:
    """Registers a kind of finding; a code that is taken is a programming error."""
    if code in CATALOGUE:
        raise ValueError(f"The finding code {code} is taken.")
    CATALOGUE[code] = FindingKind(code, level, why, fix, repair, by, settled_by)
    return CATALOGUE[code]


def is_checked(code: str) -> bool:
    """Whether a finding of this code is made by a check, which finds it anew."""
    return code in CATALOGUE and CATALOGUE[code].checked


def needs_look(level: str) -> bool:
    """Whether a finding of this level is one to look at."""
    return level in NEED_LOOK
