"""Nothing that a source names is ever one of ours: no path, no address, no hash; and nothing ill-formed reaches a writer."""

from __future__ import annotations

import hashlib
import io
import json
import zipfile

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from rogatum.core.admission import Gate, admit_item
from rogatum.core.exporting import export_bank
from rogatum.core.formats import writable_formats
from rogatum.core.formats.shared import pandoc
from rogatum.core.items import Bank, Essay, Preserved, TrueFalse
from rogatum.core.items.content import media_refs, tree_of
from rogatum.core.receiving import read_source
from rogatum.core.sources import MediaBox, SourceFile

ADDRESSES = [
    "{path}",
    "file://{path}",
    "../../{path}",
    "http://127.0.0.1:9/x.png",
    "//127.0.0.1/x.png",
    "media/{path}",
    "media/../x",
]
QTI1 = (
    '<questestinterop><item ident="q"><presentation><material><mattext texttype="text/html">{}</mattext></material>'
    "</presentation></item></questestinterop>"
)
QTI2 = (
    '<assessmentItem xmlns="http://www.imsglobal.org/xsd/imsqti_v2p1" identifier="q" title="t" adaptive="false" timeDependent="false">'
    '<responseDeclaration identifier="RESPONSE" cardinality="single" baseType="string"/><itemBody><div>{}</div>'
    '<extendedTextInteraction responseIdentifier="RESPONSE"/></itemBody></assessmentItem>'
)


def items_json(markup: str) -> str:
    return json.dumps({"format": "rogatum-items/1", "items": [{"id": "q", "type": "essay", "stem": markup}]})


def address_in(markup: str) -> str:
    return markup.split('"')[1]


WAYS_IN = {
    "items-json": ("x.json", items_json),
    "gift": ("x.gift", lambda markup: f"::q:: [html]{markup.replace(':', chr(92) + ':').replace('=', chr(92) + '=')} {{}}"),
    "qti-1.2": ("x.xml", lambda markup: QTI1.format(markup.replace("<", "&lt;"))),
    "qti-2.1": ("x.xml", lambda markup: QTI2.format(markup)),
    "html": ("x.html", lambda markup: f"<html><body><p>1. What {markup} is it?</p><p>Answer: a</p></body></html>"),
    "markdown": ("x.md", lambda markup: f"# Test\n\n1. What ![pit]({address_in(markup)}) is it?\n\nAnswer: a\n"),
    "sheet": ("x.csv", lambda markup: f'question,answer\n"What {markup.replace(chr(34), chr(39))} is it?",a\n'),
}


@pytest.fixture
def secret(tmp_path):
    path = tmp_path / "secret.png"
    path.write_bytes(b"\x89PNG\r\n\x1a\n very secret")
    return path


@pytest.mark.parametrize("address", ADDRESSES)
@pytest.mark.parametrize("way", WAYS_IN)
def test_a_picture_that_is_not_the_banks_own_is_a_missing_one(way, address, secret):
    name, made = WAYS_IN[way]
    bank = read_source((name, made(f'<img src="{address.format(path=secret)}" alt="pit"/>').encode())).bank
    [item] = bank.items
    assert media_refs(item.stem) == [] and bank.media == []
    assert "media-missing" in {finding.code for finding in bank.findings if finding.item == item.id}


@pytest.mark.parametrize("address", ADDRESSES)
@pytest.mark.parametrize("entry", writable_formats(), ids=lambda entry: entry.name)
def test_no_hand_off_holds_a_file_of_the_server(entry, address, secret):
    """Not even where a store holds such an item already."""
    bank = Bank(items=[Essay(id="q", stem=f'What? <img src="{address.format(path=secret)}" alt="pit"/>')])
    written = export_bank(bank, MediaBox(), entry.name).written.data
    inside = [written]
    if written.startswith(b"PK"):
        with zipfile.ZipFile(io.BytesIO(written)) as archive:
            inside += [archive.read(name) for name in archive.namelist()]
    assert not any(b"very secret" in data or b"dmVyeSBzZWNyZXQ" in data or b"76657279" in data for data in inside)


@pytest.mark.parametrize("kind", ["docx", "odt", "rtf", "html", "markdown"])
def test_pandoc_reads_what_it_is_handed_and_nothing_else(kind, secret):
    page = f'<p>Hi <img src="{secret}"/> <img src="file://{secret}"/></p>'
    written = pandoc.written(page, kind, "x", {})
    assert b"very secret" not in written and b"76657279" not in written


def banked(entry: dict[str, object], name: str = "media/pit.png") -> bytes:
    out = io.BytesIO()
    item = {"id": "q", "type": "essay", "stem": f'<img src="{entry["ref"]}" alt="pit"/>'}
    with zipfile.ZipFile(out, "w") as archive:
        archive.writestr("items.json", json.dumps({"format": "rogatum-items/1", "items": [item], "media": [entry]}))
        archive.writestr(name, b"\x89PNG bytes")
    return out.getvalue()


@pytest.mark.parametrize("declared", ["../../evil", "/etc/cron.d/evil", "0" * 64, "", "\x00", "a" * 9000])
def test_hashes_are_found_from_bytes_and_never_taken(declared):
    entry = {"ref": "media/pit.png", "sha256": declared, "size": -1, "type": "text/html"}
    reading = read_source(("bank.zip", banked(entry)))
    [media] = reading.media.entries()
    assert media.sha256 == hashlib.sha256(b"\x89PNG bytes").hexdigest()
    assert (media.size, media.type, reading.bank.media) == (10, "image/png", [media])
    assert media_refs(reading.bank.items[0].stem) == [media.ref]


@pytest.mark.parametrize("ref", ["../pit.png", "/media/pit.png", "media/../media/pit.png", "media\\pit.png", "pit.png"])
def test_media_are_named_by_us(ref):
    reading = read_source(("bank.zip", banked({"ref": ref, "sha256": "", "size": 0, "type": ""})))
    for entry in reading.media.entries():
        assert entry.ref == "media/pit.png"


@pytest.mark.parametrize("name", ["..", ".", "...", "/", "\\", "", "a" * 400, "x\x00y", ".hidden"])
def test_a_medium_gets_a_name_that_is_one(name):
    ref = MediaBox().add_bytes(name, b"x")
    base = ref.removeprefix("media/")
    assert base and not base.startswith(".") and "/" not in base and "\x00" not in base and len(base) <= 130


@pytest.mark.parametrize("name", ["..", ".", "../../x", "a" * 300, "/etc/passwd"])
def test_a_name_of_a_source_is_only_a_name(name, tmp_path):
    stored = tmp_path / ("0" * 64)
    stored.write_text("1. What?\n*a. x\nb. y\n")
    reading = read_source(SourceFile(name, stored.stat().st_size, lambda: stored.open("rb")), "marked-text")
    assert len(reading.bank.items) == 1


ILL = [
    "<p>open",
    "a & b",
    "<b>x</i>",
    "&nbsp;x",
    "<p onclick='x()'>y</p>",
    "<script>x()</script>y",
    "x\x01\ud800y\ufffe",
    "<?pi?>y",
    "<!-- c -->y",
    "a[b[0]]>5",
]


@pytest.mark.parametrize("content", ILL)
@pytest.mark.parametrize("entry", writable_formats(), ids=lambda entry: entry.name)
def test_what_is_ill_formed_reaches_no_writer(content, entry):
    item = TrueFalse(
        id="q\x01", title=content, stem=content, answer=True, feedback={"general": content}, metadata={"page": [content]}
    )
    bank = Bank(title="x\x02", items=[item, Preserved(id="p", original=content, original_format=entry.name, reason="x")])
    export = export_bank(bank, MediaBox(), entry.name)
    assert export.written.data and len(export.read_back.items) >= 1


@given(content=st.text(max_size=80) | st.text(alphabet="<>&]/ab\"'=\x01\ud800 pimgsrc", max_size=60))
@settings(max_examples=300)
def test_whatever_comes_the_gate_lets_well_formed_content_through_once(content):
    gate = Gate(set())
    passed = gate.content(content)
    tree_of(passed)
    assert media_refs(passed) == [] and Gate(set()).content(passed) == passed


def test_what_is_sound_passes_as_the_same_thing():
    media = MediaBox()
    ref = media.add_bytes("pit.png", b"x")
    item = Essay(id="q", stem=f'<p>A <em>pit</em></p><p><img src="{ref}" alt="a &lt; b"/></p>', rubric="x &amp; y")
    assert admit_item(item, Gate({ref})) is item


def test_entities_of_a_preserved_original_are_not_opened(secret):
    original = f'<!DOCTYPE x [<!ENTITY e SYSTEM "file://{secret}">]><item ident="p"><x>&e;</x></item>'
    for name in ("qti-1.2", "qti-2.1"):
        bank = Bank(items=[TrueFalse(id="q", stem="x", answer=True), Preserved(id="p", original=original, original_format=name)])
        assert b"very secret" not in export_bank(bank, MediaBox(), name).written.data


def test_no_points_and_none_at_all_are_told_apart_in_a_ledger():
    """A mutant of a sheet had 0 points, and a format without a place for them gave back none: the ledger could not say so."""
    bank = Bank(items=[TrueFalse(id="q", stem="Loam holds sand.", answer=True, points=0.0)])
    ledger = export_bank(bank, MediaBox(), "gift").ledger
    assert ledger.items[0].facets["points"] in ("lost", "changed")
