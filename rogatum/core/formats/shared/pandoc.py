"""Pandoc: documents to its tree, and HTML to documents.

It runs as a program of its own, within its sandbox: it reads what it is handed and nothing else, neither files nor addresses,
so pictures are handed in as data. It has limits on time and memory, and ends with the process that started it.
"""

from __future__ import annotations

import base64
import json
import os
import subprocess
import tempfile
from collections.abc import Callable
from functools import cache
from pathlib import Path
from typing import Any

import pypandoc

from rogatum.core.errors import UnreadableSource
from rogatum.core.items.content import with_refs
from rogatum.core.sources.bounds import end_with_parent

SECONDS = 60
# Kinds that its reader may take back and try again: with some of them its time doubles with each level.
IMPATIENT = {"html": 15, "markdown": 15}
MEMORY = "-M2g"
SANDBOX = "--sandbox"


@cache
def _program() -> str:
    return str(pypandoc.get_pandoc_path())


def _run(arguments: list[str], data: bytes, name: str, seconds: float = SECONDS) -> bytes:
    """Runs pandoc on bytes. Raises UnreadableSource when it fails or takes too long."""
    command = [_program(), *arguments, SANDBOX, "+RTS", MEMORY, "-RTS"]
    try:
        done = subprocess.run(
            command,
            input=data,
            capture_output=True,
            timeout=seconds,
            check=False,
            env=os.environ | EPOCH,
            preexec_fn=end_with_parent(),
        )
    except subprocess.TimeoutExpired:
        raise UnreadableSource(
            f"{name} is a document", f"It took more than {seconds:g} s to read.", "Split it by chapter."
        ) from None
    if done.returncode:
        why = " ".join(done.stderr.decode("utf-8", "replace").split())[:160]
        raise UnreadableSource(
            f"{name} is a document", f"It is damaged or incomplete ({why}).", "Open it where it was made and save it again."
        )
    return done.stdout


def tree_of(data: bytes, kind: str, name: str) -> dict[str, Any]:
    """The tree of a document; `kind` is pandoc's name of its format."""
    seconds = IMPATIENT.get(kind.partition("+")[0], SECONDS)
    tree: dict[str, Any] = _tree(_run(["-f", kind, "-t", "json"], data, name, seconds), name)
    return tree


def tree_and_media(data: bytes, kind: str, name: str) -> tuple[dict[str, Any], dict[str, bytes]]:
    """The tree of a document with embedded media, and these by the names that the tree has for them."""
    with tempfile.TemporaryDirectory() as folder:
        output = _run(["-f", kind, "-t", "json", f"--extract-media={folder}"], data, name)
        media = {str(path): path.read_bytes() for path in Path(folder).rglob("*") if path.is_file()}
    return _tree(output, name), media


def _tree(output: bytes, name: str) -> Any:
    try:
        return json.loads(output)
    except RecursionError:
        raise UnreadableSource(
            f"{name} is a document",
            "Its parts lie too deep within each other.",
            "Take tables out of tables, and save it again.",
        ) from None


def converted(text: str, source: str, target: str) -> str:
    """Text from one of pandoc's formats to another. Raises UnreadableSource."""
    return _run(["-f", source, "-t", target, "--wrap=none"], text.encode(), "text").decode()


# Kinds whose text has formulas as TeX, since they have no form of their own for them.
_TEXT_FORMULAS = ("rtf", "odt")
EPOCH = {"SOURCE_DATE_EPOCH": "315532800"}


def written(markup: str, kind: str, name: str, media: dict[str, tuple[str, bytes]]) -> bytes:
    """HTML as a document; `media` are its pictures by their ref, as (type, bytes). The same HTML gives the same bytes."""
    source = "html" if kind in _TEXT_FORMULAS else "html+tex_math_single_backslash"
    arguments = ["-f", source, "-t", kind, "--standalone", "--wrap=none", "-o", "-"]
    if kind == "html":
        arguments += ["--mathml", "--embed-resources", "--metadata", "pagetitle=Test"]
    if kind != "markdown":  # Markdown names its pictures and holds none
        markup = with_refs(markup, _as_data(media))
    return _run(arguments, markup.encode(), name)


def _as_data(media: dict[str, tuple[str, bytes]]) -> Callable[[str], str]:
    def address(ref: str) -> str:
        if ref not in media:
            return ref
        kind, data = media[ref]
        return f"data:{kind};base64,{base64.b64encode(data).decode()}"

    return address
