"""What keeps reading within bounds: programs that we start end with us, and sizes are told before the work is done."""

from __future__ import annotations

import ctypes
import io
import signal
import zipfile
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from functools import cache

from rogatum.core.errors import UnreadableSource
from rogatum.core.sources.archives import DAMAGE_OF_BYTES

_PR_SET_PDEATHSIG = 1


@cache
def _c_library() -> ctypes.CDLL | None:
    try:
        library = ctypes.CDLL(None)
        library.prctl  # noqa: B018 - asked for, since not every system has it
    except (OSError, AttributeError):
        return None
    return library


def end_with_parent() -> Callable[[], None] | None:
    """A function for a child to call between fork and exec: the kernel then kills it when its parent ends, however it ends.

    None where the system cannot do so. The library is found before the fork, since little may be done after it.
    """
    library = _c_library()
    if library is None:
        return None
    return lambda: library.prctl(_PR_SET_PDEATHSIG, signal.SIGKILL)


@dataclass(frozen=True)
class Counted:
    """What is counted in a file, or in the members of a zipped one whose names end so, before it is read: it is cheap."""

    words: str
    most: int
    marks: tuple[bytes, ...]
    member: str = ""
    head: bytes = b""


MOST_PARAGRAPHS = 60_000
MOST_ROWS = 50_000
COUNTED = (
    Counted("paragraphs", MOST_PARAGRAPHS, (b"<w:p ", b"<w:p>", b"<w:p/>"), member="word/document.xml"),
    Counted("paragraphs", MOST_PARAGRAPHS, (b"<text:p", b"<text:h"), member="content.xml"),
    Counted("rows", MOST_ROWS, (b"<table:table-row",), member="content.xml"),
    Counted("rows", MOST_ROWS, (b"<row ", b"<row>", b"<row/>", b"<x:row"), member=".xml"),
    Counted("cells", 4_000_000, (b"<c ", b"<x:c "), member=".xml"),
    Counted("paragraphs", MOST_PARAGRAPHS, (b"\\par",), head=b"{\\rtf"),
    Counted("paragraphs", MOST_PARAGRAPHS, (b"<p>", b"<p ", b"<P>", b"<P ", b"<br", b"<li", b"<tr"), head=b"<"),
    Counted("lines", 100_000, (b"\n",)),
)
# What a member of a zipped document may unpack to, and all of them together.
LARGEST_MEMBER, LARGEST_WHOLE = 300 << 20, 600 << 20
_CHUNK = 1 << 20


def check_size(data: bytes, name: str) -> None:
    """Raises UnreadableSource where a document has more in it than is read, before anything takes it apart."""
    if data.startswith(b"PK"):
        _check_zipped(data, name)
        return
    head = data[:4096].lstrip(b"\xef\xbb\xbf \t\r\n")
    counted = next(entry for entry in COUNTED if not entry.member and head.startswith(entry.head))
    if not (counted.head == b"<" and b"<questestinterop" in data[:65536]):
        _refuse_more(counted, sum(map(data.count, counted.marks)), name)


def _check_zipped(data: bytes, name: str) -> None:
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as archive:
            infos = archive.infolist()
            largest = max((info.file_size for info in infos), default=0)
            if largest > LARGEST_MEMBER or sum(info.file_size for info in infos) > LARGEST_WHOLE:
                raise UnreadableSource(
                    f"{name} is a document that would be {largest >> 20} MB unpacked",
                    f"A part of a document may have {LARGEST_MEMBER >> 20} MB.",
                    "Split it by chapter, or leave its pictures out and save it again.",
                )
            for info in infos:
                wanted = [entry for entry in COUNTED if entry.member and info.filename.endswith(entry.member)]
                if wanted:
                    _check_member(archive, info, wanted, name)
    except (*DAMAGE_OF_BYTES, RuntimeError):
        return  # whoever reads it says how it is damaged


def _check_member(archive: zipfile.ZipFile, info: zipfile.ZipInfo, wanted: Sequence[Counted], name: str) -> None:
    counts = dict.fromkeys(wanted, 0)
    tail = b""
    with archive.open(info) as stream:
        while chunk := stream.read(_CHUNK):
            for entry in wanted:
                # A mark that lies across two chunks is whole in what is kept of the one before.
                counts[entry] += sum((tail + chunk).count(mark) - tail.count(mark) for mark in entry.marks)
                _refuse_more(entry, counts[entry], name)
            tail = chunk[-24:]


def _refuse_more(counted: Counted, count: int, name: str) -> None:
    if count > counted.most:
        raise UnreadableSource(
            f"{name} has more than {counted.most:,} {counted.words}",
            f"A single document may have {counted.most:,} {counted.words}.",
            f"Delete the empty {counted.words} in it, or split it by chapter.",
        )
