"""Files, folders and archives as one tree of named files, with limits on count, size, ratio and depth."""

from __future__ import annotations

import io
import lzma
import posixpath
import shutil
import stat
import struct
import tempfile
import unicodedata
import weakref
import zipfile
import zlib
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass, field
from pathlib import Path
from typing import IO, Any, BinaryIO
from urllib.parse import unquote

from rogatum.core.errors import UnreadableSource
from rogatum.core.finding import Finding
from rogatum.core.findings.sources import FILE_UNREAD
from rogatum.core.sources.options import ReadOptions

MEBIBYTE = 1024 * 1024
NESTED = (".zip", ".imscc")
ZIP_MAGIC = (b"PK\x03\x04", b"PK\x05\x06")
# Word-processor and spreadsheet files are zip files too, and are documents, not archives of sources.
DOCUMENT_MARKS = ("[Content_Types].xml", "mimetype")
CLUTTER = ("__MACOSX/", ".DS_Store", "Thumbs.db", "desktop.ini")


# What reading a damaged archive raises; from bytes at hand, where no disk can fail, OSError is damage too (bzip2 says it so).
DAMAGE = (zipfile.BadZipFile, zlib.error, lzma.LZMAError, EOFError, struct.error, NotImplementedError, OverflowError, ValueError)
DAMAGE_OF_BYTES = (*DAMAGE, OSError)


@dataclass(frozen=True)
class Limits:
    """Bounds on what is opened; sizes in bytes."""

    files: int = 20_000
    total: int = 2048 * MEBIBYTE
    document: int = 50 * MEBIBYTE
    ratio: int = 200
    ratio_from: int = 8 * MEBIBYTE
    depth: int = 3
    archives: int = 400


@dataclass
class _Budget:
    """What may still be opened of one source, at whatever depth."""

    limits: Limits
    archives: int = 0
    files: int = 0
    total: int = 0

    def take(self, name: str, infos: list[zipfile.ZipInfo]) -> None:
        """Counts an archive's content before it is looked into. Raises UnreadableSource where the whole is too much."""
        nested = sum(info.filename.lower().endswith(NESTED) for info in infos)
        self.archives += nested
        self.files += len(infos)
        self.total += sum(info.file_size for info in infos)
        for count, most, words in (
            (self.archives, self.limits.archives, f"It holds {self.archives} archives; at most {self.limits.archives} are opened."),
            (self.files, self.limits.files, f"It holds {self.files} files; at most {self.limits.files} are opened."),
            (
                self.total // MEBIBYTE,
                self.limits.total // MEBIBYTE,
                f"Unpacked it would be {self.total // MEBIBYTE} MB; at most {self.limits.total // MEBIBYTE} MB are opened.",
            ),
        ):
            if count > most:
                raise TooMuchInside(f"{name} is an archive", words, "Unpack it yourself and drop only the files with questions.")


# What of a file is kept once it was opened, in bytes.
SMALL = 4096


class TooMuchInside(UnreadableSource):
    """An archive that holds more than is opened: the whole source is refused, and not the one file within it."""


@dataclass(frozen=True)
class SourceFile:
    """One file: its path with forward slashes, its size in bytes, and how to open it."""

    path: str
    size: int
    opener: Callable[[], BinaryIO]
    # The content of a small file, so that what is looked at and then read is unpacked once.
    _kept: list[bytes] = field(default_factory=list, repr=False, compare=False)

    @property
    def name(self) -> str:
        return posixpath.basename(self.path)

    def open(self) -> BinaryIO:
        return self.opener()

    def head(self, size: int = 4096) -> bytes:
        """The beginning; nothing where the file is damaged, so that nothing is recognised in it. A small file is kept whole."""
        kept = self._small()
        if kept is not None:
            return kept[:size]
        try:
            with self.open() as stream:
                return stream.read(size)
        except (UnreadableSource, *DAMAGE):
            return b""

    def _small(self) -> bytes | None:
        """The content of a small file, once it was opened; None for any other."""
        if self.size > SMALL:
            return None
        if not self._kept:
            try:
                with self.open() as stream:
                    self._kept.append(stream.read(SMALL + 1))
            except (UnreadableSource, *DAMAGE):
                return None
        return self._kept[0] if len(self._kept[0]) <= SMALL else None

    def read(self, limit: int = Limits.document) -> bytes:
        """The whole content. Raises UnreadableSource when it is larger than `limit` bytes."""
        kept = self._small()
        if kept is not None and len(kept) <= limit:
            return kept
        try:
            with self.open() as stream:
                data = stream.read(limit + 1)
        except DAMAGE as error:
            raise damaged(self.path) from error
        if len(data) > limit:
            raise too_large(self.path, self.size, limit)
        return data


@dataclass
class SourceTree:
    """A source: a lone file, or the files of a folder or archive, with archives inside it as children."""

    name: str
    files: dict[str, SourceFile] = field(default_factory=dict)
    children: list[SourceTree] = field(default_factory=list)
    findings: list[Finding] = field(default_factory=list)
    lone: bool = False
    options: ReadOptions = field(default_factory=ReadOptions)
    # Of a file that is read on its own: what lies in the same folder or archive, for the pictures that it names.
    beside: SourceTree | None = None

    def only(self) -> SourceFile:
        return next(iter(self.files.values()))

    def find(self, path: str, base: str = "") -> SourceFile | None:
        """The file that a reference means, relative to the folder `base`.

        References lie: backslashes, percent-encoding, letter case, a missing or needless `./`, and a base that is left out.
        """
        for candidate in _spellings(path):
            for folder in dict.fromkeys((base, "")):
                joined = posixpath.normpath(posixpath.join(folder, candidate)).lstrip("/")
                hit = self.files.get(joined) or self._folded().get(joined.casefold())
                if hit is not None:
                    return hit
        return None

    def by_name(self, path: str) -> SourceFile | None:
        """The only file with this base name, wherever it lies."""
        wanted = posixpath.basename(next(iter(_spellings(path)), path)).casefold()
        hits = [file for key, file in self.files.items() if posixpath.basename(key).casefold() == wanted]
        return hits[0] if len(hits) == 1 else None

    def _folded(self) -> dict[str, SourceFile]:
        if not hasattr(self, "_fold"):
            self._fold = {path.casefold(): file for path, file in self.files.items()}
        return self._fold


def _spellings(path: str) -> Iterator[str]:
    plain = path.strip().replace("\\", "/").split("#", 1)[0]
    yield plain
    yield unquote(plain).split("?", 1)[0]
    yield unicodedata.normalize("NFC", unquote(plain))


def damaged(name: str) -> UnreadableSource:
    return UnreadableSource(f"{name} is a file in an archive", "It is damaged or incomplete.", "Download or export it again.")


def too_large(name: str, size: int, limit: int) -> UnreadableSource:
    return UnreadableSource(
        f"{name} is a file of {size / MEBIBYTE:.0f} MB",
        f"A single document may have {limit // MEBIBYTE} MB.",
        "Split it by chapter, or leave its pictures out and export again.",
    )


def open_path(path: Path, limits: Limits | None = None) -> SourceTree:
    """A file, archive or folder on disk. Raises UnreadableSource."""
    limits = limits or Limits()
    if path.is_dir():
        return _open_folder(path, limits)
    if not path.exists():
        raise UnreadableSource(str(path), "There is no such file.", "Check the name.")
    return _open(SourceFile(path.name, path.stat().st_size, lambda: path.open("rb")), limits)


def open_bytes(data: bytes, name: str, limits: Limits | None = None) -> SourceTree:
    """Bytes that came by upload or paste. Raises UnreadableSource."""
    return _open(SourceFile(name, len(data), lambda: io.BytesIO(data)), limits or Limits())


def open_file(file: SourceFile, limits: Limits | None = None) -> SourceTree:
    """A stored file under the name that a person knows it by, which is data and never a path. Raises UnreadableSource."""
    return _open(file, limits or Limits())


def _open(file: SourceFile, limits: Limits) -> SourceTree:
    if file.size == 0:
        raise UnreadableSource(f"{file.name} is an empty file", "It has no bytes.", "Export or save it again.")
    if _is_archive(file):
        return _open_archive(file, _Budget(limits), depth=1)
    if file.size > limits.document:
        raise too_large(file.name, file.size, limits.document)
    return SourceTree(file.name, {file.name: file}, lone=True)


def _open_folder(path: Path, limits: Limits) -> SourceTree:
    tree, budget = SourceTree(path.name), _Budget(limits)
    for entry in sorted(path.rglob("*")):
        if entry.is_file() and not entry.is_symlink():
            name = entry.relative_to(path).as_posix()
            _add(tree, SourceFile(name, entry.stat().st_size, _path_opener(entry)), budget, 1)
    return tree


def _path_opener(path: Path) -> Callable[[], BinaryIO]:
    return lambda: path.open("rb")


def _packed(name: str) -> str:
    """What packed files are, by what people see of them: their suffix."""
    return {".docx": "a document", ".odt": "a document", ".xlsx": "a workbook", ".ods": "a workbook"}.get(
        posixpath.splitext(name)[1].lower(), "a zip archive"
    )


def _is_archive(file: SourceFile) -> bool:
    if not file.head(4).startswith(ZIP_MAGIC):
        return False
    try:
        with file.open() as stream, zipfile.ZipFile(stream) as archive:
            return not any(mark in archive.namelist() for mark in DOCUMENT_MARKS)
    except DAMAGE:
        raise UnreadableSource(
            f"{file.name} is {_packed(file.name)}", "It is damaged or incomplete.", "Download or export it again."
        ) from None


def _open_archive(file: SourceFile, budget: _Budget, depth: int) -> SourceTree:
    limits = budget.limits
    if depth > limits.depth:
        raise UnreadableSource(
            f"{file.name} is an archive inside {depth - 1} others",
            f"Archives are opened {limits.depth} deep.",
            "Unpack the outer archive and drop what is inside.",
        )
    tree = SourceTree(file.name)
    archive = _Archive(file, nested=depth > 1)
    infos = [info for info in archive.zip.infolist() if info.filename and not info.is_dir() and "\0" not in info.filename]
    _check_archive(file.name, infos, budget)
    for info in infos:
        name = _safe_name(info, file.name)
        if name is None or any(mark in name for mark in CLUTTER):
            continue
        _add(tree, SourceFile(name, info.file_size, archive.opener(info)), budget, depth)
    return tree


class _Archive:
    """An archive that stays open while any of its files may still be read: its directory is read once, not once for each file.

    One that lies in another is unpacked first, since a stream that is being unpacked can only be read forwards.
    """

    def __init__(self, file: SourceFile, nested: bool) -> None:
        self.name = file.name
        stream = _unpacked(file) if nested else file.open()
        weakref.finalize(self, stream.close)
        self.zip = zipfile.ZipFile(stream)

    def opener(self, info: zipfile.ZipInfo) -> Callable[[], BinaryIO]:
        def opened() -> BinaryIO:
            try:
                return _Member(self, _Unpacking(self.zip.open(info)))
            except (*DAMAGE, RuntimeError, KeyError) as error:
                why = f"It cannot be unpacked ({error})."
                raise UnreadableSource(f"{info.filename} in {self.name}", why, "Export it again.") from error

        return opened


def _unpacked(file: SourceFile) -> BinaryIO:
    target = tempfile.SpooledTemporaryFile(max_size=16 * MEBIBYTE)  # noqa: SIM115 - it is closed with its archive
    with file.open() as stream:
        shutil.copyfileobj(stream, target)
    target.seek(0)
    return target  # type: ignore[return-value]


class _Member(io.BufferedReader):
    """A file within an archive, which keeps its archive open."""

    def __init__(self, archive: _Archive, stream: io.RawIOBase) -> None:
        super().__init__(stream)
        self._archive = archive


@contextmanager
def _damage_of_bzip2() -> Iterator[None]:
    """An OSError without a number is no failing disk, but what unpacks bzip2 says of damage."""
    try:
        yield
    except OSError as error:
        if error.errno is not None:
            raise
        raise zipfile.BadZipFile(str(error)) from error


class _Unpacking(io.RawIOBase):
    """What an archive unpacks, with its damage told alike however it was packed."""

    def __init__(self, stream: IO[bytes]) -> None:
        self._stream = stream

    def readable(self) -> bool:
        return True

    def seekable(self) -> bool:
        return self._stream.seekable()

    def tell(self) -> int:
        return self._stream.tell()

    def seek(self, offset: int, whence: int = io.SEEK_SET) -> int:
        with _damage_of_bzip2():
            return self._stream.seek(offset, whence)

    def readinto(self, buffer: Any) -> int:
        with _damage_of_bzip2():
            data = self._stream.read(len(buffer))
        buffer[: len(data)] = data
        return len(data)

    def close(self) -> None:
        self._stream.close()
        super().close()


def _check_archive(name: str, infos: list[zipfile.ZipInfo], budget: _Budget) -> None:
    limits = budget.limits

    def refuse(why: str, way_out: str = "Unpack it yourself and drop only the files with questions.") -> UnreadableSource:
        return UnreadableSource(f"{name} is an archive", why, way_out)

    if any(info.flag_bits & 1 for info in infos):
        raise refuse("It is protected by a password.", "Unpack it with the password and drop what is inside.")
    budget.take(name, infos)
    for info in infos:
        if info.file_size > limits.ratio_from and info.file_size > limits.ratio * max(info.compress_size, 1):
            raise refuse(f"{info.filename} would swell {info.file_size // max(info.compress_size, 1)}-fold when unpacked.")


def _safe_name(info: zipfile.ZipInfo, archive: str) -> str | None:
    """The member's path, or None for a link. Raises UnreadableSource when the path leads out of the archive."""
    if stat.S_ISLNK(info.external_attr >> 16):
        return None
    name = info.filename.replace("\\", "/")
    parts = name.split("/")
    if name.startswith("/") or ".." in parts or (len(parts[0]) == 2 and parts[0][1] == ":"):
        raise UnreadableSource(
            f"{archive} is an archive",
            f"It has a file whose path leads outside of it ({info.filename}).",
            "Do not open it elsewhere; ask for a sound copy.",
        )
    return posixpath.normpath(name)


def _add(tree: SourceTree, file: SourceFile, budget: _Budget, depth: int) -> None:
    """Adds a file to the tree; an archive becomes a child, and one that cannot be opened a finding."""
    try:
        nested = file.size > 0 and file.path.lower().endswith(NESTED) and _is_archive(file)
        if nested:
            tree.children.append(_open_archive(file, budget, depth + 1))
            return
    except TooMuchInside:
        raise
    except (UnreadableSource, *DAMAGE) as error:
        detail = f"{error.what}. {error.why}" if isinstance(error, UnreadableSource) else "It is damaged."
        tree.findings.append(FILE_UNREAD.at(file.path, name=file.path, detail=detail))
        return
    tree.files[file.path] = file


def shortest_name(name: str) -> str:
    """A source's name without folders and extension, for titles."""
    return posixpath.splitext(posixpath.basename(name.replace("\\", "/")))[0]
