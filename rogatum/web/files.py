"""Stored files: the only place that names them. A file is called by the SHA-256 of its bytes, found here and never taken."""

from __future__ import annotations

import hashlib
import re
import tempfile
from contextlib import suppress
from dataclasses import dataclass
from pathlib import Path
from typing import BinaryIO

from django.conf import settings

CHUNK = 1 << 20
_SHA256 = re.compile(r"[0-9a-f]{64}\Z")


@dataclass(frozen=True)
class Stored:
    """What was kept: its hash, its size in bytes, and whether it was not there before."""

    sha256: str
    size: int
    fresh: bool


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

    def put(self, stream: BinaryIO) -> Stored:
        """Keeps bytes: written beside their place and moved into it, so that a broken write leaves nothing half."""
        self.folder.mkdir(parents=True, exist_ok=True, mode=0o700)
        digest, size = hashlib.sha256(), 0
        with tempfile.NamedTemporaryFile(dir=self.folder, prefix="writing-", delete=False) as target:
            try:
                while chunk := stream.read(CHUNK):
                    digest.update(chunk)
                    size += len(chunk)
                    target.write(chunk)
                target.flush()
            except BaseException:
                Path(target.name).unlink(missing_ok=True)
                raise
        return self._placed(Path(target.name), digest.hexdigest(), size)

    def _placed(self, written: Path, sha256: str, size: int) -> Stored:
        path = self.path(sha256)
        fresh = not path.exists()
        try:
            path.parent.mkdir(exist_ok=True, mode=0o700)
            written.replace(path)
        except OSError:
            written.unlink(missing_ok=True)
            raise
        return Stored(sha256, size, fresh)

    def drop(self, sha256: str) -> None:
        """Removes a file that no row names any more."""
        with suppress(OSError, ValueError):
            self.path(sha256).unlink()


MEDIA = Store("MEDIA_STORE", fanned=True)
SOURCES = Store("SOURCE_STORE")
HANDOFFS = Store("HANDOFF_STORE")
