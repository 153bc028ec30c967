"""Content packages of QTI 2.x and 3.0: manifests that lie, tests, stimuli and weights, files inside files, and what is left over."""

from __future__ import annotations

import io
import zipfile

import pytest

from rogatum.core.errors import UnreadableSource
from rogatum.core.exporting import export_bank
from rogatum.core.items import Bank, Choice, MultipleChoice, PoolEntry, Stimulus
from rogatum.core.quizzes.model import Draw, Part, Quiz
from rogatum.core.quizzes.worth import points_in
from rogatum.core.receiving import read_source
from rogatum.core.sources import MediaBox
from tests.core.plain import key_of

NS = 'xmlns="http://www.imsglobal.org/xsd/imsqti_v2p1"'
CP = 'xmlns="http://www.imsglobal.org/xsd/imscp_v1p1"'
CORRECT = '<responseProcessing template="http://www.imsglobal.org/question/qti_v2p1/rptemplates/match_correct"/>'
PNG = b"\x89PNG\r\n\x1a\n" + bytes(32)


def item(ident: str, body: str = "", right: str = "A", head: str = "") -> str:
    return (
        f'<assessmentItem {NS} identifier="{ident}" title="{ident}" adaptive="false" timeDependent="false">'
        f'<responseDeclaration identifier="RESPONSE" cardinality="single" baseType="identifier"><correctResponse><value>{right}</value>'
        f'</correctResponse></responseDeclaration><outcomeDeclaration identifier="SCORE" cardinality="single" baseType="float"/>{head}'
        f'<itemBody>{body}<choiceInteraction responseIdentifier="RESPONSE" shuffle="false" maxChoices="1"><prompt>Which is {ident}?</prompt>'
        '<simpleChoice identifier="A">clay</simpleChoice><simpleChoice identifier="B">sand</simpleChoice></choiceInteraction></itemBody>'
        f"{CORRECT}</assessmentItem>"
    )


def manifest(*resources: tuple[str, str, str]) -> str:
    listed = "".join(
        f'<resource identifier="r{n}" type="{kind}" href="{href}"><file href="{href}"/>{more}</resource>'
        for n, (href, kind, more) in enumerate(resources)
    )
    return f'<manifest {CP} identifier="m"><metadata/><organizations/><resources>{listed}</resources></manifest>'


def package(**files: str | bytes) -> tuple[str, bytes]:
    """A package of files; two underscores stand for a dot, and `in_` for a folder."""
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as archive:
        for name, data in files.items():
            archive.writestr(name.replace("__", ".").replace("in_", "items/"), data)
    return "package.zip", out.getvalue()


ITEM = "imsqti_item_xmlv2p1"


def test_items_come_in_the_order_of_the_manifest():
    listed = manifest(("b.xml", ITEM, ""), ("a.xml", ITEM, ""))
    bank = read_source(package(imsmanifest__xml=listed, a__xml=item("a"), b__xml=item("b", right="B"))).bank
    assert [(i.id, key_of(i)) for i in bank.items] == [("b", ["sand"]), ("a", ["clay"])]


@pytest.mark.parametrize("href", ["items\\a.xml", "./items/a.xml", "Items/A.XML", "items/a%2Exml", "/items/a.xml"])
def test_a_manifest_that_writes_paths_in_its_own_way_is_followed(href):
    bank = read_source(package(imsmanifest__xml=manifest((href, ITEM, "")), in_a__xml=item("a"))).bank
    assert [i.id for i in bank.items] == ["a"]
    assert "manifest-differs" not in {finding.code for finding in bank.findings}


def test_what_the_manifest_names_and_the_package_lacks_is_told_and_what_it_forgets_is_read():
    listed = manifest(("gone.xml", ITEM, ""))
    bank = read_source(package(imsmanifest__xml=listed, a__xml=item("a"), notes__pdf=b"%PDF-1.4")).bank
    assert [i.id for i in bank.items] == ["a"]
    told = next(finding for finding in bank.findings if finding.code == "questions-missing")
    assert told.level == "error" and "1 question " in told.message and "gone.xml" in told.message
    assert "file notes.pdf" in [entry.text for entry in bank.accounting.unclaimed]


def test_a_file_that_is_broken_costs_no_other():
    bank = read_source(package(a__xml=item("a"), b__xml="<assessmentItem " + NS + ' identifier="b"><itemBody')).bank
    assert key_of(bank.items[0]) == ["clay"]
    assert "b.xml" in next(finding.where for finding in bank.findings if finding.code == "broken-xml")
    assert {i.id for i in bank.items[1:]} <= {finding.item for finding in bank.findings if finding.level == "error"}


def test_pictures_of_items_in_folders():
    body = '<p><img src="../media/pit.png" alt="a pit"/></p>'
    files = {"in_a__xml": item("a", body), "media/pit__png": PNG, "media/other__png": PNG + b"x"}
    reading = read_source(package(imsmanifest__xml=manifest(("items/a.xml", ITEM, "")), **files))
    assert [entry.ref for entry in reading.bank.media] == ["media/pit.png"]
    assert "media/other.png" in next(f.message for f in reading.bank.findings if f.code == "media-unused")


TEST = (
    '<assessmentTest {ns} identifier="t" title="Soils"><testPart identifier="p" navigationMode="linear" submissionMode="individual">'
    '<assessmentSection identifier="s" title="Texture" visible="true">{inner}</assessmentSection></testPart></assessmentTest>'
)


def with_test(inner: str, **files: str) -> Bank:
    test = TEST.format(ns=NS, inner=inner)
    return read_source(package(test__xml=test, **{f"{name}__xml": text for name, text in files.items()})).bank


def ref(ident: str, more: str = "", inner: str = "") -> str:
    return f'<assessmentItemRef identifier="{ident}" href="{ident}.xml"{more}>{inner}</assessmentItemRef>'


def test_a_test_gives_its_sections_as_pools_and_its_selections_as_draws():
    section = '<assessmentSection identifier="i" title="Clay" visible="true"><selection select="1"/><ordering shuffle="true"/>{}</assessmentSection>'
    bank = with_test(ref("a") + section.format(ref("b") + ref("c")), a=item("a"), b=item("b"), c=item("c"))
    assert bank.title == "Soils"
    assert {tuple(pool.path): len(pool.items) for pool in bank.pools} == {("Soils", "Texture"): 1, ("Soils", "Texture", "Clay"): 2}
    assert [(draw.title, draw.pick) for draw in bank.draws] == [("Clay", 1)]


def test_weights_of_a_test_are_points_of_what_says_none_itself_and_points_in_its_quiz_of_what_does():
    weight = '<weight identifier="W" value="{}"/>'
    head = '<outcomeDeclaration identifier="MAXSCORE" cardinality="single" baseType="float"><defaultValue><value>2</value></defaultValue></outcomeDeclaration>'
    bank = with_test(ref("a", inner=weight.format(3)) + ref("b", inner=weight.format(2)), a=item("a"), b=item("b", head=head))
    assert [i.points for i in bank.items] == [3, 2]
    (part,) = bank.quizzes[0].parts
    assert [points_in(part, i) for i in bank.items] == [3, 4]


def test_a_test_that_names_an_item_that_is_not_there_says_so():
    bank = with_test(ref("a") + ref("gone"), a=item("a"))
    assert [i.id for i in bank.items] == ["a"]
    assert any("gone" in finding.message for finding in bank.findings if finding.level != "note")


def test_a_passage_in_a_section_belongs_to_its_items():
    rubric = '<rubricBlock view="candidate"><p>Read the field notes.</p></rubricBlock>'
    bank = with_test(rubric + ref("a") + ref("b"), a=item("a"), b=item("b"))
    assert [stimulus.content for stimulus in bank.stimuli] == ["Read the field notes."]
    assert {i.stimulus for i in bank.items} == {bank.stimuli[0].id}


@pytest.mark.parametrize("name", ["qti-2.1", "qti-2.2", "qti-3.0"])
def test_passages_draws_weights_and_nested_pools_go_out_and_come_back(name):
    items = [
        MultipleChoice(id=f"q{n}", stem=f"Which {n}?", points=n + 0.5, stimulus="s1" if n < 3 else None,
                       choices=[Choice(id="a", content="clay", weight=1), Choice(id="b", content="sand")])
        for n in range(1, 5)
    ]  # fmt: skip
    bank = Bank(
        title="Soils",
        items=items,
        stimuli=[Stimulus(id="s1", content="<p>Field notes</p>")],
        pools=[
            PoolEntry(path=["Soils", "Clay"], items=["q1", "q2"]),
            PoolEntry(path=["Soils", "Sand", "Fine"], items=["q3", "q4"]),
        ],
        quizzes=[
            Quiz(
                id="w1",
                title="Week 1",
                parts=[Part(title="Fine", draw=Draw(pool=["Soils", "Sand", "Fine"], pick=1), points_each=4)],
            )
        ],
    )
    export = export_bank(bank, MediaBox(), name)
    assert export.ledger.sound and not export.ledger.totals.recast, [note for i in export.ledger.items for note in i.notes]
    assert [(draw.pool[-1], draw.pick, draw.points_each) for draw in export.read_back.draws] == [("Fine", 1, 4)]


def test_an_archive_of_packages_is_read_with_each_in_a_pool_of_its_own():
    chapters = {
        f"ch{n}__zip": package(imsmanifest__xml=manifest(("a.xml", ITEM, "")), a__xml=item("same", right="AB"[n]))[1]
        for n in (0, 1)
    }
    bank = read_source(package(**chapters)).bank
    assert [key_of(i) for i in bank.items] == [["clay"], ["sand"]] and len({i.id for i in bank.items}) == 2
    assert [pool.path[0] for pool in bank.pools] == ["ch0", "ch1"]
    assert [f.message for f in bank.findings if f.code == "double-id"] and bank.places[bank.items[0].id].where.startswith(
        "ch0.zip/"
    )


def test_a_package_without_a_question_is_refused_with_a_way_out():
    with pytest.raises(UnreadableSource) as refused:
        read_source(package(readme__pdf=b"%PDF-1.4 nothing", photo__png=PNG))
    assert refused.value.way_out and "package.zip" in refused.value.what
