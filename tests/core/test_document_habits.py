"""Documents in the habits that people have. Each is one test about soils; each must be read to the last answer, with nothing silently wrong."""

from __future__ import annotations

import io
import re
import zipfile
from collections.abc import Callable
from dataclasses import dataclass

import pytest

from rogatum.core.formats.shared import pandoc
from rogatum.core.items.content import plain_text
from rogatum.core.receiving import read_source


@dataclass(frozen=True)
class Question:
    stem: str
    choices: tuple[str, ...]
    key: int


TEST = (
    Question("Which particle is the smallest?", ("sand", "silt", "clay", "gravel"), 2),
    Question("In 1883 V. V. Dokuchaev studied", ("podzols.", "chernozems.", "peat.", "loess."), 1),
    Question("About which share of a loam is pore space?", ("5 %", "50 %", "90 %", "1.5 %"), 1),
    Question("Which of these is not a factor of soil formation?", ("climate", "relief", "time", "irrigation"), 3),
    Question("The pH of a neutral soil is", ("4", "5.5", "7", "9"), 2),
)
LETTERS = "abcdefgh"


def numbered(
    stem: str, choice: str, mark: Callable[[str, bool], str] = lambda line, _right: line, tail: str = "", gap: str = "\n\n"
) -> str:
    """The test as text: patterns for stems and choices, a mark for the right choice, a line behind each question."""
    parts = []
    for number, question in enumerate(TEST, 1):
        lines = [stem.format(n=number, text=question.stem)]
        for position, text in enumerate(question.choices):
            letter = LETTERS[position]
            line = choice.format(l=letter, u=letter.upper(), text=text, r=("i", "ii", "iii", "iv")[position], n=position + 1)
            lines.append(mark(line, position == question.key))
        if tail:
            letter = LETTERS[question.key]
            lines.append(tail.format(l=letter, u=letter.upper(), text=question.choices[question.key], n=number))
        parts.append("\n".join(lines))
    return gap.join(parts) + "\n"


def starred(line: str, right: bool) -> str:
    return f"*{line}" if right else line


def star_behind(line: str, right: bool) -> str:
    return f"{line} *" if right else line


def ticked(line: str, right: bool) -> str:
    return f"{line} ✓" if right else line


def said(line: str, right: bool) -> str:
    return f"{line} (correct)" if right else line


def keys(pattern: str, between: str = "\n", upper: bool = True) -> str:
    letters = [LETTERS[q.key].upper() if upper else LETTERS[q.key] for q in TEST]
    return between.join(pattern.format(n=n, k=letter) for n, letter in enumerate(letters, 1))


def one_line() -> str:
    return "\n\n".join(
        f"{n}. {q.stem}\n"
        + "    ".join(f"{LETTERS[i]}. {text}" for i, text in enumerate(q.choices))
        + f"\nAnswer: {LETTERS[q.key]}"
        for n, q in enumerate(TEST, 1)
    )


def two_columns() -> str:
    rows = []
    for n, q in enumerate(TEST, 1):
        rows.append(
            f"{n}. {q.stem}\na. {q.choices[0]:20}c. {q.choices[2]}\nb. {q.choices[1]:20}d. {q.choices[3]}\nAnswer: {LETTERS[q.key]}"
        )
    return "\n\n".join(rows)


def run_on() -> str:
    rows = [
        f"{n}. {q.stem} " + " ".join(f"{LETTERS[i]}) {text}" for i, text in enumerate(q.choices)) for n, q in enumerate(TEST, 1)
    ]
    return "\n".join(rows) + "\n\nKey: " + keys("{n}-{k}", " ")


def unnumbered() -> str:
    return "\n\n".join(
        q.stem + "\n" + "\n".join(starred(f"{LETTERS[i]}. {t}", i == q.key) for i, t in enumerate(q.choices)) for q in TEST
    )


def at_stem_end() -> str:
    return "\n\n".join(
        f"{n}. {q.stem} ({LETTERS[q.key].upper()})\n" + "\n".join(f"{LETTERS[i]}) {t}" for i, t in enumerate(q.choices))
        for n, q in enumerate(TEST, 1)
    )


def filled_blank() -> str:
    return "\n\n".join(
        f"__{LETTERS[q.key].upper()}__ {n}. {q.stem}\n" + "\n".join(f"{LETTERS[i]}. {t}" for i, t in enumerate(q.choices))
        for n, q in enumerate(TEST, 1)
    )


TEXTS = {
    "dots and a star": numbered("{n}. {text}", "{l}. {text}", starred),
    "brackets and a star": numbered("{n}) {text}", "{l}) {text}", starred),
    "double brackets, capitals": numbered("({n}) {text}", "({u}) {text}", starred),
    "Question n:": numbered("Question {n}: {text}", "{u}. {text}", starred),
    "Qn.": numbered("Q{n}. {text}", "{u}) {text}", tail="Answer: {u}"),
    "#n": numbered("#{n} {text}", "{l}. {text}", tail="Ans: {l}"),
    "star behind": numbered("{n}. {text}", "{l}. {text}", star_behind),
    "star between letter and text": numbered(
        "{n}. {text}", "{l}. MARK{text}", lambda line, right: line.replace("MARK", "*" * right)
    ),
    "tick between letter and text": numbered(
        "{n}. {text}", "{l}) MARK{text}", lambda line, right: line.replace("MARK", "✓ " * right)
    ),
    "stars around": numbered("{n}. {text}", "{l}. MARK{text}MARK", lambda line, right: line.replace("MARK", "**" * right)),
    "tick behind": numbered("{n}. {text}", "{l}. {text}", ticked),
    "(correct) behind": numbered("{n}. {text}", "{l}. {text}", said),
    "no blank lines": numbered("{n}. {text}", "{l}. {text}", starred, gap="\n"),
    "blank lines everywhere": numbered("{n}. {text}", "{l}. {text}", starred).replace("\n", "\n\n"),
    "indented": numbered("{n}. {text}", "    {l}. {text}", tail="    Answer: {l}"),
    "tabs": numbered("{n}.\t{text}", "\t{l}.\t{text}", tail="\tANSWER: {u}"),
    "Roman choices": numbered("{n}. {text}", "{r}. {text}", lambda line, right: f"*{line}" if right else line),
    "answer in words": numbered("{n}. {text}", "{l}. {text}", tail="Correct answer: {text}"),
    "answer with letter and words": numbered("{n}. {text}", "{l}. {text}", tail="Answer: {u}. {text}"),
    "key list in lines": numbered("{n}. {text}", "{l}. {text}") + "\nAnswers\n" + keys("{n}. {k}"),
    "key list in a run": numbered("{n}. {text}", "{l}. {text}") + "\nAnswer Key: " + keys("{n}-{k}", ", "),
    "key list with tabs": numbered("{n}. {text}", "{l}. {text}") + "\nANSWER KEY\n" + keys("{n}\t{k}"),
    "key list without heading": numbered("{n}. {text}", "{l}. {text}") + "\n" + keys("{n}. {k}", "   "),
    "key list small letters": numbered("{n}. {text}", "{l}. {text}") + "\nKey\n" + keys("{n}) {k}", " ", upper=False),
    "dashes as bullets": numbered("{n}. {text}", "- {text}", star_behind),
    "boxes": numbered("{n}. {text}", "{l}. {text}", lambda line, right: ("[x] " if right else "[ ] ") + line),
    "square boxes": numbered("{n}. {text}", "{text}", lambda line, right: ("☒ " if right else "☐ ") + line),
    "side by side": one_line(),
    "two columns": two_columns(),
    "run on": run_on(),
    "no numbers": unnumbered(),
    "key at the end of the stem": at_stem_end(),
    "key on a blank": filled_blank(),
    "page furniture": "Name: ________  Date: ______\n\nPage 1 of 2\n\n"
    + numbered("{n}. {text}", "{l}. {text}", starred)
    + "\n- 2 -\n",
    "title and directions": "Soils, Quiz 1\n\nDirections: Choose the best answer.\n\n"
    + numbered("{n}. {text}", "{l}. {text}", starred),
    "chapters": "Chapter 1: Soils\n\n" + numbered("{n}. {text}", "{l}. {text}", starred),
    "letter before the number": "\n".join(
        f"{LETTERS[q.key].upper()} {n}. {q.stem}\n" + "\n".join(f"{LETTERS[i]}. {t}" for i, t in enumerate(q.choices))
        for n, q in enumerate(TEST, 1)
    ),
    "Roman numbers": "\n".join(
        f"{roman}. {q.stem}\n" + "\n".join(starred(f"{LETTERS[i]}. {t}", i == q.key) for i, t in enumerate(q.choices))
        for roman, q in zip(("I", "II", "III", "IV", "V"), TEST, strict=True)
    ),
    "choices numbered as stems are": numbered("{n}. {text}", "{n}. {text}", starred),
    "choices in numbers, key by number": "\n".join(
        f"{n}. {q.stem}\n" + "\n".join(f"{i}) {t}" for i, t in enumerate(q.choices, 1)) + f"\nAnswer: {q.key + 1}"
        for n, q in enumerate(TEST, 1)
    ),
    "German": numbered("Frage {n}: {text}", "{l}) {text}", tail="Antwort: {l}"),
    "key on the last choice's line": numbered("{n}. {text}", "{l}. {text}", tail="Answer: {l}").replace("\nAnswer", " Answer"),
    "key in brackets behind the stem": "\n".join(
        f"{n}. {q.stem} (Ans: {LETTERS[q.key]})\n" + "\n".join(f"{LETTERS[i]}. {t}" for i, t in enumerate(q.choices))
        for n, q in enumerate(TEST, 1)
    ),
    "numbers and letters without a sign": numbered("{n} {text}", "{u} {text}") + "\nAnswers: " + keys("{n} {k}", ", "),
    "numbers without a sign": numbered("{n} {text}", "{l}) {text}", starred),
    "letters before questions, numbers before choices": "\n\n".join(
        f"{LETTERS[n].upper()}. {q.stem}\n" + "\n".join(f"{i}. {t}" for i, t in enumerate(q.choices, 1)) + f"\nAnswer: {q.key + 1}"
        for n, q in enumerate(TEST)
    ),
    "The correct answer is": numbered("{n}. {text}", "{l}) {text}", tail="The correct answer is {u}."),
    "an arrow to the answer": numbered("{n}. {text}", "{l}) {text}", tail="-> {u}"),
    "(correct answer) behind": numbered(
        "{n}. {text}", "{l}. {text}", lambda line, right: f"{line} (correct answer)" * right or line
    ),
    "per cent behind": numbered("{n}. {text}", "{l}. {text}", lambda line, right: f"{line} ({100 if right else 0}%)"),
    "square brackets": numbered("{n}. {text}", "[{l}] {text}", tail="Answer: [{l}]"),
    "Markdown in a text": numbered("**{n}. {text}**", "{l}. {text}", lambda line, right: f"{line}  ", tail="**Answer: {u}**"),
    "numbers that jump": "\n".join(
        f"{10 * n}. {q.stem}\n" + "\n".join(starred(f"{LETTERS[i]}. {t}", i == q.key) for i, t in enumerate(q.choices))
        for n, q in enumerate(TEST, 1)
    ),
    "numbers with the chapter's": numbered("1.{n} {text}", "{l}. {text}", starred),
    "numbers with the part's letter": numbered("A{n}. {text}", "{l}. {text}", starred),
    "Question n of m": numbered("Question {n} of 5\n{text}", "{l}. {text}", starred),
    "all choices on one line": "\n".join(
        f"{n}. {q.stem}\n" + " ".join(f"({LETTERS[i]}) {t}" for i, t in enumerate(q.choices)) + f"\nAnswer: ({LETTERS[q.key]})"
        for n, q in enumerate(TEST, 1)
    ),
    "labels in a row": numbered("{n}. {text}", "{l}. {text}", tail="ANS: {u} PTS: 1 DIF: Easy REF: p. 23\nOBJ: 2.1 TOP: Soil"),
    "Windows-1252": numbered("{n}. {text}", "{l}. {text}", starred).replace("particle", "“particle”"),
}


def check(bank, wanted=TEST):
    """Every question with its choices and its key, or a warning or an error about it."""
    flagged = {finding.item for finding in bank.findings if finding.level != "note"}
    assert len(bank.items) == len(wanted), [plain_text(item.stem) for item in bank.items]
    for item, question in zip(bank.items, wanted, strict=True):
        stem = re.sub(r"\W+", " ", plain_text(item.stem)).strip()
        assert stem == re.sub(r"\W+", " ", question.stem).strip()
        assert [plain_text(c.content) for c in item.choices] == list(question.choices), item.id in flagged
        assert [i for i, c in enumerate(item.choices) if c.weight > 0] == [question.key]
    assert not {code for f in bank.findings if f.level == "error" for code in [f.code]}


@pytest.mark.parametrize("name", TEXTS)
def test_text(name):
    encoding = "cp1252" if name == "Windows-1252" else "utf-8"
    check(read_source(("test.txt", TEXTS[name].encode(encoding))).bank)


def page(stem: str, choice: str, list_: str = '<ol type="{kind}">{inner}</ol>', tail: str = "", kind: str = "a") -> str:
    """The test as a web page with automatic lists; `choice` has the text and marks of a right one."""
    parts = []
    for number, q in enumerate(TEST, 1):
        items = "".join(f"<li>{choice.format(text=t) if i == q.key else t}</li>" for i, t in enumerate(q.choices))
        end = tail.format(u=LETTERS[q.key].upper()) if tail else ""
        parts.append(stem.format(n=number, text=q.stem, list=list_.format(kind=kind, inner=items), end=end))
    return "".join(parts)


NESTED = '<ol start="{n}"><li>{text}{list}{end}</li></ol>'
TYPED = "<p>{n}. {text}</p>{list}{end}"
PAGES = {
    "bold": page(NESTED, "<b>{text}</b>"),
    "italic": page(NESTED, "<i>{text}</i>"),
    "underlined": page(NESTED, "<u>{text}</u>"),
    "highlight": page(NESTED, "<mark>{text}</mark>"),
    "typed numbers, automatic letters": page(TYPED, "<b>{text}</b>", kind="A"),
    "answer lines": page(TYPED, "{text}", tail="<p>Answer: {u}</p>"),
    "bullets": page(NESTED, "<b>{text}</b>", "<ul>{inner}</ul>"),
    "numbers within numbers": page(NESTED, "<b>{text}</b>", kind="1"),
    "key list": page(NESTED, "{text}") + "<p><b>Answers</b></p><p>" + keys("{n}. {k}", " ") + "</p>",
    "key in a grid": page(NESTED, "{text}")
    + "<p><b>Answer key</b></p><table>"
    + "".join(
        f"<tr>{''.join(f'<td>{cell}</td>' for cell in row)}</tr>" for row in (range(1, 6), [LETTERS[q.key].upper() for q in TEST])
    )
    + "</table>",
    "line breaks": "".join(
        f"<p>{n}. {q.stem}<br/>"
        + "<br/>".join(("*" if i == q.key else "") + f"{LETTERS[i]}. {t}" for i, t in enumerate(q.choices))
        + "</p>"
        for n, q in enumerate(TEST, 1)
    ),
    "choices in a table": "".join(
        f"<p>{n}. {q.stem}</p><table>"
        + "".join(
            f"<tr><td>{LETTERS[i]}.</td><td>{'<b>' + t + '</b>' if i == q.key else t}</td></tr>" for i, t in enumerate(q.choices)
        )
        + "</table>"
        for n, q in enumerate(TEST, 1)
    ),
    "bold labels everywhere": "".join(
        f"<p><b>{n}.</b> {q.stem}</p>"
        + "".join(f"<p><b>{LETTERS[i]}.</b> {t}</p>" for i, t in enumerate(q.choices))
        + f"<p><b>Answer:</b> {LETTERS[q.key]}</p>"
        for n, q in enumerate(TEST, 1)
    ),
}


@pytest.mark.parametrize("name", PAGES)
@pytest.mark.parametrize("kind", ["docx", "odt", "html", "rtf"])
def test_page(name, kind):
    if (kind, name) in UNREADABLE:
        pytest.skip(UNREADABLE[kind, name])
    if kind == "html":
        data = f"<html><body>{PAGES[name]}</body></html>".encode()
    else:
        data = pandoc.written(PAGES[name], kind, "x", {})
    check(read_source((f"test.{kind}", data)).bank)


# What the program that makes these documents cannot write, so that there is nothing to read.
UNREADABLE = {
    ("odt", "highlight"): "highlights are not written",
    ("rtf", "highlight"): "highlights are not written",
    ("rtf", "bullets"): "bullets are written as signs that are no text",
    ("rtf", "numbers within numbers"): "lists are written as typed numbers, without levels",
}


def test_coloured_type_in_a_word_document():
    data = pandoc.written(page(NESTED, "<b>{text}</b>"), "docx", "x", {})
    buffer = io.BytesIO()
    with zipfile.ZipFile(io.BytesIO(data)) as archive, zipfile.ZipFile(buffer, "w") as copy:
        for name in archive.namelist():
            content = archive.read(name)
            if name == "word/document.xml":
                content = re.sub(rb"<w:b ?/>(?:<w:bCs ?/>)?", b'<w:color w:val="C00000"/>', content)
            copy.writestr(name, content)
    bank = read_source(("test.docx", buffer.getvalue())).bank
    check(bank)
    assert any("highlight or colour: on 5 of 5" in finding.message for finding in bank.findings)
