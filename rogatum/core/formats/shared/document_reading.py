"""From lines with roles to a bank: what all document formats share."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Sequence
from functools import cache

from rogatum.core.documents import Line, Said, assemble, entries_of, read_lines
from rogatum.core.finding import Finding
from rogatum.core.findings.keys import KEYS_BESIDE
from rogatum.core.formats.shared.base import BankBuilder, HabitView, ViewLine
from rogatum.core.items import Place
from rogatum.core.items.content import escape, rich
from rogatum.core.sources import KeyLine, ReadOptions


def fill(builder: BankBuilder, lines: list[Line], options: ReadOptions, resolve: Callable[[str], str | None] | None = None) -> None:
    """Puts the items of a document into a bank: places, passages, findings and claims, and the lines as they are shown."""
    # A picture is looked up when its item is made, and again when its line is shown; what is missing is told once.
    resolve = cache(resolve) if resolve else None
    said = Said(options.roles, options.numbering, options.lettering, options.aside)
    placed = read_lines([*lines, *_lines_beside(lines, options.key_lines)], said)
    builder.habits = [
        HabitView(habit.about, habit.found, habit.words, [list(other) for other in habit.others]) for habit in placed.habits
    ]
    at: tuple[str, str | None] = ("", None)

    def begin(where: str, item: str) -> None:
        nonlocal at
        at = (where, item)

    def content(markup: str) -> str:
        return builder.content(markup, at[0], at[1], resolve, dollars=True)

    result = assemble(placed.lines, lambda position: f"i{position + 1}", content, begin, options.key_habit, placed.numbered)
    bank = builder.bank
    bank.title = bank.title or result.title
    bank.stimuli += result.stimuli
    owners: dict[int, str] = {}
    renamed: dict[str, str] = {}
    for position, (item, draft) in enumerate(result.items):
        read_as = item.id
        item.id = builder.free_id(f"i{position + 1}", draft.where)
        renamed[read_as] = item.id
        builder.add(item, Place(where=draft.where, first=draft.first.number, last=draft.last.number), draft.path or None)
        owners.update(dict.fromkeys(range(draft.first.number, draft.last.number + 1), item.id))
    for finding in result.findings:
        finding.item = renamed.get(finding.item, finding.item) if finding.item else None
    bank.findings += [*result.findings, *_keys_beside(options.key_lines)]
    builder.account.claim(result.claimed)
    for line in result.unclaimed:
        builder.account.leave(line.where or f"line {line.number}", line.shown)
    builder.view = _view(result.lines, owners, lambda markup: rich(markup, resolve, dollars=True))


def _lines_beside(lines: list[Line], key_lines: Sequence[KeyLine]) -> list[Line]:
    """The keys that stand in a document of their own, as lines behind the last one."""
    last = lines[-1].number if lines else 0
    return [Line(last + n, key.text, where=f"{key.file}: line {key.number}", file=key.file) for n, key in enumerate(key_lines, 1)]


def _keys_beside(key_lines: Sequence[KeyLine]) -> list[Finding]:
    counts: Counter[str] = Counter()
    for key in key_lines:
        counts[key.file] += len(entries_of(key.text))
    return [KEYS_BESIDE.at(file, file=file, count=count) for file, count in counts.items()]


def _view(lines: list[Line], owners: dict[int, str], content: Callable[[str], str]) -> list[ViewLine]:
    """The lines as they are shown; choices side by side share a line."""
    shown: dict[int, ViewLine] = {}
    for line in lines:
        item = owners.get(line.number) if not line.blank and line.role not in ("outside", "aside", "heading") else None
        before = shown.get(line.number)
        text, page = line.shown, line.page(content)
        if before is not None and line.text in before.text:
            text, page = before.text, before.html
        elif before is not None:
            text = f"{before.text}   {line.text.strip()}"
            page = f"{before.html or escape(before.text)} {page or escape(line.text)}" if before.html or page else ""
        role = f"{line.role} ✓" if line.marked and line.role in ("choice", "truth") else line.role
        shown[line.number] = ViewLine(line.number, text, item, role, line.file, line.name, page)
    return list(shown.values())
