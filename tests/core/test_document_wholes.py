"""Whole documents and what stands in them: code with its lines, an examination from its head to its key, feedback behind choices."""

from __future__ import annotations

import pytest

from rogatum.core.receiving import read_source
from tests.core.plain import key_of

CODE = """1. What does it print?

    for n in range(3):
        print(n)

a. 0 1 2
*b. nothing

2. What is x behind the loop?
int x = 0;
while (x < 3) {
    x++;
}
*a. 3
b. 2

3. Which soil is it,
    when the water stands and
    the roots are brown?
*a. gley
b. sand

4. What is wrong?
```
if n = 3:
  stop
```
*a. the sign
b. nothing
"""


def test_code_keeps_its_lines_and_words_run_on():
    first, second, third, fourth = read_source(("test.txt", CODE.encode())).bank.items
    assert first.stem == "<p>What does it print?</p><pre><code>for n in range(3):\n    print(n)</code></pre>"
    assert second.stem.endswith("<pre><code>int x = 0;\nwhile (x &lt; 3) {\n    x++;\n}</code></pre>")
    assert third.stem == "Which soil is it, when the water stands and the roots are brown?"
    assert fourth.stem == "<p>What is wrong?</p><pre><code>if n = 3:\n  stop</code></pre>"


EXAM = """HARROW VALE COLLEGE
SOIL 110 – Midterm                         Autumn 2026
Name: ______________________   Section: ______

PART I. MULTIPLE CHOICE (2 marks each). Choose the BEST answer.

1.  Which of the following is the smallest
    particle of the soil?
    A)  sand        B)  silt
    C)  clay        D)  gravel

PART II. TRUE OR FALSE (1 mark each)

2.  _____ Loam is a texture class.

PART III. SHORT ANSWER (5 marks each)

3.  Name two factors of soil formation.

4.  Explain why clay swells.

--- END OF EXAM ---

ANSWER KEY
Part I: 1. C
Part II: 2. T
Part III:
3. Any two of climate, relief, organisms, time
4. Water enters between the layers.
"""


def test_a_whole_examination():
    bank = read_source(("exam.txt", EXAM.encode())).bank
    assert [(item.type, item.stem, item.points, key_of(item)) for item in bank.items] == [
        ("multiple_choice", "Which of the following is the smallest particle of the soil?", 2, ["clay"]),
        ("true_false", "Loam is a texture class.", 1, True),
        ("essay", "Name two factors of soil formation.", 5, None),
        ("essay", "Explain why clay swells.", 5, None),
    ]
    assert [item.sample_answer for item in bank.items[2:]] == [
        "Any two of climate, relief, organisms, time",
        "Water enters between the layers.",
    ]
    assert [pool.path[0] for pool in bank.pools] == ["PART I. MULTIPLE CHOICE", "PART II. TRUE OR FALSE", "PART III. SHORT ANSWER"]
    assert "--- END OF EXAM ---" in [entry.text for entry in bank.accounting.unclaimed]


def test_feedback_behind_each_choice():
    [item] = read_source(("t.txt", b"1. Which?\na. sand -- It is coarse.\n*b. clay -- Yes.\n")).bank.items
    assert [(choice.content, choice.feedback) for choice in item.choices] == [("sand", "It is coarse."), ("clay", "Yes.")]
    [other] = read_source(("t.txt", b"1. Which?\na. sand -- coarse\n*b. clay\n")).bank.items
    assert other.choices[0].content == "sand -- coarse"


def test_a_heading_of_a_type_needs_no_blank_line_behind_an_answered_question():
    text = "1. Which?\na. x\nb. y\nANS: B  OBJ: 2.1\nTRUE/FALSE\n2. Loam is a texture.\nANS: T\n"
    first, second = read_source(("t.txt", text.encode())).bank.items
    assert first.metadata == {"outcome": ["2.1"]} and (second.type, second.answer) == ("true_false", True)


@pytest.mark.parametrize("heading", ["", "# Erosion\n\n", "Week {n}\n\n"])
@pytest.mark.parametrize("tests", [3, 14, 60])
def test_many_short_tests_that_each_begin_at_one_are_all_read(heading, tests):
    text = "".join(f"{heading.format(n=n)}1. Which is {n}?\na. this {n}\n*b. that\n\n2. Whose is {n}?\n*a. his\nb. hers {n}\n\n" for n in range(1, tests + 1))  # fmt: skip
    assert len(read_source(("tests.txt", text.encode())).bank.items) == 2 * tests


def test_questions_are_read_to_the_last_thousand():
    asked = "".join(f"{n}. Which is it, {n}?\n*a. this {n}\nb. that\n\n" for n in range(2990, 3020))
    bank = read_source(("large.txt", asked.encode())).bank
    assert len(bank.items) == 30 and not bank.accounting.unclaimed


@pytest.mark.parametrize("behind", ["", "\n2. Which is it?\n*a. x\nb. y\n", "\n2. Loam is a texture.\nAnswer: True\n"])
def test_choices_that_no_question_takes_are_told(behind):
    """A question was not seen there; choices for a word bank or a matching are taken by the questions that have none."""
    question, choices = "1. Which is finest?\n*a. clay\nb. sand\n\n", "*a. granite\nb. basalt\nc. chalk\n"
    bank = read_source(("lost.txt", f"{question}77777. Which of these?\n{choices}{behind}".encode())).bank
    assert [entry.text for entry in bank.accounting.unclaimed] == ["77777. Which of these?", "*a. granite", "b. basalt", "c. chalk"]
    assert [finding.where for finding in bank.findings if finding.code == "line-outside"][-3:] == ["line 6", "line 7", "line 8"]
