"""Small files that ask for much: nothing in reading is worse than linear in what is given, or it is bounded, with a message.

What is here took more than a minute or all memory, and is read in seconds.
"""

from __future__ import annotations

import io
import zipfile
from contextlib import suppress

import pytest

from rogatum.core.errors import KeysAlone, UnreadableSource
from rogatum.core.formats.word_documents.tamed import tamed
from rogatum.core.receiving import read_source

WORD = "http://schemas.openxmlformats.org/wordprocessingml/2006/main"
TYPES = "application/vnd.openxmlformats-officedocument.wordprocessingml.document.main+xml"
RELATIONS = "http://schemas.openxmlformats.org"


def docx(body: str) -> bytes:
    parts = {
        "[Content_Types].xml": f'<Types xmlns="{RELATIONS}/package/2006/content-types"><Override PartName="/word/document.xml" ContentType="{TYPES}"/></Types>',
        "_rels/.rels": f'<Relationships xmlns="{RELATIONS}/package/2006/relationships"><Relationship Id="r1" Type="{RELATIONS}/officeDocument/2006/relationships/officeDocument" Target="word/document.xml"/></Relationships>',
        "word/document.xml": f'<w:document xmlns:w="{WORD}"><w:body>{body}</w:body></w:document>',
    }
    made = io.BytesIO()
    with zipfile.ZipFile(made, "w", zipfile.ZIP_DEFLATED) as archive:
        for name, text in parts.items():
            archive.writestr(name, text)
    return made.getvalue()


def paragraph(text: str) -> str:
    return f"<w:p><w:r><w:t>{text}</w:t></w:r></w:p>"


def nested(depth: int) -> bytes:
    inner = paragraph("1. Which?")
    for _ in range(depth):
        inner = f"<w:tbl><w:tr><w:tc>{inner}<w:p/></w:tc></w:tr></w:tbl>"
    return docx(inner + paragraph("a. sand") + paragraph("*b. clay"))


def many_texts(count: int) -> bytes:
    made = io.BytesIO()
    with zipfile.ZipFile(made, "w") as archive:
        for number in range(count):
            archive.writestr(f"t{number}.txt", "1. A?\n*a. x\nb. y\n")
    return made.getvalue()


def attributes(count: int) -> bytes:
    said = " ".join(f'a{n}="x"' for n in range(count))
    return f'<questestinterop><item ident="a" {said}><presentation/></item></questestinterop>'.encode()


HEAD = "1. Which?\n\n"
# What is read as it stands, in the time that its length takes.
READ = {
    "tables in tables.docx": nested(40),
    "tables in tables.html": ("<p>1. Which?</p>" + "<table><tr><td>" * 30 + "x" + "</td></tr></table>" * 30).encode(),
    "open brackets.md": (HEAD + "[" * 5000).encode(),
    "brackets in brackets.md": (HEAD + "[" * 3000 + "]" * 3000).encode(),
    "open links.md": (HEAD + "[a](b" * 3000).encode(),
    "open links with angles.md": (HEAD + "[a](<b" * 3000).encode(),
    "open pictures.md": (HEAD + "![" * 3000).encode(),
    "open code.md": (HEAD + " ".join("`" * n for n in range(1, 300))).encode(),
    "quotes in quotes.md": ("> " * 5000 + "1. Which?").encode(),
    "many numbers without choices.txt": "".join(f"___ {n}. Loam holds sand.\n" for n in range(1, 4000)).encode(),
    "many lists behind one question.txt": b"1. Which?\n" + b"Which?\n*a. x\nb. y\n" * 8000,
    "many headings of keys.txt": b"1. Which?\n*a. x\nb. y\n\n" + b"Answer key\n1. A\n2. B\n" * 4000,
    "many numbers alone.txt": b"1. Which?\n*a. x\nb. y\n\n" + b"".join(b"%d\n" % n for n in range(1, 9000)),
    "a long paragraph.docx": docx(paragraph("1. word " * 20_000)),
}
# What is refused, with how much of it is taken.
REFUSED = {
    "attributes.xml": (attributes(50_000), "1,000 attributes"),
    "columns.csv": ((",".join(f"choice {n}" for n in range(5000)) + "\n" + ",".join("x" * 5000)).encode(), "500 columns"),
    "texts.zip": (many_texts(2500), "2,000 files"),
    "one paragraph.txt": (b"1. " + b"word " * 60_000, "200,000"),
}


@pytest.mark.parametrize("name", READ)
def test_what_asks_for_much_is_read_in_bounds(name):
    """Each took more than the 60 s that its reader may take, or all memory."""
    with suppress(KeysAlone):  # a list of very many keys is told as what it is
        assert read_source((name, READ[name])).bank.accounting is not None


@pytest.mark.parametrize("name", REFUSED)
def test_what_is_too_much_is_refused_with_how_much_is_taken(name):
    data, words = REFUSED[name]
    with pytest.raises(UnreadableSource) as refused:
        read_source((name, data))
    assert words in refused.value.why and refused.value.way_out


def test_markdown_that_people_write_is_left_as_it_is():
    text = "1. A [link](x) and ![a picture](p.png), `code`, [^1] and [ ] a box\n\n> > quoted\n\n" + "[a](b) " * 40
    assert tamed(text) == text
