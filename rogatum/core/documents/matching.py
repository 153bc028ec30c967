"""Numbers that share one list of letters: several drafts that are one matching item."""

from __future__ import annotations

from dataclasses import dataclass, field

from rogatum.core.documents import patterns as p
from rogatum.core.documents.drafts import Draft
from rogatum.core.documents.keys.lists import entries_of
from rogatum.core.documents.keys.values import letters_of
from rogatum.core.documents.lines import Line

FEWEST = 2


@dataclass
class Grouped:
    """Drafts that make one item; more than one make a matching with a shared pool of rights, and its own stem."""

    drafts: list[Draft]
    pool: list[list[Line]] = field(default_factory=list)
    stem: list[Line] = field(default_factory=list)


def group_matches(drafts: list[Draft]) -> list[Grouped]:
    """Each draft on its own, but for runs of drafts that share a pool."""
    found: list[Grouped] = []
    position = 0
    while position < len(drafts):
        run = _run(drafts, position)
        found.append(run)
        position += len(run.drafts)
    return found


def _run(drafts: list[Draft], start: int) -> Grouped:
    section = drafts[start].section
    run: list[Draft] = []
    for draft in drafts[start:]:
        if draft.section is not section or draft.truths or "type" in draft.labels:
            break
        run.append(draft)
        if draft.choices:
            break
    _share_keys(run)
    pool = section.pool if section.pool and not any(draft.choices for draft in run) else run[-1].choices if run else []
    asked = section.type == "matching" or any(p.MATCH_CUE.search(line.text) for line in section.directions)
    if len(run) < FEWEST or len(pool) < FEWEST or not _fits(run, pool, asked):
        return Grouped([drafts[start]])
    if pool is run[-1].choices:
        run[-1].choices = []
    said = [line for line in section.directions if p.MATCH_CUE.search(line.text)][-1:]
    return Grouped(run, pool, said or section.directions or section.heading)


def _share_keys(run: list[Draft]) -> None:
    """Gives each draft its own part of a key that stands at one of them: “44-B, 45-A, 46-C”."""
    for draft in run:
        entries = dict(entries_of(draft.keys[0])) if len(draft.keys) == 1 else {}
        if (
            any(other.keys for other in run if other is not draft)
            or len(entries) < FEWEST
            or len(entries) != len(run)
            or not all(letters_of(entries.get(other.name, "")) for other in run)
        ):
            continue
        for other in run:
            other.keys = [entries[other.name]]
        return


def _fits(run: list[Draft], pool: list[list[Line]], asked: bool) -> bool:
    """Whether keys are letters of the pool; where none are known, the section must say that it is a matching."""
    labels = {lines[0].label for lines in pool}
    keyed = [letters_of(draft.keys[0]) for draft in run if draft.keys]
    hits = sum(1 for letters in keyed if len(letters) == 1 and letters[0] in labels)
    if asked:
        return hits >= len(keyed) / 2
    truths = all(letters in (["t"], ["f"]) for letters in keyed)
    questions = any(draft.text.endswith(("?", ".")) for draft in run)
    return hits == len(run) > FEWEST and not truths and not questions
