"""Damage as it happens and as it is done on purpose: bytes flipped, cut, doubled, put in; in zipped files, also within a member."""

from __future__ import annotations

import io
import random
import zipfile
from collections.abc import Callable

JUNK = [
    b"\x00", b"\xff", b"\xed\xa0\x80", b"\xc3\x28", b"\xef\xbf\xbe", b"\x01\x02", b"<", b">", b"&", b"&#0;", b"&#xD800;", b"&nbsp;", b"<![CDATA[", b"]]>", b"<!--",
    b"<!DOCTYPE x [<!ENTITY a 'b'>]>", b"{", b"}", b"[" * 50, b'"', b"'", b"\\", b"\\u0000", b"\\ud800", b"NaN", b"1e999", b"-1", b"9" * 40, b"::", b"=", b"~%x%", b"#",
    b"<p>" * 60, b"<section>" * 60, b" " * 200, b"\n" * 40, b"\r", b"\xe2\x80\xae", b"../../x", b"/etc/passwd", b"$", b"\\(", b"%s", b"\x1a", b"PK\x03\x04",
]  # fmt: skip
Change = Callable[[random.Random, bytes], bytes]


def _flip(chance: random.Random, data: bytes) -> bytes:
    at = chance.randrange(len(data))
    return data[:at] + bytes([data[at] ^ (1 << chance.randrange(8))]) + data[at + 1 :]


def _cut(chance: random.Random, data: bytes) -> bytes:
    at = chance.randrange(len(data))
    return data[:at] + data[at + chance.choice([1, 2, 8, 64, 1024, len(data)]) :]


def _double(chance: random.Random, data: bytes) -> bytes:
    at, length = chance.randrange(len(data)), chance.choice([1, 4, 32, 256])
    return data[: at + length] + data[at : at + length] * chance.choice([1, 1, 20]) + data[at + length :]


def _put(chance: random.Random, data: bytes) -> bytes:
    at = chance.randrange(len(data) + 1)
    return data[:at] + chance.choice(JUNK) + data[at:]


def _swap(chance: random.Random, data: bytes) -> bytes:
    a, b = sorted(chance.randrange(len(data)) for _ in range(2))
    length = chance.choice([1, 8, 40])
    return data[:a] + data[b : b + length] + data[a + length : b] + data[a : a + length] + data[b + length :]


CHANGES: tuple[Change, ...] = (_flip, _cut, _double, _put, _put, _swap)


def _changed(chance: random.Random, data: bytes) -> bytes:
    for _ in range(chance.choice([1, 1, 2, 5])):
        data = chance.choice(CHANGES)(chance, data) if data else chance.choice(JUNK)
    return data


def _within(chance: random.Random, data: bytes) -> bytes:
    """A zipped file one of whose members is damaged, or lost, or called otherwise."""
    out = io.BytesIO()
    with zipfile.ZipFile(io.BytesIO(data)) as archive, zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as copy:
        names = archive.namelist()
        hit = chance.choice([name for name in names if name.endswith((".xml", ".json", ".rels"))] or names)
        for name in names:
            content = archive.read(name)
            if name == hit:
                way = chance.random()
                if way < 0.04:
                    continue
                if way < 0.07:
                    name += "x"
                else:
                    content = _changed(chance, content)
            copy.writestr(name, content)
    return out.getvalue()


def mutant(sample: bytes, seed: str) -> bytes:
    """The mutant of a sample that a seed names: always the same."""
    chance = random.Random(seed)
    if sample.startswith(b"PK") and chance.random() < 0.8:
        return _within(chance, sample)
    return _changed(chance, sample)
