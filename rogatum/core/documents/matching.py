"""Numbers that share one list of letters: several drafts that are one matching item."""

from __future__ import annotations

from dataclasses import dataclass, field
from itertools import islice

from rogatum.core.documents import patterns as p
from rogatum.core.documents.drafts import Draft
from rogatum.core.documents.keys.entries import entries_of
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
        run = _run(drafts, position) or drafts[position : position + 1]
        found += _grouped(run)
        position += len(run)
    return found


def _run(drafts: list[Draft], start: int) -> list[Draft]:
    """Drafts of one section that have no choices, to the first one that has."""
    section = drafts[start].section
    run: list[Draft] = []
    for draft in islice(drafts, start, None):
        if draft.section is not section or draft.truths or "type" in draft.labels:
            break
        run.append(draft)
        if draft.choices:
            break
    return run


def _grouped(run: list[Draft]) -> list[Grouped]:
    """Those of a run that share a pool, from the first one from which on all do; each before it alone."""
    section = run[0].section
    pool = section.pool if section.pool and not run[-1].choices else run[-1].choices
    asked = section.type == "matching" or any(p.MATCH_CUE.search(line.text) for line in section.directions)
    sharing, keys = _shared_keys(run)
    start = _first_fitting(run, range(sharing), pool, asked)
    if start is None and keys:
        for draft, key in zip(run[sharing:], keys, strict=True):
            draft.keys = [key]
        start = _first_fitting(run, range(sharing, len(run)), pool, asked)
    alone = [Grouped([draft]) for draft in run[:start]]
    if start is None:
        return alone
    if pool is run[-1].choices:
        run[-1].choices = []
    said = [line for line in section.directions if p.MATCH_CUE.search(line.text)][-1:]
    return [*alone, Grouped(run[start:], pool, said or section.directions or section.heading)]


def _shared_keys(run: list[Draft]) -> tuple[int, list[str]]:
    """Where those begin of which one has the keys of all, to the end of a run, and these keys: “44-B, 45-A, 46-C”."""
    keyed = [position for position, draft in enumerate(run) if draft.keys]
    entries = dict(entries_of(run[keyed[-1]].keys[0])) if keyed and len(run[keyed[-1]].keys) == 1 else {}
    start = len(run) - len(entries)
    others = keyed[-2] if len(keyed) > 1 else -1
    if len(entries) < FEWEST or not others < start <= keyed[-1]:
        return len(run), []
    keys = [entries.get(draft.name, "") for draft in run[start:]]
    return (start, keys) if all(map(letters_of, keys)) else (len(run), [])


def _first_fitting(run: list[Draft], starts: range, pool: list[list[Line]], asked: bool) -> int | None:
    """The first of these drafts from which on all share a pool: their keys are letters of it.

    Where no keys are known, the section must say that it is a matching.
    """
    if len(pool) < FEWEST:
        return None
    labels, found = {lines[0].label for lines in pool}, None
    keyed, hits, truths, questions = 0, 0, True, False
    for start in range(len(run) - 1, -1, -1):
        draft, count = run[start], len(run) - start
        if draft.keys:
            letters = letters_of(draft.keys[0])
            keyed += 1
            hits += len(letters) == 1 and letters[0] in labels
            truths = truths and letters in (["t"], ["f"])
        questions = questions or draft.text.endswith(("?", "."))
        fits = hits >= keyed / 2 if asked else hits == count > FEWEST and not truths and not questions
        if fits and count >= FEWEST and start in starts:
            found = start
    return found
