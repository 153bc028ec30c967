"""A course's outcomes: a code and a text each, typed or pasted from a sheet."""

from __future__ import annotations

import re

from pydantic import BaseModel, Field

from rogatum.core.errors import NothingToMend

MOST = 1000
# A code, what parts it from its text, and the text: a tab or a bar, or a code with a digit in it and a space.
_PARTED = re.compile(r"(?P<code>[^\t|]{1,100}+)[\t|](?P<text>.{0,520})")
_CODED = re.compile(r"\s{0,20}(?P<code>[\w.()/-]{0,20}\d[\w.()/-]{0,20})(?:\s?[–—-]\s+|[:.)]?\s+)(?P<text>.{0,500})")
_ALONE = re.compile(r"\s{0,20}(?P<code>\S{1,60})\s{0,20}")


class Outcome(BaseModel):
    code: str = Field(min_length=1, max_length=300)
    text: str = Field(default="", max_length=1000)


def outcomes_in(text: str) -> list[Outcome]:
    """The outcomes of a list, one a line: “2.1  Name the separates of a soil”. Raises NothingToMend where a code stands twice."""
    found: dict[str, Outcome] = {}
    for line in (line.lstrip(" \t|") for line in text.splitlines()[: MOST + 1]):
        match = _PARTED.fullmatch(line) or _CODED.fullmatch(line) or _ALONE.fullmatch(line)
        if match is None:
            if line.strip():
                found[line.strip()[:300]] = Outcome(code=line.strip()[:300])
            continue
        code, said = match["code"].strip(), (match.groupdict().get("text") or "").strip()
        if code in found:
            raise NothingToMend(f"The outcome {code} stands twice.", "Leave one of them, or give one another code.")
        found[code] = Outcome(code=code, text=said)
    if len(found) > MOST:
        raise NothingToMend(f"These are more than {MOST} outcomes.", "Keep those of this course.")
    return list(found.values())
