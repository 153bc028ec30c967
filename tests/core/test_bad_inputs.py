"""What is said of bad inputs: what it is, why it is not read, and the way out. The table is the wish, read by a person."""

from __future__ import annotations

import pytest

from rogatum.core.errors import RogatumError
from rogatum.core.findings.numbering import NO_ITEMS
from rogatum.core.receiving import read_source
from tests.core.bad_inputs import BAD

# Read, and found to hold no question.
NOTHING = ""
SAID = {
    "nothing in it": "empty.txt is an empty file: It has no bytes. Export or save it again.",
    "white space alone": NOTHING,
    "an empty archive": "empty.zip is empty: There are no files in it. Drop the package or document that holds the questions.",
    "an archive of pictures": "pictures.zip holds 2 files: None of it is in a format that is read here. Drop the package or document that holds the questions.",
    "an archive with folders alone": "folders.zip is empty: There are no files in it. Drop the package or document that holds the questions.",
    "an archive under a password": "locked.zip is an archive: It is protected by a password. Unpack it with the password and drop what is inside.",
    "an archive that is cut off": "cut.zip is a zip archive: It is damaged or incomplete. Download or export it again.",
    "an archive of an archive of nothing": "nested.zip is empty: There are no files in it. Drop the package or document that holds the questions.",
    "a document under a password": "locked.docx is protected by a password: Nothing of it can be read without the password. Open it where it was made, save it without a password, and drop that.",
    "a workbook under a password": "locked.xlsx is protected by a password: Nothing of it can be read without the password. Open it where it was made, save it without a password, and drop that.",
    "an old binary document": "old.doc is a document of an old binary format: It holds no questions that could be read. Open it where it was made and save it as .docx.",
    "an old binary workbook": "old.xls is a workbook of an old binary format: It holds no questions that could be read. Open it where it was made and save it as .xlsx.",
    "old slides": "old.ppt is a file of slides of an old binary format: It holds no questions that could be read. Copy the questions into a document, and drop that.",
    "a document without questions": NOTHING,
    "an empty document": NOTHING,
    "a document that is cut off": "cut.docx is a document: It is damaged or incomplete. Download or export it again.",
    "a document without its text": "hollow.docx is packed as documents are: It is damaged: its text is not in it. Open it where it was made and save it again.",
    "a document with broken XML": "broken.docx is a document: It is damaged or incomplete (couldn't parse docx file: DocxError). Open it where it was made and save it again.",
    "an OpenDocument text without questions": NOTHING,
    "an OpenDocument text without content": "hollow.odt is a document: It is damaged or incomplete",
    "a rich text that is cut off": "cut.rtf is a document: It is damaged or incomplete",
    "a workbook without rows": NOTHING,
    "a workbook with headings alone": NOTHING,
    "a workbook of something else": NOTHING,
    "a table without question column": NOTHING,
    "prose": NOTHING,
    "a web page of something else": NOTHING,
    "slides": "slides.pptx holds slides: It holds no questions that could be read. Copy the questions into a document, and drop that.",
    "a PDF": "test.pdf is a PDF document: It holds no questions that could be read. Save the questions as text or as a Word document, and drop that.",
    "a picture": "scan.png is a picture: It holds no questions that could be read. Drop the document that holds the questions.",
    "a program": "setup.exe is a program: It holds no questions that could be read. Drop the document that holds the questions.",
    "a recording": "talk.mp3 is a recording: It holds no questions that could be read. Drop the document that holds the questions.",
    "a database": "course.sqlite3 is a database: It holds no questions that could be read. Export the questions from the program that made it.",
    "XML that is cut off": "test.xml is an XML file: The XML breaks off: line 1",
    "XML of something else": "feed.xml is a file with markup: It is in no format that is read here. Export it as QTI 1.2 or as text.",
    "QTI without items": NOTHING,
    "a package that names no questions": "package.zip is a package: Its manifest names no questions, and no file beside it is read here. Export it again with its questions.",
    "a package whose files are missing": "package.zip is a source in QTI 2.1: Its manifest names gone.xml, and that is not in it. Export it again with its items.",
    "a manifest that is cut off": "package.zip is a package: Its manifest (imsmanifest.xml) breaks off, and no file beside it is read here. Export it again with its questions.",
    "JSON of something else": "data.json is of an unknown kind: No format that is read here fits it. Export the questions as QTI 1.2, GIFT or text.",
    "JSON that is cut off": "items.json is a JSON file: It does not hold a bank",
    "a text in an unknown encoding": NOTHING,
    "an essay of one line": NOTHING,
}


def test_every_bad_input_has_its_message():
    assert SAID.keys() == BAD.keys() and len(BAD) >= 40


@pytest.mark.parametrize("what", BAD)
def test_a_bad_input_is_called_what_it_is(what):
    name, data = BAD[what]
    try:
        said, codes = "", [finding.code for finding in read_source((name, data)).bank.findings]
    except RogatumError as refused:
        said, codes = str(refused), []
    assert said.startswith(SAID[what]) and bool(said) == bool(SAID[what])
    assert said or NO_ITEMS.code in codes
