"""The lossless form: all of a bank comes back, and what is wrong in one item costs no other."""

from __future__ import annotations

import io
import json
import zipfile

import pytest

from rogatum.core.errors import UnreadableSource
from rogatum.core.exporting import export_bank
from rogatum.core.items import DrawEntry, Essay, Preserved, Stimulus, TrueFalse
from rogatum.core.receiving import read_source
from rogatum.core.sources import MediaBox

GOOD = {"id": "a", "type": "true_false", "stem": "Loam holds sand.", "answer": True}
PICTURE = b"\x89PNG\r\n\x1a\n" + bytes(range(64))


def bank_of(*items: object, **more: object):
    data = {"format": "rogatum-items/1", "items": list(items), **more}
    return read_source(("bank.json", json.dumps(data).encode())).bank


def test_everything_of_a_bank_comes_back():
    bank = bank_of(GOOD, title="Soils")
    media = MediaBox()
    ref = media.add_bytes("pit.png", PICTURE)
    bank.items += [
        Preserved(id="p", original="<sliderInteraction/>", original_format="qti-2.1", reason="A slider."),
        Essay(id="e", stem=f'<img src="{ref}" alt="a pit"/>', rubric="Two reasons.", stimulus="s1", metadata={"page": ["41"]}),
    ]
    bank.stimuli.append(Stimulus(id="s1", content="<p>Notes</p>", title="Field notes"))
    bank.draws.append(DrawEntry(title="Texture", pool=["Soils"], pick=2, points_each=1.5))
    bank.media = media.entries()
    bank.place_in_pool("a", ["Soils", "Texture"])
    export = export_bank(bank, media, "items-json")
    assert export.ledger.sound and not export.ledger.totals.recast
    back = read_source(("bank.zip", export.written.data))
    assert (back.bank.items, back.bank.stimuli, back.bank.draws, back.bank.pools) == (
        bank.items,
        bank.stimuli,
        bank.draws,
        bank.pools,
    )
    with back.media.open(ref) as stream:
        assert stream.read() == PICTURE


@pytest.mark.parametrize(
    ("wrong", "what"),
    [
        ({**GOOD, "type": "unknown"}, "unknown"),
        ({**GOOD, "answer": "perhaps"}, "answer"),
        ({"type": "essay"}, "id"),
        ("no item", "dict"),
    ],
)
def test_an_item_that_is_wrong_is_told_and_costs_no_other(wrong, what):
    bank = bank_of(wrong, GOOD)
    assert [item.id for item in bank.items] == ["a"]
    told = next(finding for finding in bank.findings if finding.code == "invalid-item")
    assert told.where == "item 1" and what in told.message


@pytest.mark.parametrize("text", ['{"format": "rogatum-items/1", "items": [', '{"format": "rogatum-items/1", "pools": 3}'])
def test_what_is_no_bank_is_refused_with_a_way_out(text):
    with pytest.raises(UnreadableSource) as refused:
        read_source(("bank.json", text.encode()), "items-json")
    assert "JSON" in refused.value.what and refused.value.way_out


def test_media_that_did_not_come_along_are_told():
    entry = {"ref": "media/pit.png", "sha256": "0" * 64, "size": 3, "type": "image/png"}
    codes = {finding.code: finding.message for finding in bank_of(GOOD, media=[entry]).findings}
    assert "media/pit.png" in codes["media-missing"]


def test_findings_of_checks_are_made_anew():
    """A bank that was saved with an error that was mended since has it no more."""
    old = {"level": "error", "code": "no-key", "item": "a", "where": "", "message": "No key."}
    kept = {"level": "note", "code": "type-guessed", "item": "a", "where": "", "message": "A guess."}
    codes = [finding.code for finding in bank_of(GOOD, findings=[old, kept]).findings]
    assert "no-key" not in codes and "type-guessed" in codes


def test_a_zip_without_media_in_it_is_still_read():
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as archive:
        archive.writestr("items.json", json.dumps({"format": "rogatum-items/1", "items": [GOOD]}))
    assert read_source(("bank.zip", out.getvalue())).bank.items == [TrueFalse(id="a", stem="Loam holds sand.", answer=True)]


def test_a_quiz_that_is_not_valid_is_told_and_costs_no_item():
    item = {"id": "q", "type": "essay", "stem": "Why?"}
    for quizzes in ([{"id": "w", "parts": [{"draw": {"pool": ["x"], "pick": -1}}]}], [{"settings": {"attempts": "many"}}], 7):
        data = {"format": "rogatum-items/1", "items": [item], "quizzes": quizzes}
        bank = read_source(("x.json", json.dumps(data).encode())).bank
        assert len(bank.items) == 1 and not bank.quizzes
        assert "invalid-quiz" in {finding.code for finding in bank.findings}
