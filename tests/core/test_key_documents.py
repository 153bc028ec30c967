"""Keys in a document of their own, read with the test that they are for; and folders whose files are read as one."""

from __future__ import annotations

import io
import zipfile

import openpyxl
import pytest

from rogatum.cli import main
from rogatum.core.errors import KeysAlone
from rogatum.core.formats.shared import pandoc
from rogatum.core.receiving import read_keys, read_source
from tests.core.plain import key_of

TEST = """1. Which particle is the smallest?
a. sand
b. clay

2. Which is the largest?
a. sand
b. clay

3. The finest is ____.
"""
KEYS = "Answer Key\nWeek 2\n\n1. B\n2. A\n3. clay\n"
SHORT_KEYS = "1-B 2-A\n"
WANTED = [["clay"], ["sand"], ["clay"]]


def folder(**files: str | bytes) -> tuple[str, bytes]:
    """An archive of files; two underscores in a name stand for its dot."""
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as archive:
        for name, data in files.items():
            archive.writestr(name.replace("__", "."), data)
    return "tests.zip", out.getvalue()


def sheet() -> bytes:
    book, out = openpyxl.Workbook(), io.BytesIO()
    for row in (("Number", "Answer"), (1, "B"), (2, "A")):
        book.active.append(row)
    book.save(out)
    return out.getvalue()


def page(text: str, kind: str) -> bytes:
    return pandoc.written("".join(f"<p>{line}</p>" for line in text.splitlines() if line), kind, "x", {})


KEY_FILES = {
    "a list": ("key__txt", KEYS),
    "a run": ("key__txt", SHORT_KEYS),
    "cells": ("answers__csv", "Number,Answer\n1,B\n2,A\n"),
    "a workbook": ("key__xlsx", sheet()),
    "a Word document": ("key__docx", page(KEYS, "docx")),
    "a web page": ("key__html", page(KEYS, "html")),
    "without a name that says so": ("second__txt", SHORT_KEYS),
}


@pytest.mark.parametrize("name", KEY_FILES)
def test_keys_beside_a_test_are_its_own(name):
    file, data = KEY_FILES[name]
    bank = read_source(folder(week2__txt=TEST, **{file: data})).bank
    assert [key_of(item) for item in bank.items][:2] == WANTED[:2]
    beside = next(finding for finding in bank.findings if finding.code == "keys-beside")
    assert beside.where == file.replace("__", ".") and beside.level == "note"


def test_keys_beside_a_document():
    bank = read_source(folder(week2__docx=page(TEST, "docx"), week2_key__txt=KEYS)).bank
    assert [key_of(item) for item in bank.items] == WANTED


def test_each_list_goes_to_the_test_that_is_named_like_it():
    other = TEST.replace("particle", "grain")
    bank = read_source(folder(ch2__txt=TEST, ch3__txt=other, ch2_key__txt=KEYS, ch3_answers__txt=KEYS.replace("1. B", "1. A"))).bank
    assert [key_of(item) for item in bank.items] == [*WANTED, ["sand"], ["sand"], ["clay"]]
    assert [pool.path for pool in bank.pools] == [["ch2"], ["ch3"]]
    assert "double-id" not in {finding.code for finding in bank.findings}


def test_a_list_that_could_be_for_several_tests_is_for_none():
    bank = read_source(folder(a__txt=TEST, b__txt=TEST.replace("particle", "grain"), key__txt=KEYS)).bank
    assert "keys-without-test" in {finding.code for finding in bank.findings if finding.level == "error"}
    assert [key_of(item) for item in bank.items if item.type == "multiple_choice"] == [[], [], [], []]


def test_keys_for_no_question_are_told():
    bank = read_source(folder(week2__txt=TEST, key__txt=KEYS + "4. B\n")).bank
    lost = next(finding for finding in bank.findings if finding.code == "key-without-item")
    assert lost.where == "key.txt: line 7"


def test_the_lines_of_keys_are_shown_behind_the_test():
    view = read_source(folder(week2__txt=TEST, key__txt=SHORT_KEYS)).view
    assert (view[-1].file, view[-1].text, view[-1].role) == ("key.txt", "1-B 2-A", "key list")


def test_keys_alone_are_no_test():
    with pytest.raises(KeysAlone) as alone:
        read_source(("key.txt", KEYS.encode()))
    assert alone.value.count == 3 and "test" in alone.value.way_out
    assert [key.text for key in read_keys(("key.txt", KEYS.encode()))] == ["Answer Key", "Week 2", "1. B", "2. A", "3. clay"]


def test_short_questions_are_no_keys():
    short = "1. What is clay?\n2. Name two sands.\n3. Define loam.\n"
    assert len(read_source(("week.txt", short.encode())).bank.items) == 3


def test_keys_by_the_command_line(tmp_path, capsys):
    (tmp_path / "test.txt").write_text(TEST)
    (tmp_path / "key.txt").write_text(KEYS)
    assert main(["read", str(tmp_path / "test.txt"), "--keys", str(tmp_path / "key.txt")]) == 0
    assert '"no-key"' not in capsys.readouterr().out
    assert main(["read", str(tmp_path / "test.txt"), "--keys", str(tmp_path / "test.txt")]) == 3
    assert "questions of its own" in capsys.readouterr().err


def test_a_folder_keeps_what_each_file_had():
    picture = b"\x89PNG\r\n\x1a\n" + bytes(64)
    shared = "Use the map for questions 1-2.\n\nMap of the valley\n\n"
    html = "<p>1. What is shown? <img src='p.png' alt='a pit'></p><p>*a. x</p><p>b. y</p>"
    bank = read_source(
        folder(a__txt=shared + TEST, b__txt=shared + TEST.replace("particle", "grain"), c__html=html, p__png=picture)
    ).bank
    assert [stimulus.id for stimulus in bank.stimuli] == ["s1", "s2"]
    assert [item.stimulus for item in bank.items] == ["s1", "s1", None, "s2", "s2", None, None]
    assert len({item.id for item in bank.items}) == 7
    assert bank.places[bank.items[3].id].where.startswith("b.txt/line")
