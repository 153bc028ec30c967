"""Pandoc: documents to its tree, and HTML to documents. It runs as a program of its own, with limits on time and memory."""

from __future__ import annotations

import json
import os
import subprocess
import tempfile
from functools import cache
from pathlib import Path
from typing import Any

import pypandoc

from rogatum.core.errors import UnreadableSource

SECONDS = 120
MEMORY = "-M2g"


@cache
def _program() -> str:
    return str(pypandoc.get_pandoc_path())


def _run(arguments: list[str], data: bytes, name: str) -> bytes:
    """Runs pandoc on bytes. Raises UnreadableSource when it fails or takes too long."""
    command = [_program(), *arguments, "+RTS", MEMORY, "-RTS"]
    try:
        done = subprocess.run(command, input=data, capture_output=True, timeout=SECONDS, check=False, env=os.environ | EPOCH)
    except subprocess.TimeoutExpired:
        raise UnreadableSource(f"{name} is a document", f"It took more than {SECONDS} s to read.", "Split it by chapter.") from None
    if done.returncode:
        why = " ".join(done.stderr.decode("utf-8", "replace").split())[:160]
        raise UnreadableSource(
            f"{name} is a document", f"It cannot be read ({why}).", "Open it where it was made and save it again."
        )
    return done.stdout


def tree_of(data: bytes, kind: str, name: str) -> dict[str, Any]:
    """The tree of a document; `kind` is pandoc's name of its format."""
    tree: dict[str, Any] = json.loads(_run(["-f", kind, "-t", "json", "--sandbox"], data, name))
    return tree


def tree_and_media(data: bytes, kind: str, name: str) -> tuple[dict[str, Any], dict[str, bytes]]:
    """The tree of a document with embedded media, and these by the names that the tree has for them."""
    with tempfile.TemporaryDirectory() as folder:
        output = _run(["-f", kind, "-t", "json", f"--extract-media={folder}"], data, name)
        media = {str(path): path.read_bytes() for path in Path(folder).rglob("*") if path.is_file()}
    return json.loads(output), media


def converted(text: str, source: str, target: str) -> str:
    """Text from one of pandoc's formats to another. Raises UnreadableSource."""
    return _run(["-f", source, "-t", target, "--wrap=none", "--sandbox"], text.encode(), "text").decode()


# Kinds whose text has formulas as TeX, since they have no form of their own for them.
_TEXT_FORMULAS = ("rtf", "odt")
EPOCH = {"SOURCE_DATE_EPOCH": "315532800"}


def written(markup: str, kind: str, name: str, media: dict[str, bytes]) -> bytes:
    """HTML as a document; `media` are files that the HTML names. The same HTML gives the same bytes."""
    source = "html" if kind in _TEXT_FORMULAS else "html+tex_math_single_backslash"
    with tempfile.TemporaryDirectory() as folder:
        for path, content in media.items():
            target = Path(folder) / path
            target.parent.mkdir(parents=True, exist_ok=True)
            target.write_bytes(content)
        output = Path(folder) / "output"
        arguments = ["-f", source, "-t", kind, "--standalone", "--wrap=none", f"--resource-path={folder}", "-o", str(output)]
        if kind == "html":
            arguments += ["--mathml", "--embed-resources", "--metadata", "pagetitle=Test"]
        _run(arguments, markup.encode(), name)
        return output.read_bytes()
