"""Why a source is not read at all: what it seems to be, and the way out."""

from __future__ import annotations

import io
import re
import zipfile

from rogatum.core.errors import UnreadableSource
from rogatum.core.quizzes.phrases import count_words
from rogatum.core.sources import SourceTree
from rogatum.core.sources.text import OLD_BINARY, kind_of_bytes

# What the old containers of office programs hold, by how a stream of theirs is called: what it is, why it is not read, the way out.
_UNREAD = "It holds no questions that could be read."
_COPIED = "Copy the questions into a document, and drop that."
_STREAMS = (
    (
        "EncryptedPackage",
        "protected by a password",
        "Nothing of it can be read without the password.",
        "Open it where it was made, save it without a password, and drop that.",
    ),
    ("WordDocument", "a document of an old binary format", _UNREAD, "Open it where it was made and save it as .docx."),
    ("Workbook", "a workbook of an old binary format", _UNREAD, "Open it where it was made and save it as .xlsx."),
    (
        "PowerPoint Document",
        "a file of slides of an old binary format",
        _UNREAD,
        "Copy the questions into a document, and drop that.",
    ),
)
_MANIFEST = "imsmanifest.xml"
_END_OF_MANIFEST = re.compile(rb"</(?:[\w.-]+:)?manifest\s*>\s*\Z")


def _of_old_container(tree: SourceTree) -> UnreadableSource | None:
    try:
        data = tree.only().read()
    except UnreadableSource as error:
        return error
    known = next((entry for entry in _STREAMS if entry[0].encode("utf-16-le") in data), None)
    return UnreadableSource(f"{tree.name} is {known[1]}", *known[2:]) if known else None


def _of_packed(tree: SourceTree) -> UnreadableSource:
    """What is packed as documents are, and holds none."""
    try:
        with zipfile.ZipFile(io.BytesIO(tree.only().read())) as archive:
            names = archive.namelist()
    except (UnreadableSource, zipfile.BadZipFile):
        names = []
    if any(name.startswith("ppt/") for name in names):
        return UnreadableSource(f"{tree.name} holds slides", _UNREAD, _COPIED)
    return UnreadableSource(
        f"{tree.name} is packed as documents are",
        "It is damaged: its text is not in it.",
        "Open it where it was made and save it again.",
    )


def _of_package(tree: SourceTree) -> UnreadableSource:
    whole = _END_OF_MANIFEST.search(tree.files[_MANIFEST].read())
    if whole is None:
        why = f"Its manifest ({_MANIFEST}) breaks off, and no file beside it is read here."
    else:
        why = "Its manifest names no questions, and no file beside it is read here."
    return UnreadableSource(f"{tree.name} is a package", why, "Export it again with its questions.")


def refusal(tree: SourceTree) -> UnreadableSource:
    """What is said of a source that no format reads."""
    if tree.lone:
        head = tree.only().head()
        known = kind_of_bytes(head)
        if head.startswith(OLD_BINARY) and (told := _of_old_container(tree)):
            return told
        if head.startswith(b"PK\x03\x04"):
            return _of_packed(tree)
        if known:
            return UnreadableSource(f"{tree.name} is {known[0]}", _UNREAD, known[1])
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
    if not tree.files and not tree.findings:
        return UnreadableSource(
            f"{tree.name} is empty", "There are no files in it.", "Drop the package or document that holds the questions."
        )
    if _MANIFEST in tree.files:
        return _of_package(tree)
    held = count_words(len(tree.files), "file") if tree.files else "nothing that can be opened"
    way_out = tree.findings[0].message if tree.findings else "Drop the package or document that holds the questions."
    return UnreadableSource(f"{tree.name} holds {held}", "None of it is in a format that is read here.", way_out)
