"""What is written for people: the teacher's copy, the student's, the key as a list, and versions of a paper test."""

from __future__ import annotations

import io
import re
import zipfile

import pytest

from rogatum.cli import main
from rogatum.core.errors import UnreadableSource
from rogatum.core.exporting import export_bank
from rogatum.core.fidelity import compare
from rogatum.core.formats.shared import pandoc
from rogatum.core.formats.shared.base import WriteOptions
from rogatum.core.items import Bank, Choice, MultipleChoice
from rogatum.core.quizzes.model import Part, Quiz, Settings
from rogatum.core.quizzes.versions import version_of
from rogatum.core.receiving import read_source
from rogatum.core.sources import MediaBox
from tests.core.plain import key_of

TEST = """# Soils

Read the notes for questions 1 to 2.

The pit is wet from 40 cm on.

1. Which particle is the smallest? (2 points)
*a. clay
b. sand
c. all of the above
Feedback: It is under 0.002 mm.

2. Which holds the most air?
Type: multiple response
*a. sand
*b. gravel
c. clay

3. The finest is ____ and has a size of ____ mm.
Answer: clay / argil; 0.002

4. Match each with its size.
1. sand
2. silt
a. coarse
b. between
c. fine
Answer: 1-a, 2-b

5. Put in order, the finest first.
Type: ordering
a. sand
b. clay
c. silt
Answer: b, c, a

6. Loam holds sand.
Answer: True

7. How much of a loam is pore space, in %?
Answer: 50 ± 5
"""


@pytest.fixture(scope="module")
def bank() -> Bank:
    return read_source(("soils.txt", TEST.encode())).bank


def written(bank: Bank, name: str, **options: object):
    return export_bank(bank, MediaBox(), name, WriteOptions(**options))


@pytest.mark.parametrize("name", ["marked-text", "docx", "odt", "rtf", "html", "markdown"])
def test_the_teachers_copy_loses_nothing(bank, name):
    ledger = written(bank, name).ledger
    assert ledger.sound and not ledger.only_in_a, [note for item in ledger.items for note in item.notes]


@pytest.mark.parametrize("name", ["marked-text", "docx", "rtf"])
def test_a_list_of_keys_at_the_end_is_the_key(bank, name):
    export = written(bank, name, copy="key list")
    assert (
        {item.facets["key"] for item in export.ledger.items} == {item.facets["marking"] for item in export.ledger.items} == {"same"}
    )
    assert {note.facet for item in export.ledger.items for note in item.notes if item.facets[note.facet] == "lost"} == {"feedback"}


@pytest.mark.parametrize("name", ["marked-text", "docx"])
def test_the_students_copy_tells_no_key(bank, name):
    export = written(bank, name, copy="student")
    assert not any(map(key_of, export.read_back.items)) and {item.facets["key"] for item in export.ledger.items} == {"lost"}
    assert export.read_back.items[0].points == 2
    if name == "marked-text":
        text = export.written.data.decode()
        assert "Answer" not in text and "*" not in text and "0.002" not in text


def test_the_order_in_which_rights_stand_does_not_tell_the_key(bank):
    text = written(bank, "marked-text").written.data.decode()
    ordering = next(block for block in text.split("\n\n") if "Put in order" in block)
    steps = [line[3:] for line in ordering.splitlines() if line[1:3] == ". " and line[0] in "abc"]
    assert sorted(steps) == ["clay", "sand", "silt"] and steps != ["clay", "silt", "sand"]


def test_what_a_document_cannot_hold_is_left_out_and_said(bank):
    many = MultipleChoice(
        id="m", stem="Which?", choices=[Choice(id=f"c{n}", content=f"x{n}", weight=float(n == 0)) for n in range(30)]
    )
    export = written(bank.model_copy(update={"items": [*bank.items, many]}), "marked-text")
    assert export.ledger.only_in_a == ["m"]
    assert "26 choices" in next(note.message for item in export.ledger.items if item.a == "m" for note in item.notes)


def test_an_option_that_a_format_has_not_is_refused(bank):
    for name, options in (("qti-2.1", {"copy": "student"}), ("docx", {"versions": 2}), ("pdf", {"versions": 9})):
        with pytest.raises(UnreadableSource) as refused:
            written(bank, name, **options)
        assert "teacher" in refused.value.way_out


# Versions


def test_versions_hold_the_same_in_another_order(bank):
    many = bank.model_copy(
        update={"items": bank.items + [i.model_copy(update={"id": f"{i.id}x", "stimulus": None}) for i in bank.items]}
    )
    first, second = version_of(many, 0), version_of(many, 1)
    assert first is many and second == version_of(many, 1) != version_of(many, 2)
    assert sorted(item.id for item in second.items) == sorted(item.id for item in many.items)
    order = [item.id for item in second.items]
    assert order != [item.id for item in many.items]
    assert abs(order.index("i1") - order.index("i2")) == 1, "what shares a passage stays together"
    ledger = compare(many, second)
    assert {item.facets["key"] for item in ledger.items} == {item.facets["marking"] for item in ledger.items} == {"same"}


@pytest.mark.parametrize(
    ("texts", "fixed"),
    [
        (["clay", "sand", "silt", "loam", "all of the above"], [4]),
        (["clay", "sand", "both of these", "loam", "none of these"], [2, 4]),
        (["clay", "sand", "silt", "A and B", "B and C"], [0, 1, 2, 3, 4]),
        (["clay", "sand", "silt", "peat", "loam"], []),
    ],
)
def test_choices_that_speak_of_others_stay_where_they_are(texts, fixed):
    item = MultipleChoice(id="i", stem="Which?", choices=[Choice(id=f"{n}", content=text) for n, text in enumerate(texts)])
    versions = [version_of(Bank(items=[item]), number).items[0].choices for number in range(1, 6)]
    for choices in versions:
        assert sorted(choice.content for choice in choices) == sorted(texts)
        assert all(choices[n].content == texts[n] for n in fixed)
    assert (len(fixed) == len(texts)) == all([c.content for c in choices] == texts for choices in versions)


def test_an_item_that_is_not_to_be_shuffled_is_not():
    item = MultipleChoice(id="i", stem="?", shuffle=False, choices=[Choice(id=c, content=c) for c in "abcde"])
    assert all(version_of(Bank(items=[item]), number).items[0] is item for number in range(1, 6))


def test_a_paper_test_in_versions(bank, tmp_path, capsys):
    one, three = written(bank, "pdf").written, written(bank, "pdf", versions=3).written
    student = written(bank, "pdf", copy="student").written
    assert not one.findings and len(three.data) > len(one.data) > len(student.data)
    (tmp_path / "t.txt").write_text(TEST)
    call = ["convert", str(tmp_path / "t.txt"), "--to", "pdf", "--out", str(tmp_path / "t.pdf"), "--versions", "3"]
    assert main(call) in (0, 1) and (tmp_path / "t.pdf").read_bytes()[:4] == b"%PDF"
    capsys.readouterr()


@pytest.fixture(scope="module")
def quiz_bank(bank) -> Bank:
    parts = [
        Part(title="First", instructions="Pick <em>one</em> each.", items=[item.id for item in bank.items[:2]], points_each=3.0),
        Part(title="Second", instructions="Write in words.", items=[item.id for item in bank.items[2:]], points_each=2.0),
    ]
    quiz = Quiz(id="q", title="Week 3: Soils", parts=parts, settings=Settings(time_limit=25, access_code="loam-code"))
    return bank.model_copy(update={"quizzes": [quiz]})


def _plain(kind: str, data: bytes) -> str:
    if kind != "docx":
        return pandoc.converted(data.decode(), kind, "plain").replace("_", "").replace("*", "")
    with zipfile.ZipFile(io.BytesIO(data)) as archive:
        return re.sub(r"<[^>]+>", "", archive.read("word/document.xml").decode())


@pytest.mark.parametrize("copy", ["teacher", "student", "key list"])
@pytest.mark.parametrize("kind", ["docx", "html", "markdown"])
def test_the_paper_of_a_quiz_has_its_title_directions_points_and_time_and_no_code(quiz_bank, kind, copy):
    export = written(quiz_bank, kind, copy=copy)
    text = _plain(kind, export.written.data)
    squeezed = "".join(text.split())
    assert "Week3:Soils" in squeezed and "7questions,16points,25minutes" in squeezed and "Pickoneeach." in squeezed
    assert "loam-code" not in text and "words" in text
    told = {entry.a: entry.facets for entry in export.ledger.items}
    assert {key: facets["stem"] for key, facets in told.items()} == dict.fromkeys(told, "same")


def test_a_students_copy_has_lines_to_write_on_and_the_teachers_has_none(bank):
    lines = [written(bank, "html", copy=copy).written.data.decode().count("_" * 60) for copy in ("teacher", "student")]
    assert lines == [0, 1]
