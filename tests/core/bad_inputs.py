"""Bad inputs as people have them: what each is, as bytes under a name."""

from __future__ import annotations

import io
import json
import zipfile
from collections.abc import Mapping

import openpyxl
import typst

from rogatum.core.formats.shared import pandoc

OLE = bytes.fromhex("d0cf11e0a1b11ae1")
PACKAGE = '<manifest xmlns="http://www.imsglobal.org/xsd/imscp_v1p1" identifier="m"><resources>{}</resources></manifest>'
QTI12 = '<questestinterop><assessment ident="a" title="T">{}</assessment></questestinterop>'


def zipped(files: Mapping[str, str | bytes]) -> bytes:
    buffer = io.BytesIO()
    with zipfile.ZipFile(buffer, "w") as archive:
        for name, data in files.items():
            archive.writestr(name, data)
    return buffer.getvalue()


def docx(*paragraphs: str) -> bytes:
    return pandoc.written("".join(f"<p>{text}</p>" for text in paragraphs), "docx", "test.docx", {})


def odt(*paragraphs: str) -> bytes:
    return pandoc.written("".join(f"<p>{text}</p>" for text in paragraphs), "odt", "test.odt", {})


def workbook(*rows: list[str]) -> bytes:
    book, buffer = openpyxl.Workbook(), io.BytesIO()
    for row in rows:
        book.active.append(row)
    book.save(buffer)
    return buffer.getvalue()


def under_a_password(data: bytes) -> bytes:
    """An archive that says of its files that they are encrypted."""
    marked = bytearray(data)
    for sign, offset in ((b"PK\x03\x04", 6), (b"PK\x01\x02", 8)):
        at = data.find(sign)
        while at >= 0:
            marked[at + offset] |= 1
            at = data.find(sign, at + 4)
    return bytes(marked)


def ole(stream: str) -> bytes:
    return OLE + b"\x00" * 504 + stream.encode("utf-16-le") + b"\x00" * 2048


def pdf() -> bytes:
    return bytes(typst.compile(b"= A test\n1. What is loam?"))


TEXT = "1. What is loam?\na. sand\n*b. soil\n"
GOOD = docx("1. What is loam?", "a. sand", "*b. soil")
PROSE = "The syllabus of this course.\n\nWe meet on Mondays. Bring a spade and boots.\n"
PICTURE = b"\x89PNG\r\n\x1a\n" + b"\x00" * 64

BAD: dict[str, tuple[str, bytes]] = {
    "nothing in it": ("empty.txt", b""),
    "white space alone": ("blank.txt", b" \n\t\n  \n"),
    "an empty archive": ("empty.zip", zipped({})),
    "an archive of pictures": ("pictures.zip", zipped({"a.png": PICTURE, "b.png": PICTURE})),
    "an archive with folders alone": ("folders.zip", zipped({"a/": b"", "a/b/": b""})),
    "an archive under a password": ("locked.zip", under_a_password(zipped({"test.txt": TEXT}))),
    "an archive that is cut off": ("cut.zip", zipped({"test.txt": TEXT * 400})[:200]),
    "an archive of an archive of nothing": ("nested.zip", zipped({"inner.zip": zipped({})})),
    "a document under a password": ("locked.docx", ole("EncryptedPackage")),
    "a workbook under a password": ("locked.xlsx", ole("EncryptedPackage")),
    "an old binary document": ("old.doc", ole("WordDocument")),
    "an old binary workbook": ("old.xls", ole("Workbook")),
    "old slides": ("old.ppt", ole("PowerPoint Document")),
    "a document without questions": ("syllabus.docx", docx("The syllabus of this course.", "We meet on Mondays.")),
    "an empty document": ("empty.docx", docx()),
    "a document that is cut off": ("cut.docx", GOOD[: len(GOOD) // 2]),
    "a document without its text": ("hollow.docx", zipped({"[Content_Types].xml": "<Types/>", "word/styles.xml": "<x/>"})),
    "a document with broken XML": (
        "broken.docx",
        zipped({"[Content_Types].xml": "<Types/>", "word/document.xml": "<w:document><w:body>"}),
    ),
    "an OpenDocument text without questions": ("prose.odt", odt("Bring a spade.")),
    "an OpenDocument text without content": ("hollow.odt", zipped({"mimetype": "application/vnd.oasis.opendocument.text"})),
    "a rich text that is cut off": ("cut.rtf", b"{\\rtf1\\ansi {\\b"),
    "a workbook without rows": ("empty.xlsx", workbook()),
    "a workbook with headings alone": ("headings.xlsx", workbook(["Question", "A", "B", "Answer"])),
    "a workbook of something else": ("marks.xlsx", workbook(["Student", "Mark"], ["Ann", "12"], ["Bo", "9"])),
    "a table without question column": ("marks.csv", b"student,mark\nAnn,12\nBo,9\n"),
    "prose": ("syllabus.txt", PROSE.encode()),
    "a web page of something else": ("page.html", b"<html><body><h1>News</h1><p>Bring a spade.</p></body></html>"),
    "slides": ("slides.pptx", zipped({"[Content_Types].xml": "<Types/>", "ppt/presentation.xml": "<p/>"})),
    "a PDF": ("test.pdf", pdf()),
    "a picture": ("scan.png", PICTURE),
    "a program": ("setup.exe", b"MZ\x90\x00" + b"\x00" * 200),
    "a recording": ("talk.mp3", b"ID3\x04\x00\x00\x00\x00\x00\x00" + b"\x00" * 200),
    "a database": ("course.sqlite3", b"SQLite format 3\x00" + b"\x00" * 200),
    "XML that is cut off": ("test.xml", QTI12.format("<section><item ident='i1'>")[:60].encode()),
    "XML of something else": ("feed.xml", b"<rss><channel><title>News</title></channel></rss>"),
    "QTI without items": ("empty.xml", QTI12.format("<section ident='s'/>").encode()),
    "a package that names no questions": ("package.zip", zipped({"imsmanifest.xml": PACKAGE.format("")})),
    "a package whose files are missing": (
        "package.zip",
        zipped(
            {
                "imsmanifest.xml": PACKAGE.format(
                    '<resource identifier="r" type="imsqti_item_xmlv2p1" href="gone.xml"><file href="gone.xml"/></resource>'
                )
            }
        ),
    ),
    "a manifest that is cut off": ("package.zip", zipped({"imsmanifest.xml": PACKAGE.format("")[:60]})),
    "JSON of something else": ("data.json", json.dumps({"rows": [1, 2]}).encode()),
    "JSON that is cut off": ("items.json", b'{"format": "rogatum-items/1", "items": [{"id"'),
    "a text in an unknown encoding": ("noise.txt", bytes(range(128, 256)) * 20),
    "an essay of one line": ("line.txt", b"Soil"),
}
