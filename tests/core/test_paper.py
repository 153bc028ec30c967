"""The paper of a quiz, read back as text: heading, questions, points, key and ledger say the same, whatever it draws from."""

from __future__ import annotations

import io
import re
import zipfile

import pypdf
import pytest
from hypothesis import Phase, given, settings
from hypothesis import strategies as st

from rogatum.core.exporting import Export, export_bank
from rogatum.core.formats import format_named
from rogatum.core.formats.shared.base import WriteOptions
from rogatum.core.items import Bank, Choice, Essay, Item, MultipleChoice, Preserved
from rogatum.core.quizzes.criteria import Draw
from rogatum.core.quizzes.model import Part, Quiz, Settings
from rogatum.core.sources import MediaBox

KINDS = ("pdf", "docx", "odt", "html", "markdown", "marked-text")
POOLS = [["Internal", "Easy"], ["Internal", "Hard"], ["Other"]]


def item(number: int, points: float | None) -> Item:
    if number % 7 == 6:
        return Essay(id=f"i{number}", stem=f"Explain sample-{number}x.", points=points)
    choices = [
        Choice(id=letter, content=f"{word} {number}", weight=float(letter == "b"))
        for letter, word in zip("abc", WORDS, strict=True)
    ]
    return MultipleChoice(id=f"i{number}", stem=f"What is in sample-{number}x?", points=points, choices=choices)


WORDS = ("clay", "sand", "silt")


@st.composite
def quiz_banks(draw: st.DrawFn) -> Bank:
    """A quiz of fixed items and draws from pools that may lie within one another, with points said by the part, the item or nobody."""
    worth = st.sampled_from([None, 1.0, 2.0, 2.5])
    count = draw(st.integers(4, 16))
    bank = Bank(title="Week 3", items=[item(n, draw(worth)) for n in range(count)])
    for entry in bank.items:
        bank.place_in_pool(entry.id, draw(st.sampled_from(POOLS)))
    ids = [entry.id for entry in bank.items]
    fixed = draw(st.lists(st.sampled_from(ids), min_size=1, max_size=3, unique=True))
    parts = [Part(title="Warm-up", instructions="Answer all.", items=fixed, points_each=draw(worth))]
    for path in draw(st.lists(st.sampled_from([["Internal"], *POOLS, []]), max_size=2)):
        parts.append(Part(draw=Draw(pool=path, pick=draw(st.integers(1, 4))), points_each=draw(worth)))
    bank.quizzes = [Quiz(id="q", title="Soils", parts=parts, settings=Settings(time_limit=25))]
    return bank


def pages_of(export: Export) -> list[str]:
    """The text of what was written, page by page where it has pages."""
    data, suffix = export.written.data, export.written.suffix
    if suffix == ".pdf":
        return [page.extract_text() for page in pypdf.PdfReader(io.BytesIO(data)).pages]
    if suffix in (".docx", ".odt"):
        name = "word/document.xml" if suffix == ".docx" else "content.xml"
        with zipfile.ZipFile(io.BytesIO(data)) as archive:
            data = re.sub(rb"<[^>]+>", b" ", archive.read(name))
    return [re.sub(r"<[^>]+>", " ", data.decode()).replace("\\", "")]


# A bank of a dozen items tells what is wrong well enough; each try of a smaller one sets a paper.
def few(count: int) -> settings:
    return settings(max_examples=count, phases=[Phase.explicit, Phase.reuse, Phase.generate])


BESIDE = "Not in this quiz:"


def printed_samples(text: str) -> list[str]:
    return re.findall(r"sample-(\d+)x", text)


def written(bank: Bank, kind: str, **options: object) -> Export:
    return export_bank(bank, MediaBox(), kind, WriteOptions(**options))  # type: ignore[arg-type]


HEADING = re.compile(r"(\d+) questions?, ([\d.]+) points?, 25 minutes")
POINTS = re.compile(r"([\d.]+) points?\b|Points: ([\d.]+)")


def held_to_heading(text: str, questions: int) -> None:
    text = " ".join(text.split())
    heading = HEADING.search(text)
    assert heading and int(heading[1]) == questions == len(printed_samples(text))
    worth = [float(a or b) for a, b in POINTS.findall(HEADING.sub("", text))]
    assert len(worth) == questions and sum(worth) == float(heading[2])


@few(12)
@given(quiz_banks(), st.sampled_from(KINDS), st.sampled_from(["teacher", "student"]), st.sampled_from(["7", "loam"]))
def test_the_heading_the_questions_their_points_and_the_ledger_of_a_set_agree(bank, kind, copy, seed):
    export = written(bank, kind, copy=copy, draws="drawn", seed=seed)
    texts = pages_of(export)
    questions = " ".join(text for text in texts if "Key: Soils" not in text)
    asked, *beside = questions.split(BESIDE)
    held_to_heading(asked, len(export.ledger.items) - len(printed_samples(" ".join(beside))))
    assert not export.ledger.only_in_a and not export.ledger.only_in_b
    draws = any(part.draw for part in bank.quizzes[0].parts)
    assert (f"drawn with seed {seed}" in " ".join(questions.split())) == draws
    assert printed_samples(questions) == printed_samples(
        " ".join(pages_of(written(bank, kind, copy=copy, draws="drawn", seed=seed)))
    )
    if copy == "student":
        assert "Internal" not in questions and "Other" not in questions


@few(6)
@given(quiz_banks())
def test_each_version_holds_a_set_of_its_own_with_its_key(bank):
    texts = pages_of(written(bank, "pdf", draws="drawn", versions=3))
    for version in "ABC":
        questions = " ".join(text for text in texts if f"Soils, version {version}" in text and "Key:" not in text)
        key = " ".join(text for text in texts if f"Key: Soils, version {version}" in text)
        questions = questions.split(BESIDE)[0]
        held_to_heading(questions, len(printed_samples(questions)))
        asked = [n for n in map(int, printed_samples(questions)) if n % 7 != 6]
        letters = re.findall(r"\b\d+\. ([A-C])\b", key)
        assert len(letters) >= len(asked)
        for number, letter in zip(asked, letters, strict=False):
            assert re.search(rf"{letter}\. sand {number}\b", questions), "the key of this version's order"


@few(8)
@given(quiz_banks(), st.sampled_from(KINDS), st.sampled_from(["teacher", "student"]))
def test_a_whole_stock_says_above_that_it_is_one(bank, kind, copy):
    export = written(bank, kind, draws="stock", copy=copy)
    text = " ".join(" ".join(page for page in pages_of(export) if "Key: Soils" not in page).split())
    given_by_quiz = len(set(printed_samples(text.split(BESIDE)[0])))
    assert len(printed_samples(text)) == len(export.ledger.items) == len(bank.items)
    if any(part.draw for part in bank.quizzes[0].parts):
        assert "that this quiz draws from; each student gets" in text
    said = re.search(r"(?:All )?(\d+) questions?", text)
    assert said and int(said[1]) == given_by_quiz


def test_a_paper_draws_among_what_can_be_printed():
    bank = Bank(
        items=[
            *(item(n, 1) for n in range(4)),
            *(Preserved(id=f"p{n}", stem="", reason="A map.", original_type="map") for n in range(9)),
        ]
    )
    bank.quizzes = [Quiz(id="q", title="Soils", parts=[Part(draw=Draw(pool=[], pick=4))], settings=Settings(time_limit=25))]
    export = written(bank, "pdf", copy="student", draws="drawn")
    held_to_heading(" ".join(pages_of(export)), 4)


def test_what_a_part_says_stands_above_its_first_question_and_begins_its_page():
    bank = Bank(items=[item(n, 1) for n in range(4)])
    parts = [Part(items=["i3", "i0"], title="First"), Part(items=["i1"], title="Second", instructions="Think.", page_break=True)]
    bank.quizzes = [Quiz(id="q", title="Soils", parts=parts)]
    first, second, *_ = pages_of(written(bank, "pdf", copy="student"))
    assert printed_samples(first) == ["3", "0"] and first.index("First") < first.index("sample-3x")
    assert second.split("sample-1x")[0].split()[:2] == ["Second", "Think."]
    assert printed_samples(second.split(BESIDE)[1]) == ["2"]


@pytest.mark.parametrize("kind", KINDS)
def test_what_is_printed_of_a_quiz_is_not_told_as_lost(kind):
    bank = Bank(items=[item(n, 1) for n in range(4)])
    part = Part(title="Warm-up", items=["i0", "i1"], instructions="Answer all.")
    bank.quizzes = [Quiz(id="q", title="Soils", parts=[part, Part(draw=Draw(pool=[], pick=1))], settings=Settings(time_limit=25))]
    export = written(bank, kind, draws="drawn")
    (told,) = export.ledger.quizzes
    text = " ".join(" ".join(pages_of(export)).split())
    shown = {"title": "Soils", "instructions": "Answer all.", "time_limit": "25 minutes"}
    for facet, words in shown.items():
        assert (told.facets[facet] == "recast") == (words in text) == (facet in format_named(kind).carries.printed), facet
    assert told.facets["draws"] == "changed" and any("seed 1" in note.message for note in told.notes)
