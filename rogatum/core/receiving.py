"""The way in and the way out: any source to a bank, a bank to a format with its ledger."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from pathlib import Path

from rogatum.core.checks import CHECKED_CODES, check_bank
from rogatum.core.content import with_refs
from rogatum.core.errors import UnreadableSource
from rogatum.core.fidelity import Ledger, compare
from rogatum.core.findings import FILE_UNREAD, Finding
from rogatum.core.formats import Format, Reading, Written, format_named, readable_formats, writable_formats
from rogatum.core.formats.base import BankBuilder
from rogatum.core.items import Bank, Item, MultipleChoice, MultipleResponse
from rogatum.core.rewriting import map_content
from rogatum.core.sources import MediaBox, ReadOptions, SourceTree, open_bytes, open_path, shortest_name
from rogatum.core.sources.text import kind_of_bytes

Progress = Callable[[int, int], None]


def read_source(
    source: Path | tuple[str, bytes],
    format_name: str | None = None,
    expected: int | None = None,
    progress: Progress | None = None,
    options: ReadOptions | None = None,
) -> Reading:
    """Reads a file, folder or archive on disk, or (name, bytes), and checks what was read.

    `options` says how, where what is found by itself is not right.
    `progress` is told how many parts of how many are done. Raises UnreadableSource and UnknownFormat.
    """
    tree = open_path(source) if isinstance(source, Path) else open_bytes(source[1], source[0])
    _set_options(tree, options or ReadOptions())
    reading = _read_tree(tree, format_name, progress or (lambda _done, _all: None))
    bank = reading.bank
    bank.findings += _opening_findings(tree)
    # A bank that was saved with its findings is checked anew.
    bank.findings = [f for f in bank.findings if f.code not in CHECKED_CODES] + check_bank(bank, expected)
    bank.title = bank.title or shortest_name(bank.source.name)
    return reading


def _set_options(tree: SourceTree, options: ReadOptions) -> None:
    tree.options = options
    for child in tree.children:
        _set_options(child, options)


def _opening_findings(tree: SourceTree) -> list[Finding]:
    """What was noticed while archives were opened, at any depth."""
    return [*tree.findings, *(finding for child in tree.children for finding in _opening_findings(child))]


def recognise(tree: SourceTree) -> Format | None:
    """The format that is surest of a tree, or None."""
    scored = [(entry.sniff(tree), entry) for entry in readable_formats()]
    best = max(scored, key=lambda pair: pair[0])
    return best[1] if best[0] > 0 else None


def _read_tree(tree: SourceTree, format_name: str | None, progress: Progress) -> Reading:
    parts = _parts(tree, format_name)
    if not parts:
        raise _unreadable(tree)
    readings: list[Reading] = []
    failures: list[UnreadableSource] = []
    for done, (part, entry) in enumerate(parts):
        progress(done, len(parts))
        assert entry.read is not None
        try:
            readings.append(entry.read(part))
        except UnreadableSource as error:
            failures.append(error)
            if len(parts) == 1:
                raise
            readings.append(_failed(part, error))
    progress(len(parts), len(parts))
    if failures and not any(reading.bank.items for reading in readings):
        raise failures[0]
    if len(readings) == 1:
        readings[0].bank.source.name = tree.name
        return readings[0]
    return _merged(tree, readings)


def _failed(part: SourceTree, error: UnreadableSource) -> Reading:
    builder = BankBuilder(part.name, "")
    builder.note(FILE_UNREAD.at(part.name, name=part.name, detail=error.why))
    return builder.finish()


def _parts(tree: SourceTree, format_name: str | None) -> list[tuple[SourceTree, Format]]:
    """What is read on its own: a package as a whole, else each file of a folder; archives inside, each in turn."""
    found: list[tuple[SourceTree, Format]] = []
    if tree.files:
        entry = format_named(format_name) if format_name else recognise(tree)
        if entry is not None and entry.read is not None and (tree.lone or entry.package):
            found.append((tree, entry))
        elif not tree.lone:
            for path in sorted(tree.files):
                lone = SourceTree(path, {path: tree.files[path]}, lone=True, options=tree.options)
                part = format_named(format_name) if format_name else recognise(lone)
                if part is not None:
                    found.append((lone, part))
    for child in tree.children:
        found += _parts(child, format_name)
    return found


def _unreadable(tree: SourceTree) -> UnreadableSource:
    if tree.lone:
        head = tree.only().head()
        known = kind_of_bytes(head)
        if known:
            return UnreadableSource(f"{tree.name} is {known[0]}", "It holds no questions that could be read.", known[1])
        if head.lstrip().startswith(b"<"):
            return UnreadableSource(
                f"{tree.name} is a file with markup",
                "It is in no format that is read here.",
                "Export it as QTI 1.2 or as text.",
            )
        return UnreadableSource(
            f"{tree.name} is of an unknown kind",
            "No format that is read here fits it.",
            "Export the questions as QTI 1.2, GIFT or text.",
        )
    what = f"{tree.name} holds {len(tree.files)} files" if tree.files else f"{tree.name} is an empty archive or folder"
    way_out = tree.findings[0].message if tree.findings else "Drop the package or document that holds the questions."
    return UnreadableSource(what, "None of them is in a format that is read here.", way_out)


def _merged(tree: SourceTree, readings: list[Reading]) -> Reading:
    """Several readings as one: ids stay unique, media are shared, pools with the same path become one."""
    formats = dict.fromkeys(r.bank.source.format for r in readings if r.bank.source.format)
    builder = BankBuilder(tree.name, next(iter(formats), ""))
    for reading in readings:
        _take_over(builder, reading)
    return builder.finish()


def _take_over(builder: BankBuilder, reading: Reading) -> None:
    bank, refs = reading.bank, builder.media.merge(reading.media)
    builder.columns += reading.columns
    prefix, offset = bank.source.name, len(builder.view)
    renamed: dict[str, str] = {}
    stimuli = {s.id: f"s{len(builder.bank.stimuli) + n}" for n, s in enumerate(bank.stimuli, 1)}
    paths = bank.pool_paths()
    for stimulus in bank.stimuli:
        content = with_refs(stimulus.content, lambda ref: refs.get(ref, ref))
        builder.bank.stimuli.append(stimulus.model_copy(update={"id": stimuli[stimulus.id], "content": content}))
    for item in bank.items:
        place = bank.places[item.id]
        where = f"{prefix}/{place.where}" if not place.where.startswith(prefix) else place.where
        renamed[item.id] = builder.free_id(item.id, where)
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
    builder.bank.draws += bank.draws
    builder.account.claim(bank.accounting.claimed)
    for entry in bank.accounting.unclaimed:
        builder.account.leave(entry.where if entry.where.startswith(prefix) else f"{prefix}/{entry.where}", entry.text)
    for line in reading.view:
        item_id = renamed.get(line.item or "")
        # A line is known by its name within its own file alone.
        builder.view.append(replace(line, number=line.number + offset, item=item_id, file=line.file or prefix, name=""))


def _moved(item: Item, item_id: str, stimuli: dict[str, str], refs: dict[str, str]) -> Item:
    update: dict[str, object] = {"id": item_id}
    if item.stimulus:
        update["stimulus"] = stimuli.get(item.stimulus, item.stimulus)
    moved = item.model_copy(update=update)
    if any(old != new for old, new in refs.items()):
        return map_content(moved, lambda content: with_refs(content, lambda ref: refs.get(ref, ref)))
    return moved


# Out


@dataclass(frozen=True)
class Export:
    """A written bank with the ledger of what was meant against what was read back."""

    written: Written
    ledger: Ledger
    read_back: Bank


def _as_shown(bank: Bank, entry: Format, left_out: set[str]) -> Bank:
    """What a format that nobody reads back shows of a bank, by what it says that it carries."""
    lacks: dict[str, object] = {} if entry.carries.metadata else {"metadata": {}}
    if not entry.carries.feedback:
        lacks |= {"feedback": {}}
    if not entry.carries.titles:
        lacks |= {"title": ""}
    items = []
    for item in bank.items:
        if item.id in left_out:
            continue
        shown = item.model_copy(update=lacks, deep=True)
        if "choice" not in entry.carries.feedback and isinstance(shown, MultipleChoice | MultipleResponse):
            for choice in shown.choices:
                choice.feedback = None
        items.append(shown)
    return bank.model_copy(update={"items": items})


def _read_back(entry: Format, tree: SourceTree) -> Bank:
    """What was written, read; where nothing could be written there is nothing to read."""
    assert entry.read is not None
    try:
        return entry.read(tree).bank
    except UnreadableSource:
        return Bank()


def export_bank(bank: Bank, media: MediaBox, format_name: str) -> Export:
    """Writes a bank, reads it back and compares. Raises UnknownFormat for a format that is not written."""
    entry = format_named(format_name)
    if entry.write is None:
        format_named_for_writing = [e.name for e in writable_formats()]
        raise UnreadableSource(f"{entry.label}", "It is read but not written.", f"Choose {', '.join(format_named_for_writing)}.")
    written = entry.write(bank, media)
    reasons = {finding.item: finding.message for finding in written.findings if finding.item}
    if entry.read is None:
        shown = _as_shown(bank, entry, set(reasons))
        return Export(written, compare(bank, shown, reasons), shown)
    if not written.data.strip():
        return Export(written, compare(bank, Bank(), reasons), Bank())
    tree = open_bytes(written.data, f"export{written.suffix}")
    read_back = _read_back(entry, tree)
    return Export(written, compare(bank, read_back, reasons), read_back)
