"""The way in: any source to a bank that is checked."""

from __future__ import annotations

import logging
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass, field, replace
from pathlib import Path

from rogatum.core.admission import admit
from rogatum.core.checks import check_bank
from rogatum.core.cycles import uncollected
from rogatum.core.documents import entries_of, is_named_as_keys, keys_in, test_of_keys
from rogatum.core.errors import KeysAlone, RogatumError, UnreadableSource
from rogatum.core.finding import Finding
from rogatum.core.findings.catalogue import is_checked
from rogatum.core.findings.contents import PICTURE_DAMAGED
from rogatum.core.findings.keys import KEYS_WITHOUT_TEST
from rogatum.core.findings.sources import FILE_UNREAD
from rogatum.core.formats import Format, Reading, format_named, readable_formats
from rogatum.core.formats.shared.base import BankBuilder
from rogatum.core.items.content import media_refs
from rogatum.core.items.parts import content_fields
from rogatum.core.merging import merged
from rogatum.core.refusing import refusal
from rogatum.core.sources import KeyLine, ReadOptions, SourceFile, SourceTree, open_bytes, open_file, open_path, shortest_name
from rogatum.core.sources.bounds import check_size
from rogatum.core.sources.media import media_type
from rogatum.core.sources.pictures import is_whole

log = logging.getLogger(__name__)
# Larger files are films and sounds.
LARGEST_PICTURE = 50_000_000
# How many files of a folder or archive are read, each on its own.
MOST_PARTS = 2000
Openable = Path | SourceFile | tuple[str, bytes]
Progress = Callable[[int, int], None]


def read_source(
    source: Openable,
    format_name: str | None = None,
    expected: int | None = None,
    progress: Progress | None = None,
    options: ReadOptions | None = None,
) -> Reading:
    """Reads a file, folder or archive on disk, a file under a name of its own, or (name, bytes), and checks what was read.

    `options` says how, where what is found by itself is not right.
    `progress` is told how many parts of how many are done. Raises UnreadableSource and UnknownFormat.
    """
    name = source[0] if isinstance(source, tuple) else source.name
    with uncollected(), _damage_told(name):
        return read_bare(source, format_name, expected, progress or (lambda _done, _all: None), options or ReadOptions())


@contextmanager
def _damage_told(name: str) -> Iterator[None]:
    """The net below all readers: whatever a library or a reader of ours meets in a file that nobody made so on purpose is damage.

    Readers are to raise nothing but UnreadableSource themselves; `make fuzz` and its tests read without this net.
    """
    try:
        yield
    except (RogatumError, MemoryError, SystemError):  # the last is how the interpreter fails without memory in the midst of a call
        raise
    except RecursionError:
        raise UnreadableSource(
            f"{name} is a file whose parts lie too deep within each other",
            "It cannot be taken apart.",
            "Save it in a simpler form.",
        ) from None
    except Exception as error:
        log.exception("reading %r", name)
        raise UnreadableSource(
            f"{name} is a file that is damaged", f"It cannot be taken apart ({type(error).__name__}).", "Save or export it again."
        ) from error


def read_bare(
    source: Openable,
    format_name: str | None = None,
    expected: int | None = None,
    progress: Progress = lambda _done, _all: None,
    options: ReadOptions | None = None,
) -> Reading:
    """`read_source` without its net."""
    options = options or ReadOptions()
    tree = _opened(source)
    _set_options(tree, options)
    reading = _read_tree(tree, format_name, progress)
    bank = reading.bank
    admit(bank, {entry.ref for entry in reading.media.entries()})
    bank.findings += [*_opening_findings(tree), *_damaged_pictures(reading)]
    # A bank that was saved with its findings is checked anew.
    bank.findings = [f for f in bank.findings if not is_checked(f.code)] + check_bank(bank, expected)
    bank.title = bank.title or shortest_name(bank.source.name)
    return reading


def _damaged_pictures(reading: Reading) -> Iterator[Finding]:
    """What items show that cannot be decoded to its end: it would fail where they are printed, long after they were read."""
    bank, damaged = reading.bank, set[str]()
    for entry in reading.media.entries():
        with reading.media.open(entry.ref) as stream:
            if entry.size <= LARGEST_PICTURE and not is_whole(entry.type, stream.read()):
                damaged.add(entry.ref)
    for item in bank.items if damaged else ():
        for ref in dict.fromkeys(ref for content in content_fields(item) for ref in media_refs(content) if ref in damaged):
            place = bank.places.get(item.id)
            yield PICTURE_DAMAGED.at(place.where if place else "", item.id, name=ref.rpartition("/")[2])


def _opened(source: Openable) -> SourceTree:
    if isinstance(source, Path):
        return open_path(source)
    return open_file(source) if isinstance(source, SourceFile) else open_bytes(source[1], source[0])


def read_keys(source: Openable) -> list[KeyLine]:
    """The lines of a document that holds nothing but keys. Raises UnreadableSource where it is none."""
    name = source[0] if isinstance(source, tuple) else source.name
    try:
        read_source(source)
    except KeysAlone as alone:
        return [KeyLine(name, number, text) for number, text in alone.lines]
    raise UnreadableSource(name, "It holds questions of its own.", "Name a document that holds nothing but keys.")


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


@dataclass
class _Part:
    """What is read on its own, by which format, and what came of it."""

    tree: SourceTree
    entry: Format
    reading: Reading = field(init=False)

    def read(self) -> None:
        assert self.entry.read is not None
        if self.tree.lone:
            check_size(self.tree.only().read(), self.tree.name)
        self.reading = self.entry.read(self.tree)

    @property
    def key_lines(self) -> list[KeyLine]:
        """Its lines that hold keys, where it is a document that holds little else."""
        name = self.tree.name
        if self.reading.bank.items and not is_named_as_keys(name):
            return []
        view = self.reading.view
        held = keys_in([line.text for line in view], name)
        return [KeyLine(name, view[position].number, text) for position, text in held.items()]


def _read_tree(tree: SourceTree, format_name: str | None, progress: Progress) -> Reading:
    parts = [_Part(part, entry) for part, entry in _parts(tree, format_name)]
    if not parts:
        raise refusal(tree)
    failures: list[UnreadableSource] = []
    for done, part in enumerate(parts):
        progress(done, len(parts))
        try:
            part.read()
        except UnreadableSource as error:
            failures.append(error)
            if len(parts) == 1:
                raise
            part.reading = _failed(part.tree, error)
    readings = _with_keys(parts)
    progress(len(parts), len(parts))
    if failures and not any(reading.bank.items for reading in readings):
        raise failures[0]
    if len(readings) == 1:
        readings[0].bank.source.name = tree.name
        return readings[0]
    return merged(tree.name, readings)


def _with_keys(parts: list[_Part]) -> list[Reading]:
    """The readings, each document of keys read as a part of its test. Raises KeysAlone where there is no test at all."""
    keyed = {id(part): lines for part in parts if (lines := part.key_lines)}
    tests = [part for part in parts if id(part) not in keyed and part.entry.document and part.reading.bank.items]
    found: list[Reading] = []
    for part in (part for part in parts if id(part) in keyed):
        lines = keyed[id(part)]
        count = sum(len(entries_of(line.text)) for line in lines)
        at = test_of_keys(part.tree.name, [test.tree.name for test in tests])
        if len(parts) == 1:
            raise KeysAlone(part.tree.name, [(line.number, line.text) for line in lines], count)
        if at is None:
            builder = BankBuilder(part.tree.name, "")
            builder.note(KEYS_WITHOUT_TEST.at(part.tree.name, file=part.tree.name, count=count))
            found.append(builder.finish())
            continue
        test = tests[at]
        test.tree.options = replace(test.tree.options, key_lines=[*test.tree.options.key_lines, *lines])
        test.read()
    return [*(part.reading for part in parts if id(part) not in keyed), *found]


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
            _refuse_many(tree)
            for path in sorted(tree.files):
                lone = SourceTree(path, {path: tree.files[path]}, lone=True, options=tree.options, beside=tree)
                part = format_named(format_name) if format_name else recognise(lone)
                if part is not None:
                    found.append((lone, part))
    for child in tree.children:
        found += _parts(child, format_name)
    return found


def _refuse_many(tree: SourceTree) -> None:
    """Each file is looked at and read on its own, which takes its time; pictures are not."""
    count = sum(not media_type(path).startswith(("image/", "audio/", "video/")) for path in tree.files)
    if count > MOST_PARTS:
        raise UnreadableSource(
            f"{tree.name} holds {count:,} files",
            f"At most {MOST_PARTS:,} files are read at once.",
            "Split it into several, by chapter.",
        )
