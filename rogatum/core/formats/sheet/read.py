"""Reads sheets: several tables in a sheet, several sheets, headings anywhere; what no column was taken for is listed."""

from __future__ import annotations

import re
from collections.abc import Mapping

from rogatum.core.errors import UnreadableSource
from rogatum.core.finding import FindingKind
from rogatum.core.findings.keys import KEY_HABIT
from rogatum.core.findings.numbering import COLUMNS_GUESSED, COLUMNS_TAKEN
from rogatum.core.formats.shared.base import BankBuilder, ColumnView, Reading, ViewLine
from rogatum.core.formats.shared.media_finder import MediaFinder
from rogatum.core.formats.sheet.columns import Columns, by_content, by_headings, folded, is_heading
from rogatum.core.formats.sheet.rows import RowReader, habit_of
from rogatum.core.formats.sheet.sniff import kind_of
from rogatum.core.formats.sheet.tables import Table, ods_tables, text_tables, xlsx_tables
from rogatum.core.items import Place
from rogatum.core.sources import SourceTree

# The share of rows in which a choice must stand out for that to be the key.
SHARE = 0.5


def read_sheet(tree: SourceTree) -> Reading:
    """Reads one xlsx, ods, csv or tsv file. Raises UnreadableSource."""
    file, builder = tree.only(), BankBuilder(tree.name, "sheet")
    kind = kind_of(tree)
    if kind == "text":
        tables, findings = text_tables(file.read(), file.name)
        builder.bank.findings += findings
    elif kind == "xlsx":
        tables, left = xlsx_tables(file.read(), file.name)
        for text in left:
            builder.account.leave(file.name, text)
    else:
        tables = ods_tables(file.read(), file.name)
    several = sum(bool(any(map(any, t.rows))) for t in tables) > 1
    reader = _SheetReader(builder, MediaFinder(tree, builder), tree.options.columns, several)
    for table in tables:
        reader.read(table)
    return builder.finish()


MOST_COLUMNS = 500


class _SheetReader:
    def __init__(self, builder: BankBuilder, finder: MediaFinder, said: Mapping[str, str], several: bool) -> None:
        self.builder, self.finder, self.said, self.several = builder, finder, said, several

    def read(self, table: Table) -> None:
        self.table = table
        widest = max(map(len, table.rows), default=0)
        if widest > MOST_COLUMNS:
            raise UnreadableSource(
                f"{table.name} is a sheet with {widest:,} columns",
                f"A sheet may have {MOST_COLUMNS:,} columns.",
                "Delete the columns that hold no questions.",
            )
        starts = [r for r, row in enumerate(table.rows) if len(row) > 1 and by_headings(row, self.said, table.rows[r + 1 :]).usable]
        starts = self._without_data(starts)
        # Two rows of headings are one heading.
        filled = [sum(map(bool, row)) for row in table.rows]
        starts = [r for r in starts if r - 1 not in starts or filled[r - 1] >= filled[r]]
        if not starts:
            self._without_headings()
            return
        for row in table.rows[: starts[0]]:
            self._leave(row, table.rows.index(row))
        for start, after in zip(starts, [*starts[1:], len(table.rows)], strict=True):
            self._table(start, after, self._columns(start, after))

    def _without_data(self, starts: list[int]) -> list[int]:
        """The rows of headings but those whose cell below the heading of the stems is no heading: its choices are called as one."""
        rows, kept = self.table.rows, starts[:1]
        for row in starts[1:]:
            stem = by_headings(rows[kept[-1]], self.said, rows[kept[-1] + 1 :]).by_meaning["stem"]
            cell = rows[row][stem] if stem < len(rows[row]) else ""
            if not cell or is_heading(cell):
                kept.append(row)
        return kept

    def _columns(self, start: int, after: int) -> Columns:
        """The columns by their headings; a second row of headings below merged ones may say more."""
        rows = self.table.rows
        columns = by_headings(rows[start], self.said, rows[start + 1 : after])
        if start + 1 < after:
            below = by_headings(rows[start + 1], self.said, rows[start + 2 : after])
            filled = sum(map(bool, rows[start + 1]))
            if (
                len(below.choices) >= 2
                and _in_turn(below.choice_names)
                and below.known >= filled - 1
                and len(columns.choices) < len(below.choices)
            ):
                columns.by_meaning = {"stem": columns.by_meaning["stem"], **columns.by_meaning, **below.by_meaning}
                columns.by_meaning.pop("choices", None)
                columns.choices, columns.choice_names, columns.wrong = below.choices, below.choice_names, below.wrong
                columns.marks = below.marks
                self.second_heading = start + 1
                return columns
        self.second_heading = -1
        return columns

    def _where(self, row: int) -> str:
        return f"{self.table.name}, row {row + 1}" if self.table.name else f"line {row + 1}"

    def _leave(self, row: list[str], index: int) -> None:
        text = " ".join(cell for cell in row if cell)
        if text:
            self.builder.account.leave(self._where(index), text)
            self._show(row, "outside")

    def _show(self, row: list[str], role: str, item: str | None = None) -> int:
        """Adds a row to what is shown of the source; returns its number there."""
        number = len(self.builder.view) + 1
        self.builder.view.append(ViewLine(number, " | ".join(row), item, role, self.table.name))
        return number

    def _without_headings(self) -> None:
        rows = [row for row in self.table.rows if any(row)]
        columns = by_content(rows, self.said)
        if not columns.usable or len(rows) < 1:
            for index, row in enumerate(self.table.rows):
                self._leave(row, index)
            return
        self.second_heading = -1
        self.builder.note(COLUMNS_GUESSED.at(self._where(0), taken=_said(columns, [])))
        self._table(-1, len(self.table.rows), columns)

    def _with_marks(self, rows: list[tuple[int, list[str]]], columns: Columns) -> list[tuple[int, list[str]]]:
        """The rows with a star before choices whose cells stand out, where there is no column of keys and most rows have such."""
        if "key" in columns.by_meaning or len(columns.choices) < 2:
            return rows
        marked = {r: [c for c in columns.choices if (r, c) in self.table.emphasised] for r, _ in rows}
        told = [r for r, found in marked.items() if 0 < len(found) < len(columns.choices)]
        alike = len({tuple(marked[r]) for r in told}) == 1 and len(told) > 3  # a column that stands out is only a column
        if not told or alike or len(told) < SHARE * len(rows):
            return rows
        self.builder.note(
            KEY_HABIT.at("", habit="bold or coloured cells", items=len(told), of=len(rows), without=len(rows) - len(told))
        )
        return [(r, [f"*{cell}" if r in told and c in marked[r] else cell for c, cell in enumerate(row)]) for r, row in rows]

    def _table(self, start: int, after: int, columns: Columns) -> None:
        table, builder = self.table, self.builder
        at: list[str | None] = ["", None]

        def content(markup: str) -> str:
            where, item = at
            return builder.content(markup, where or "", item, self.finder.resolver("", where or "", item), dollars=True)

        def note(kind: FindingKind, **values: object) -> None:
            builder.note(kind.at(at[0] or "", at[1], **values))

        if start >= 0:
            builder.account.claim(sum(map(bool, table.rows[start])))
            self._show(table.rows[start], "heading")
            builder.note(COLUMNS_TAKEN.at(self._where(start), taken=_said(columns, table.rows[start])))
        headings = table.rows[start] if start >= 0 else []
        for index in range(max((len(row) for row in table.rows[start + 1 : after]), default=0)):
            sample = next((row[index] for row in table.rows[start + 1 : after] if index < len(row) and row[index]), "")
            heading = folded(headings[index] if index < len(headings) else "", index)
            if sample or index < len(headings):
                builder.columns.append(ColumnView(table.name, heading, columns.meaning_of(index), sample[:80]))
        probe = RowReader(columns, habit_of([], []), content, note)
        rows = [(r, table.rows[r]) for r in range(start + 1, after) if any(table.rows[r]) and r != self.second_heading]
        rows = self._with_marks(rows, columns)
        keys, choices = [probe.cell(row, "key") for _, row in rows], [probe.choice_cells(row) for _, row in rows]
        reader = RowReader(columns, habit_of(keys, choices), content, note)
        for index, row in rows:
            if not reader.cell(row, "stem"):
                self._leave(row, index)
                continue
            where = self._where(index)
            item_id = builder.free_id(_identifier(reader.cell(row, "number"), len(builder.bank.items)), where)
            at[:] = [where, item_id]
            item = reader.item(row, item_id)
            builder.account.claim(sum(map(bool, row)))
            for column in columns.unknown:
                if column < len(row) and row[column]:
                    heading = table.rows[start][column].strip() if start >= 0 else f"column {column + 1}"
                    item.metadata.setdefault(heading.lower(), []).append(row[column])
            path = [part for part in ([table.name] if self.several and table.name else []) + [reader.cell(row, "pool")] if part]
            number = self._show(row, "item", item.id)
            builder.add(item, Place(where=where, first=number, last=number), path or None)


def _in_turn(names: list[str]) -> bool:
    """Whether headings of choices count on: a, b, c or 1, 2, 3."""
    last = [name[-1:] for name in names]
    return last in ([chr(ord("a") + n) for n in range(len(last))], [str((n + 1) % 10) for n in range(len(last))])


def _identifier(number: str, count: int) -> str:
    """An identifier that a column gives; a mere number of the row is none."""
    return number if number and not re.fullmatch(r"\d+[.)]?", number) else f"i{count + 1}"


def _said(columns: Columns, headings: list[str]) -> str:
    """What was taken for what, in words."""
    shown = [f"{headings[i] if i < len(headings) else f'column {i + 1}'} → {meaning}" for meaning, i in columns.by_meaning.items()]
    if columns.choices:
        shown.append(f"{len(columns.choices)} columns → choices")
    return ", ".join(shown)
