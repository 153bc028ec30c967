"""Several readings as one: ids stay unique, media are shared, pools with the same path become one."""

from __future__ import annotations

from dataclasses import replace

from rogatum.core.formats import Reading, format_named
from rogatum.core.formats.shared.base import BankBuilder
from rogatum.core.items import Item
from rogatum.core.items.changes import map_content
from rogatum.core.items.content import with_refs
from rogatum.core.quizzes.model import Quiz, renumbered
from rogatum.core.sources import shortest_name


def merged(name: str, readings: list[Reading]) -> Reading:
    """One reading of several, under a name of its own."""
    formats = dict.fromkeys(r.bank.source.format for r in readings if r.bank.source.format)
    builder = BankBuilder(name, next(iter(formats), ""))
    for reading in readings:
        _take_over(builder, reading)
    return builder.finish()


def _take_over(builder: BankBuilder, reading: Reading) -> None:
    bank, refs = reading.bank, builder.media.merge(reading.media)
    builder.columns += reading.columns
    prefix, offset = bank.source.name, len(builder.view)
    # The items of documents have no identifiers of their own.
    written = bool(bank.source.format) and format_named(bank.source.format).document
    renamed: dict[str, str] = {}
    stimuli = {s.id: f"s{len(builder.bank.stimuli) + n}" for n, s in enumerate(bank.stimuli, 1)}
    paths = bank.pool_paths()
    for stimulus in bank.stimuli:
        content = with_refs(stimulus.content, lambda ref: refs.get(ref, ref))
        builder.bank.stimuli.append(stimulus.model_copy(update={"id": stimuli[stimulus.id], "content": content}))
    for item in bank.items:
        place = bank.places[item.id]
        where = f"{prefix}/{place.where}" if not place.where.startswith(prefix) else place.where
        renamed[item.id] = builder.free_id(item.id, where, own=not written)
        moved = _moved(item, renamed[item.id], stimuli, refs)
        lines = {"first": place.first and place.first + offset, "last": place.last and place.last + offset}
        builder.add(
            moved,
            place.model_copy(update={"where": where, **lines}),
            list(paths.get(item.id, ())) or [shortest_name(prefix)],
        )
    for finding in bank.findings:
        where = finding.where if finding.where.startswith(prefix) else f"{prefix}/{finding.where}".rstrip("/")
        builder.note(finding.model_copy(update={"item": renamed.get(finding.item or "", finding.item), "where": where}))
    builder.bank.quizzes += [_moved_quiz(quiz, renamed, builder.bank.quizzes, prefix) for quiz in bank.quizzes]
    builder.account.claim(bank.accounting.claimed)
    for entry in bank.accounting.unclaimed:
        builder.account.leave(entry.where if entry.where.startswith(prefix) else f"{prefix}/{entry.where}", entry.text)
    for line in reading.view:
        item_id = renamed.get(line.item or "")
        # A line is known by its name within its own file alone.
        builder.view.append(replace(line, number=line.number + offset, item=item_id, file=line.file or prefix, name=""))


def _moved_quiz(quiz: Quiz, renamed: dict[str, str], others: list[Quiz], prefix: str) -> Quiz:
    """A quiz with its items under their new ids, and an id that no other quiz has."""
    taken = {other.id for other in others}
    return renumbered(quiz, renamed).model_copy(update={"id": quiz.id if quiz.id not in taken else f"{prefix}/{quiz.id}"})


def _moved(item: Item, item_id: str, stimuli: dict[str, str], refs: dict[str, str]) -> Item:
    update: dict[str, object] = {"id": item_id}
    if item.stimulus:
        update["stimulus"] = stimuli.get(item.stimulus, item.stimulus)
    moved = item.model_copy(update=update)
    if any(old != new for old, new in refs.items()):
        return map_content(moved, lambda content: with_refs(content, lambda ref: refs.get(ref, ref)))
    return moved
