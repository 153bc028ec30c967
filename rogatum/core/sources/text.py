"""Text from bytes, whatever their encoding, saying so where it was guessed."""

from __future__ import annotations

import codecs

from rogatum.core.errors import UnreadableSource
from rogatum.core.finding import Finding
from rogatum.core.findings.contents import CHARACTERS_REMOVED, ENCODING_GUESSED
from rogatum.core.spaces import NO_CHARACTERS

BOMS = (
    (codecs.BOM_UTF8, "utf-8-sig"),
    (codecs.BOM_UTF32_LE, "utf-32"),
    (codecs.BOM_UTF16_LE, "utf-16"),
    (codecs.BOM_UTF16_BE, "utf-16"),
)
# The container of office programs before they packed XML; also of what they pack under a password.
OLD_BINARY = b"\xd0\xcf\x11\xe0"
KINDS = (
    (b"%PDF", "a PDF document", "Save the questions as text or as a Word document, and drop that."),
    (OLD_BINARY, "a document of an old binary format", "Open it where it was made and save it as .docx or .xlsx."),
    (b"\x89PNG", "a picture", "Drop the document that holds the questions."),
    (b"\xff\xd8\xff", "a picture", "Drop the document that holds the questions."),
    (b"GIF8", "a picture", "Drop the document that holds the questions."),
    (b"\x1f\x8b", "an archive of another kind (gzip)", "Unpack it and drop what is inside."),
    (b"Rar!", "an archive of another kind (rar)", "Unpack it and drop what is inside."),
    (b"7z\xbc\xaf", "an archive of another kind (7z)", "Unpack it and drop what is inside."),
    (b"SQLite format 3", "a database", "Export the questions from the program that made it."),
    (b"ID3\x03", "a recording", "Drop the document that holds the questions."),
    (b"ID3\x04", "a recording", "Drop the document that holds the questions."),
    (b"OggS\x00", "a recording", "Drop the document that holds the questions."),
    (b"\x7fELF", "a program", "Drop the document that holds the questions."),
    (b"MZ", "a program", "Drop the document that holds the questions."),
)


def sound_text(text: str, name: str) -> tuple[str, list[Finding]]:
    """A text without characters that nothing can hold, and the finding that says so where there were any."""
    if NO_CHARACTERS.search(text) is None:
        return text, []
    return NO_CHARACTERS.sub("", text), [CHARACTERS_REMOVED.at(name)]


def kind_of_bytes(head: bytes) -> tuple[str, str] | None:
    """What bytes that are no text seem to be, and the way out; None when they may be text."""
    for magic, what, way_out in KINDS:
        if head.startswith(magic):
            return what, way_out
    if _wide_encoding(head) is None and b"\x00" in head[:2048]:
        return "a binary file", "Drop the document or package that holds the questions."
    return None


def looks_like_text(head: bytes) -> bool:
    return kind_of_bytes(head) is None and not head.startswith(b"PK\x03\x04")


def _wide_encoding(data: bytes) -> str | None:
    """UTF-16 or UTF-32 by byte order mark, or UTF-16 by its zero bytes."""
    for bom, encoding in BOMS[1:]:
        if data.startswith(bom):
            return encoding
    sample = data[:400]
    if len(sample) >= 4:
        even, odd = sample[0::2].count(0), sample[1::2].count(0)
        if odd > len(sample) * 0.3 and even == 0:
            return "utf-16-le"
        if even > len(sample) * 0.3 and odd == 0:
            return "utf-16-be"
    return None


def decode_text(data: bytes, name: str) -> tuple[str, list[Finding]]:
    """Text with line ends as \\n, and a finding where the encoding was guessed. Raises UnreadableSource for no text."""
    known = kind_of_bytes(data[:4096])
    if known is not None:
        raise UnreadableSource(f"{name} is {known[0]}", "It holds no text that could be read.", known[1])
    findings: list[Finding] = []
    encoding = "utf-8-sig" if data.startswith(codecs.BOM_UTF8) else _wide_encoding(data)
    if encoding is not None and encoding.startswith("utf-16") and len(data) % 2:
        # A file that was cut may end within a unit; the rest of it is as sound as before.
        data = data[:-1]
    try:
        text = data.decode(encoding or "utf-8")
    except UnicodeDecodeError:
        # cp1252 leaves five bytes undefined; Latin-1 never fails, so the text is always read, and always said.
        guessed = "cp1252" if _decodes(data, "cp1252") else "latin-1"
        text = data.decode(guessed)
        findings.append(ENCODING_GUESSED.at(name, encoding={"cp1252": "Windows-1252", "latin-1": "Latin-1"}[guessed]))
    return text.replace("\r\n", "\n").replace("\r", "\n").replace("\x00", ""), findings


def _decodes(data: bytes, encoding: str) -> bool:
    try:
        data.decode(encoding)
    except UnicodeDecodeError:
        return False
    return True
