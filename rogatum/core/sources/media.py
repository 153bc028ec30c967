"""Media: pictures, sounds and films by SHA-256, opened on demand and never all held."""

from __future__ import annotations

import hashlib
import io
import mimetypes
import posixpath
import re
from collections.abc import Callable
from typing import BinaryIO

from rogatum.core.items import Media
from rogatum.core.sources.archives import SourceFile

CHUNK = 1 << 16
MEDIA_FOLDER = "media/"
LONGEST_NAME = 120
_TYPES = mimetypes.MimeTypes()
for _suffix, _type in {
    ".webp": "image/webp",
    ".avif": "image/avif",
    ".svg": "image/svg+xml",
    ".m4a": "audio/mp4",
}.items():
    _TYPES.add_type(_type, _suffix)
_UNSAFE = re.compile(r"[^\w.\-]+")


def media_type(name: str) -> str:
    return _TYPES.guess_type(name)[0] or "application/octet-stream"


# How pictures begin, by their types; what is not here is told by its name alone.
_BEGINNINGS: dict[str, re.Pattern[bytes]] = {
    "image/png": re.compile(rb"\x89PNG\r\n\x1a\n"),
    "image/jpeg": re.compile(rb"\xff\xd8\xff"),
    "image/gif": re.compile(rb"GIF8[79]a"),
    "image/webp": re.compile(rb"RIFF....WEBP", re.S),
    "image/svg+xml": re.compile(rb"[^<]{0,64}<(?:\?xml|!--|!DOCTYPE|svg)"),
}


def is_what_it_says(kind: str, data: bytes) -> bool:
    """Whether bytes begin as files of a type do; an empty file is of none."""
    beginning = _BEGINNINGS.get(kind)
    return bool(data) and (beginning is None or beginning.match(data[:2000]) is not None)


def media_address(sha256: str, name: str) -> str:
    """The address by which the items of a course name one of its files."""
    suffix = name.rsplit(".", 1)[-1].lower() if "." in name else "bin"
    return f"media/{sha256}.{suffix}"


class MediaBox:
    """The media of a bank: entries for the bank, and how to open each by its ref."""

    def __init__(self) -> None:
        self._openers: dict[str, Callable[[], BinaryIO]] = {}
        self._entries: dict[str, Media] = {}
        self._by_hash: dict[str, str] = {}

    def entries(self) -> list[Media]:
        return list(self._entries.values())

    def open(self, ref: str) -> BinaryIO:
        """The media as a stream. Raises KeyError for a ref that is not here."""
        return self._openers[ref]()

    def __contains__(self, ref: str) -> bool:
        return ref in self._openers

    def entry(self, ref: str) -> Media:
        return self._entries[ref]

    def add_file(self, file: SourceFile) -> str:
        """Adds a file of a source and returns its ref; equal bytes share one ref."""
        return self._add(file.name, file.opener)

    def add_bytes(self, name: str, data: bytes) -> str:
        return self._add(name, lambda: io.BytesIO(data))

    def add_known(self, entry: Media, opener: Callable[[], BinaryIO]) -> None:
        """Adds media whose entry is known already, without reading it."""
        self._entries[entry.ref], self._openers[entry.ref] = entry, opener
        self._by_hash.setdefault(entry.sha256, entry.ref)

    def merge(self, other: MediaBox) -> dict[str, str]:
        """Takes over another box's media; returns which of its refs have which ref here."""
        moved = {}
        for entry in other.entries():
            known = self._by_hash.get(entry.sha256)
            ref = known or self._free_ref(posixpath.basename(entry.ref))
            if known is None:
                self.add_known(entry.model_copy(update={"ref": ref}), other._openers[entry.ref])
            moved[entry.ref] = ref
        return moved

    def _add(self, name: str, opener: Callable[[], BinaryIO]) -> str:
        digest, size = hashlib.sha256(), 0
        with opener() as stream:
            while chunk := stream.read(CHUNK):
                digest.update(chunk)
                size += len(chunk)
        sha256 = digest.hexdigest()
        if sha256 in self._by_hash:
            return self._by_hash[sha256]
        ref = self._free_ref(name)
        self.add_known(Media(ref=ref, sha256=sha256, size=size, type=media_type(name)), opener)
        return ref

    def _free_ref(self, name: str) -> str:
        base = _UNSAFE.sub("_", posixpath.basename(name.replace("\\", "/"))).lstrip(".")[-LONGEST_NAME:] or "file"
        stem, suffix = posixpath.splitext(base)
        ref, number = MEDIA_FOLDER + base, 2
        while ref in self._entries:
            ref, number = f"{MEDIA_FOLDER}{stem}-{number}{suffix}", number + 1
        return ref
