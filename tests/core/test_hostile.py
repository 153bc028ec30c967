"""Input that means harm, or is broken: a clear refusal or a finding, never a crash, never a half."""

from __future__ import annotations

import io
import zipfile

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from rogatum.core.errors import UnreadableSource
from rogatum.core.items.content import rich
from rogatum.core.receiving import read_bare, read_source
from rogatum.core.sources import Limits, open_bytes
from tests.core.paces import is_bounded

ITEM = '<item ident="q"><presentation><material><mattext>Stem {}</mattext></material></presentation></item>'
GOOD = "<questestinterop>" + ITEM.format("&x;") + "</questestinterop>"


def zipped(**files: bytes) -> bytes:
    data = io.BytesIO()
    with zipfile.ZipFile(data, "w", zipfile.ZIP_DEFLATED) as archive:
        for name, content in files.items():
            archive.writestr(name.replace("__", "/").replace("_dot_", "."), content)
    return data.getvalue()


def test_external_entities_are_not_fetched(tmp_path):
    secret = tmp_path / "secret"
    secret.write_text("very secret")
    text = f'<!DOCTYPE q [<!ENTITY x SYSTEM "file://{secret}">]>' + GOOD
    bank = read_source(("x.xml", text.encode())).bank
    assert "very secret" not in bank.model_dump_json()
    assert ("entities-unknown", "error") in [(f.code, f.level) for f in bank.findings]


def test_entity_bombs_do_not_swell():
    layers = "".join(f'<!ENTITY l{n} "{f"&l{n - 1};" * 10}">' for n in range(1, 12))
    text = f'<!DOCTYPE q [<!ENTITY l0 "lol">{layers}<!ENTITY x "&l11;">]>' + GOOD

    def read() -> None:
        assert len(read_source(("x.xml", text.encode())).bank.items[0].stem) < 100

    assert is_bounded(read)


@pytest.mark.parametrize("name", ["../up.xml", "a/../../up.xml", "/etc/up.xml", "C:/up.xml", "..\\up.xml"])
def test_paths_that_lead_out_are_refused(name):
    data = io.BytesIO()
    with zipfile.ZipFile(data, "w") as archive:
        archive.writestr(name, GOOD)
    with pytest.raises(UnreadableSource, match="leads outside"):
        read_source(("x.zip", data.getvalue()))


@pytest.mark.parametrize(
    ("limits", "why"),
    [(Limits(files=2), "3 files"), (Limits(total=1_000_000), "Unpacked"), (Limits(ratio_from=1000, ratio=20), "swell")],
)
def test_archive_bombs_are_refused(limits, why):
    data = zipped(a_dot_xml=b"0" * 3_000_000, b_dot_xml=b"x", c_dot_xml=b"y")
    with pytest.raises(UnreadableSource, match=why):
        open_bytes(data, "x.zip", limits)


MANIFEST_OF_TWO = (
    '<manifest xmlns="http://www.imsglobal.org/xsd/imscp_v1p1" identifier="m"><organizations/><resources>'
    + "".join(f'<resource identifier="{n}" type="imsqti_xmlv1p2" href="{n}.xml"><file href="{n}.xml"/></resource>' for n in "ab")
    + "</resources></manifest>"
)


@pytest.mark.parametrize("encoding", ["utf-8", "utf-16", "utf-16-le", "latin-1"])
@given(part=st.floats(0, 0.99))
@settings(max_examples=25)
def test_a_file_of_a_package_that_is_cut_anywhere_is_an_error(encoding, part):
    whole = (f'<?xml version="1.0" encoding="{encoding}"?>' + GOOD.replace("&x;", "Größe")).encode(encoding)
    cut = whole[: int(len(whole.rstrip()) * part)]
    bank = read_source(("x.zip", zipped(imsmanifest_dot_xml=MANIFEST_OF_TWO.encode(), a_dot_xml=whole, b_dot_xml=cut))).bank
    assert "Stem Größe" in [item.stem for item in bank.items]
    assert any(finding.level == "error" and "b.xml" in finding.message + finding.where for finding in bank.findings)


def test_archives_too_deep_are_named_and_the_rest_is_read():
    inner = zipped(deep_dot_xml=GOOD.replace("&x;", "deep").encode())
    for _ in range(4):
        inner = zipped(next_dot_zip=inner)
    data = zipped(next_dot_zip=inner, top_dot_xml=GOOD.replace("&x;", "top").encode())
    bank = read_source(("x.zip", data)).bank
    assert [item.stem for item in bank.items] == ["Stem top"]
    assert any(f.code == "file-unread" and "inside" in f.message for f in bank.findings)


def test_a_password_is_said():
    data = bytearray(zipped(a_dot_xml=GOOD.encode()))
    for mark, offset in ((b"PK\x03\x04", 6), (b"PK\x01\x02", 8)):
        data[data.index(mark) + offset] |= 1
    with pytest.raises(UnreadableSource, match="password"):
        read_source(("x.zip", bytes(data)))


@pytest.mark.parametrize(
    ("data", "what"),
    [
        (b"", "empty"),
        (b"%PDF-1.7 ...", "PDF"),
        (b"\xd0\xcf\x11\xe0" + b"\0" * 600, "old binary format"),
        (b"\xd0\xcf\x11\xe0" + b"\0" * 9000 + "EncryptedPackage".encode("utf-16-le") + b"\0" * 90, "protected by a password"),
        (b"\x89PNG\r\n\x1a\n", "picture"),
        (b"PK\x03\x04broken", "zip archive"),
        (b"<report><body>1. x</body></report>", "markup"),
        (b"\x00\x01\x02" * 300, "binary"),
    ],
)
def test_wrong_kinds_are_named_with_a_way_out(data, what):
    with pytest.raises(UnreadableSource) as refusal:
        read_source(("file", data))
    assert what in str(refusal.value) and len(refusal.value.way_out) > 10


def test_a_document_of_60_mb_is_refused_before_it_is_read():
    with pytest.raises(UnreadableSource, match="60 MB"):
        read_source(("x.xml", b"<questestinterop>" + b" " * (60 * 1024 * 1024)))


@pytest.mark.parametrize(
    "markup",
    [
        "<script>alert(1)</script>ok",
        "<p onclick='x()'>ok</p>",
        '<a href="javascript:x()">ok</a>',
        "<svg/onload=x()>ok",
        "<style>*{}</style>ok",
    ],
)
def test_active_content_is_removed(markup):
    clean = rich(markup)
    assert "ok" in clean and not any(bad in clean for bad in ("script", "onclick", "onload", "style", "alert"))


def test_deep_nesting_and_huge_attributes_are_bounded():
    deep = "<questestinterop>" + "<section>" * 5000 + ITEM.format("x") + "</section>" * 5000 + "</questestinterop>"
    huge = f'<questestinterop><item ident="{"x" * 12_000_000}"/></questestinterop>'
    for text in (deep, huge):
        try:
            read_source(("x.xml", text.encode()))
        except UnreadableSource as refusal:
            assert refusal.way_out


def test_double_identifiers_are_parted():
    text = "<questestinterop>" + ITEM.format("one") + ITEM.format("two") + "</questestinterop>"
    bank = read_source(("x.xml", text.encode())).bank
    assert [item.id for item in bank.items] == ["q", "q-2"] and "double-id" in [f.code for f in bank.findings]


SOURCE = GOOD.replace("&x;", "what").encode()


@settings(max_examples=150)
@given(cut=st.integers(0, len(SOURCE)), junk=st.binary(max_size=12), more=st.integers(0, 30))
def test_a_mutated_file_gives_a_bank_or_a_refusal(cut, junk, more):
    for data in (SOURCE[:cut] + junk + SOURCE[cut + more :], zipped(a_dot_xml=SOURCE)[:cut] + junk):
        try:
            read_source(("x.xml", data))
        except UnreadableSource as refusal:
            assert refusal.what and refusal.way_out


@pytest.mark.parametrize("encoding", ["utf-8", "utf-16"])
def test_characters_that_are_none_go_from_markup_as_from_text(encoding):
    """The XML library takes them in names of namespaces, and fails on its own names then."""
    root = '<questestinterop xmlns="http://www.ims\ufffeglobal.org/x">'
    test = f'<?xml version="1.0" encoding="{encoding}"?>{root}{ITEM.format(chr(0xFFFF))}</questestinterop>'
    bank = read_source(("x.xml", test.encode(encoding))).bank
    assert [item.stem for item in bank.items] == ["Stem"]
    assert "characters-removed" in [finding.code for finding in bank.findings]


def test_characters_that_are_none_go_from_a_web_page():
    bank = read_source(("x.html", "<h1>T</h1><o\ufffep>1. Which?</o\ufffep><p>*a. x</p><p>b. y</p>".encode())).bank
    assert [choice.content for item in bank.items for choice in item.choices] == ["x", "y"]
    assert "characters-removed" in [finding.code for finding in bank.findings]


@pytest.mark.parametrize("method", [zipfile.ZIP_DEFLATED, zipfile.ZIP_BZIP2, zipfile.ZIP_LZMA])
@pytest.mark.parametrize("name", ["test.docx", "test.odt", "test.xlsx", "test.zip"])
def test_damage_within_an_archive_is_refused_however_it_is_packed(name, method):
    """What unpacks bzip2 says of damage what else only disks say."""
    marks = {"test.docx": "word/document.xml", "test.odt": "content.xml", "test.xlsx": "xl/workbook.xml"}
    buffer = io.BytesIO()
    with zipfile.ZipFile(buffer, "w", method) as archive:
        archive.writestr("mimetype" if name == "test.odt" else "a.txt", "application/vnd.oasis.opendocument.text")
        archive.writestr(marks.get(name, "test.xml"), b"<questestinterop>" + bytes(range(256)) * 40)
    data = bytearray(buffer.getvalue())
    at = data.index(marks.get(name, "test.xml").encode()) + 40
    data[at : at + 200] = b"\x55" * min(200, len(data) - at)
    with pytest.raises(UnreadableSource) as refused:
        read_bare((name, bytes(data)))
    assert refused.value.way_out
