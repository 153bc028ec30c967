"""What a format says that it carries comes back, for any bank; and the same bank gives the same bytes."""

from __future__ import annotations

import io
import zipfile

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from rogatum.core.errors import UnreadableSource
from rogatum.core.exporting import export_bank
from rogatum.core.formats import format_named, writable_formats
from rogatum.core.formats.shared.document_writing import choices_of
from rogatum.core.items import Matching, Ordering, Pair
from rogatum.core.items.content import with_refs
from rogatum.core.receiving import read_source
from tests.core.strategies import PICTURES, banks, media_box

BY_PROGRAM = {"docx", "odt", "rtf", "html", "markdown"}
READ_BACK = [entry for entry in writable_formats() if entry.read]
FAST = pytest.mark.parametrize("entry", [e for e in READ_BACK if e.name not in BY_PROGRAM], ids=lambda entry: entry.name)
SLOW = pytest.mark.parametrize("entry", [e for e in READ_BACK if e.name in BY_PROGRAM], ids=lambda entry: entry.name)
MANY = settings(max_examples=60)


def carried_back(entry, bank):
    export = export_bank(bank, media_box(), entry.name)
    ledger = export.ledger
    notes = [(entry_.a, entry_.facets[note.facet], note) for entry_ in [*ledger.items, *ledger.quizzes] for note in entry_.notes]
    # Points that the source leaves open may be written as 1: a format with a maximum score needs one.
    differing = [note for note in notes if note[1] not in ("same", "added")]
    assert not differing, differing[:2]
    assert not export.written.findings


def settled(entry, bank):
    once = entry.write(bank, media_box()).data
    assert once == entry.write(bank, media_box()).data
    back = read_source(("x" + entry.suffix, once), entry.name)
    twice = entry.write(back.bank, back.media).data
    third = read_source(("x" + entry.suffix, twice), entry.name)
    assert twice == entry.write(third.bank, third.media).data


@FAST
@MANY
@given(data=st.data())
def test_what_a_format_carries_comes_back_and_settles(entry, data):
    """The same bank gives the same bytes, and what was read back is written as the same bytes again."""
    bank = data.draw(banks(entry.carries))
    carried_back(entry, bank)
    settled(entry, bank)


# Each example of these starts programs of their own.
@SLOW
@settings(max_examples=6)
@given(data=st.data())
def test_documents_come_back_and_settle(entry, data):
    bank = data.draw(banks(entry.carries))
    carried_back(entry, bank)
    settled(entry, bank)


@pytest.mark.parametrize("number", range(6))
def test_the_order_of_options_does_not_hang_on_the_names_of_their_pictures(number):
    """Each document calls its pictures by names of its own, and is written anew with the same order."""
    first, second = (f'Layer <img src="{ref}" alt=""/>' for ref in sorted(PICTURES))

    def order(names):
        contents = [with_refs(content, names.get) for content in (second, "Silt", first)]
        steps = Ordering(id="item1", stem=f"From above {number}", sequence=contents)
        pairs = [Pair(left=str(n), right=content) for n, content in enumerate(contents)]
        matching = Matching(id="item2", stem=f"Match {number}", pairs=pairs, distractors=["Clay"])
        return [[content for _, content in choices_of(item)] for item in (steps, matching)]

    own = {ref: ref for ref in PICTURES}
    others = dict(zip(sorted(PICTURES), ("media/8.png", "media/3.png"), strict=True))
    assert [[with_refs(c, others.get) for c in found] for found in order(own)] == order(others)


@settings(max_examples=6)
@given(data=st.data())
def test_any_bank_can_be_printed(data):
    """A page of PDF for any bank, with a ledger that says what paper has no place for; the same bank gives the same bytes."""
    bank = data.draw(banks(format_named("qti-3.0").carries))
    export = export_bank(bank, media_box(), "pdf")
    assert export.written.data.startswith(b"%PDF") and export.written.data == export_bank(bank, media_box(), "pdf").written.data
    assert not export.ledger.only_in_a and not export.written.findings


@MANY
@given(text=st.text(max_size=400) | st.text(alphabet="1a.)*{}=~#\\:\n [](AB", max_size=200))
def test_no_text_crashes_a_reader(text):
    for name in ("gift", "marked-text"):
        if text.strip("\x00 \n"):
            try:
                read_source(("x.txt", text.encode("utf-8", "replace")), name)
            except Exception as error:
                assert type(error).__name__ == "UnreadableSource", error  # noqa: PT017


@st.composite
def damaged(draw, data: bytes) -> bytes:
    """Bytes with a few places changed, cut out or doubled."""
    for _ in range(draw(st.integers(1, 4))):
        at = draw(st.integers(0, max(0, len(data) - 1)))
        until = min(len(data), at + draw(st.integers(0, 40)))
        piece = draw(st.sampled_from([b"", b"<", b">", b"&", b"\xff", b"<![CDATA[", b"</", b'"', data[at:until] * 2]))
        data = data[:at] + piece + data[until:]
    return data


@pytest.mark.parametrize("entry", [entry for entry in writable_formats() if entry.package], ids=lambda entry: entry.name)
@settings(max_examples=40, suppress_health_check=list(HealthCheck))
@given(data=st.data())
def test_a_damaged_file_gives_a_bank_or_is_refused(entry, data):
    """Any mutation of what is in a package gives a bank or UnreadableSource, never another exception."""
    whole = entry.write(data.draw(banks(entry.carries)), media_box()).data
    sources = [("x.zip", data.draw(damaged(whole)))]
    if whole.startswith(b"PK"):
        with zipfile.ZipFile(io.BytesIO(whole)) as archive:
            name = data.draw(st.sampled_from([name for name in archive.namelist() if name.endswith((".xml", ".json"))]))
            sources.append((name.rsplit("/", 1)[-1], data.draw(damaged(archive.read(name)))))
    for source in sources:
        if source[1].strip():
            try:
                read_source(source)
            except UnreadableSource as error:
                assert error.way_out
