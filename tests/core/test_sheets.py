"""Sheets in the habits that people have: headings, orders of columns, ways to name the key, several tables, other delimiters."""

from __future__ import annotations

import io

import openpyxl
import pytest
from odf import opendocument, table, text

from rogatum.core.exporting import export_bank
from rogatum.core.formats.sheet.columns import by_content, by_headings
from rogatum.core.items import Bank, Choice, MultipleChoice
from rogatum.core.receiving import read_source
from rogatum.core.sources import MediaBox


def read(data: str | bytes, name: str = "q.csv"):
    return read_source((name, data.encode() if isinstance(data, str) else data)).bank


def workbook(**sheets: list[list[object]]) -> bytes:
    book = openpyxl.Workbook()
    book.remove(book.active)
    for name, rows in sheets.items():
        sheet = book.create_sheet(name)
        for row in rows:
            sheet.append(row)
    buffer = io.BytesIO()
    book.save(buffer)
    return buffer.getvalue()


def spreadsheet(rows: list[list[str]]) -> bytes:
    document = opendocument.OpenDocumentSpreadsheet()
    made = table.Table(name="Questions")
    for row in rows:
        line = table.TableRow()
        for value in row:
            cell = table.TableCell()
            cell.addElement(text.P(text=value))
            line.addElement(cell)
        made.addElement(line)
    document.spreadsheet.addElement(made)
    buffer = io.BytesIO()
    document.write(buffer)
    return buffer.getvalue()


def key(item):
    return [choice.content for choice in item.choices if choice.weight > 0]


KEYS = {
    "a letter": ("Question,A,B,C,Answer\nWhich?,sand,silt,clay,C", ["clay"]),
    "a small letter": ("Question,A,B,C,Answer\nWhich?,sand,silt,clay,c", ["clay"]),
    "a number": ("Question,Option 1,Option 2,Option 3,Correct\nWhich?,sand,silt,clay,3\nNext?,x,y,z,1", ["clay"]),
    "the text": ("Question,A,B,C,Answer\nWhich?,sand,silt,clay,Clay", ["clay"]),
    "the letter with the text": ("Question,A,B,C,Answer\nWhich?,sand,silt,clay,C) clay", ["clay"]),
    "a number that is a choice": ("Question,A,B,C,D,Answer\nWhich is prime?,4,8,7,9,7\nWhich is even?,1,2,3,5,2", ["7"]),
    "a star": ("Question,A,B,C\nWhich?,sand,silt,*clay", ["clay"]),
    "the first of right and wrong": ("question,correct answer,wrong answer 1,wrong answer 2\nWhich?,clay,sand,silt", ["clay"]),
    "choices in one cell": ('Question,Choices,Answer\nWhich?,"A. sand\nB. silt\nC. clay",C', ["clay"]),
    "choices parted by bars": ("Question,Options,Key\nWhich?,sand | silt | clay,clay", ["clay"]),
    "semicolons": ("Question;A;B;C;Answer\nWhich, then?;sand;silt;clay;C", ["clay"]),
    "tabs": ("Question\tA\tB\tC\tAnswer\nWhich?\tsand\tsilt\tclay\tC", ["clay"]),
    "a line that names the delimiter": ("sep=;\nQuestion;A;B;C;Answer\nWhich?;sand;silt;clay;C", ["clay"]),
    "columns in another order": ("Answer,C,B,A,Points,Question\nC,clay,silt,sand,2,Which?", None),
    "old platform's words": ("Stem,Alternative 1,Alternative 2,Alternative 3,Right answer\nWhich?,sand,silt,clay,clay", ["clay"]),
    "a title above": ("Quiz on soils,,,,\n,,,,\nQuestion,A,B,C,Answer\nWhich?,sand,silt,clay,C", ["clay"]),
}


@pytest.mark.parametrize(("text_", "wanted"), KEYS.values(), ids=KEYS)
def test_ways_to_name_the_key(text_, wanted):
    bank = read(text_)
    assert bank.source.format == "sheet"
    assert key(bank.items[0]) == (wanted or ["sand"]) or wanted is None
    assert not [f for f in bank.findings if f.level == "error" and wanted]


TYPES = [
    ("MC,Which?,sand,clay,,B", "multiple_choice"),
    ("MR,Which?,sand,clay,silt,A;C", "multiple_response"),
    (",Which?,sand,clay,silt,A;C", "multiple_response"),
    ("T/F,Loam?,,,,TRUE", "true_false"),
    (",Loam?,,,,False", "true_false"),
    (",Loam?,True,False,,A", "true_false"),
    ("FILL,Capital?,,,,Rome | Roma", "fill_in"),
    (",Capital?,,,,Rome", "fill_in"),
    ("NUM,2+2?,,,,4", "numeric"),
    (",2+2?,,,,4 ± 0.1", "numeric"),
    ("ESSAY,Discuss.,,,,It depends.", "essay"),
    ("Matching,Match,sand=coarse,clay=fine,,", "matching"),
    ("Ordering,Order,rock,gravel,soil,", "ordering"),
]


@pytest.mark.parametrize(("row", "type_"), TYPES)
def test_types(row, type_):
    assert read(f"Type,Question,A,B,C,Answer\n{row}").items[0].type == type_


def test_all_parts_of_a_row():
    bank = read(
        "Id,Question,A,B,Answer,Points,Feedback,Feedback A,Topic,Difficulty,Chapter,Page,Source\n"
        "gb-1,Which?,sand,clay,B,2,See p. 4.,Too coarse.,Texture,easy,Chapter 2,41; 42,own\n"
    )
    item = bank.items[0]
    assert (item.id, item.points, item.feedback["general"], item.choices[0].feedback) == ("gb-1", 2, "See p. 4.", "Too coarse.")
    assert item.metadata == {"topic": ["Texture"], "difficulty": ["easy"], "page": ["41", "42"], "source": ["own"]}
    assert bank.pools[0].path == ["Chapter 2"]


def test_tolerance_and_unit_in_columns_of_their_own():
    item = read("Question,Answer,Tolerance,Units\nHow much?,200,5 %,g").items[0]
    assert item.answers[0].bounds() == (190, 210) and item.unit == "g"


def test_several_sheets_are_pools_and_empty_rows_nothing():
    rows = [["Question", "A", "B", "Answer"], ["Which?", "x", "y", "A"], [], ["Next?", "x", "y", "B"]]
    bank = read(workbook(Texture=rows, Water=rows), "bank.xlsx")
    assert len(bank.items) == 4 and [pool.path for pool in bank.pools] == [["Texture"], ["Water"]]


def test_two_tables_in_one_sheet():
    rows = [["Question", "A", "B", "Answer"], ["Which?", "x", "y", "A"], [], ["Statement", "Answer"], ["Loam is a class.", "TRUE"]]
    bank = read(workbook(One=rows), "bank.xlsx")
    assert [item.type for item in bank.items] == ["multiple_choice", "true_false"]


def test_a_merged_heading_covers_its_columns():
    rows = [["Question", "Choices", None, None, "Answer"], ["Which?", "sand", "silt", "clay", "C"]]
    bank = read(workbook(One=rows), "bank.xlsx")
    assert [c.content for c in bank.items[0].choices] == ["sand", "silt", "clay"] and key(bank.items[0]) == ["clay"]


def test_an_open_document_spreadsheet():
    bank = read(spreadsheet([["Question", "A", "B", "Answer"], ["Which?", "sand", "clay", "B"]]), "bank.ods")
    assert key(bank.items[0]) == ["clay"]


DOUBTS = [
    ("Question,A,B,Answer\nWhich?,x,y,E", "key-unknown"),
    ("Question,A,B,Answer\nWhich?,x,y,", "no-key"),
    ("Type,Question,A,B,Answer\nRiddle,Which?,x,y,A", "type-unsure"),
    ("Type,Question,Answer\nNUM,How much?,about ten", "key-unread"),
    ("Which particle is the smallest?,sand,silt,clay,C\nWhich gas do roots need?,neon,oxygen,argon,B", "columns-guessed"),
]


@pytest.mark.parametrize(("text_", "code"), DOUBTS)
def test_each_doubt_is_said(text_, code):
    assert code in [finding.code for finding in read(text_).findings]


def test_what_no_row_took_is_listed():
    bank = read("Made by M. Ellery,,\nQuestion,A,B,Answer\nWhich?,x,y,A\n,stray,,\n")
    assert [entry.text for entry in bank.accounting.unclaimed] == ["Made by M. Ellery", "stray"]


@pytest.mark.parametrize(
    ("heading", "meaning"),
    [
        ("Question Text", "stem"),
        ("Correct_Answer", "key"),
        ("Point Value", "points"),
        ("Rationale", "feedback"),
        ("Learning Objective", "outcome"),
        ("Bloom's", "level"),
        ("#", "number"),
    ],
)
def test_headings_that_people_use(heading, meaning):
    assert by_headings([heading]).by_meaning == {meaning: 0}


def test_what_a_person_says_of_a_column_holds():
    columns = by_headings(["Frage", "A", "B", "Lösung", "Notiz"], {"frage": "stem", "lösung": "key", "notiz": ""})
    assert columns.by_meaning == {"stem": 0, "key": 3} and columns.choices == [1, 2] and not columns.unknown
    assert [columns.meaning_of(index) for index in range(5)] == ["stem", "choice", "choice", "key", ""]


def test_columns_told_by_what_stands_in_them():
    columns = by_content(
        [["1", "Which particle is the smallest?", "sand", "clay", "B"], ["2", "Which gas do roots need?", "neon", "oxygen", "B"]]
    )
    assert columns.by_meaning == {"number": 0, "stem": 1, "key": 4} and columns.choices == [2, 3] and columns.guessed


def test_choices_that_are_called_as_headings_make_no_row_of_headings():
    """“Q” heads a column of questions; below the heading of the stems it is a choice."""
    words = ["P", "Q", "Answer", "Type", "A", "B"]
    items = [
        MultipleChoice(
            id=f"i{n}",
            stem=f"Which of them is it ({n})?",
            points=1,
            choices=[Choice(id=str(k), content=words[(n + k) % 6], weight=float(k == 1)) for k in range(3)],
        )
        for n in range(6)
    ]
    ledger = export_bank(Bank(title="Soils", items=items), MediaBox(), "sheet").ledger
    assert ledger.totals.same == 6 and not ledger.only_in_a
