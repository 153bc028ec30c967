"""Stored files: the only place that names them. A file is called by the SHA-256 of its bytes, found here and never taken."""

from __future__ import annotations

import hashlib
import re
import tempfile
from collections.abc import Iterator
from contextlib import contextmanager, suppress
from dataclasses import dataclass
from pathlib import Path
from typing import BinaryIO

from django.conf import settings

CHUNK = 1 << 20
_SHA256 = re.compile(r"[0-9a-f]{64}\Z")


@dataclass(frozen=True)
class Stored:
    """What was written, at first beside its place: its hash, and its size in bytes."""

    sha256: str
    size: int
    written: Path
    place_of: Path

    def place(self) -> None:
        """Moves it into its place. Where rows name what is stored, this belongs into the transaction that makes the row."""
        self.place_of.parent.mkdir(exist_ok=True, mode=0o700)
        self.written.replace(self.place_of)


class Store:
    """A folder of files by their hash. With `fanned`, they lie in folders by the first two signs."""

    def __init__(self, setting: str, fanned: bool = False) -> None:
        self.setting, self.fanned = setting, fanned

    @property
    def folder(self) -> Path:
        return Path(getattr(settings, self.setting))

    def path(self, sha256: str) -> Path:
        """Where the file with this hash lies. Raises ValueError for what is no hash."""
        if not _SHA256.match(sha256):
            raise ValueError("not a hash")
        return self.folder / sha256[:2] / sha256 if self.fanned else self.folder / sha256

    @contextmanager
    def writing(self, stream: BinaryIO) -> Iterator[Stored]:
        """Writes bytes beside their place; what was not moved into it within the context is gone behind it, a broken write too."""
        self.folder.mkdir(parents=True, exist_ok=True, mode=0o700)
        digest, size = hashlib.sha256(), 0
        with tempfile.NamedTemporaryFile(dir=self.folder, prefix="writing-", delete=False) as target:
            written = Path(target.name)
            try:
                while chunk := stream.read(CHUNK):
                    digest.update(chunk)
                    size += len(chunk)
                    target.write(chunk)
                target.flush()
                sha256 = digest.hexdigest()
                yield Stored(sha256, size, written, self.path(sha256))
            finally:
                written.unlink(missing_ok=True)

    def put(self, stream: BinaryIO) -> Stored:
        """Keeps bytes for good."""
        with self.writing(stream) as stored:
            stored.place()
        return stored

    def drop(self, sha256: str) -> None:
        """Removes a file that no row names any more."""
        with suppress(OSError, ValueError):
            self.path(sha256).unlink()


MEDIA = Store("MEDIA_STORE", fanned=True)
SOURCES = Store("SOURCE_STORE")
HANDOFFS = Store("HANDOFF_STORE")
OFFERS = Store("OFFER_STORE")
