"""Habits by class: what a line is shows in its place, its neighbours and its recurrence, more than in its words."""

from __future__ import annotations

import pytest

from rogatum.core.items.content import plain_text
from rogatum.core.receiving import read_source
from tests.core.plain import key_of

# A text, and of each of its questions how the stem ends, its type and its key.
Expected = list[tuple[str, str, object]]
TEXTS: dict[str, tuple[str, Expected]] = {
    "a stem below a number that stands alone": (
        "Point 1:\nThe finest is\nclay\nsand\nsilt\nAnswer: clay\n\nPoint 2:\nWhich is coarse?\n¿Cuál es gruesa?\nclay\nsand\nsilt\nAnswer: sand\n",
        [("The finest is", "multiple_choice", ["clay"]), ("gruesa?", "multiple_choice", ["sand"])],
    ),
    "choices without labels that the key says": (
        "1. Which is fine?\nclay\nsand\nAnswer: clay\n\n2. Which is coarse?\na. clay\nb. sand\nAnswer: b\n\n3. Which is red?\na. iron\nb. lime\nAnswer: a\n",
        [("fine?", "multiple_choice", ["clay"]), ("coarse?", "multiple_choice", ["sand"]), ("red?", "multiple_choice", ["iron"])],
    ),
    "Roman numbers over numbered choices": (
        "I. Steam in the oven\n1) dries the crust\n2) keeps it soft\n\nII. A cold loaf is\n1) pale\n2) dark\n\nIII. Crust is due to\n1) ash\n2) heat\n\n"
        "KEY\n\nI. 2 II. 1 III. 2\n",
        [
            ("oven", "multiple_choice", ["keeps it soft"]),
            ("loaf is", "multiple_choice", ["pale"]),
            ("due to", "multiple_choice", ["heat"]),
        ],
    ),
    "Roman parts over questions that begin anew": (
        "I. CHOOSE THE BEST ANSWER\n\nQuestion 1. Rust is\na. red\nb. blue\nANS: a\n\nII. TRUE OR FALSE\n\nQuestion 1. Salt speeds it.\nANS: True\n\n"
        "III. COMPLETION\n\nQuestion 1. The fee is a ____.\nANS: toll\n\nQuestion 2. Damage by loads is ____.\nANS: fatigue\n",
        [
            ("Rust is", "multiple_choice", ["red"]),
            ("speeds it.", "true_false", True),
            ("a ____.", "fill_in", ["toll"]),
            ("is ____.", "fill_in", ["fatigue"]),
        ],
    ),
    "letters above the numbers that they match": (
        "1. Which is fine?\na. clay\nb. sand\nAnswer: a\n\n2. Match the tool with its task.\nA. loads the oven\nB. holds the dough\n\n1) peel\n2) basket\n\n"
        "Answer: 1 = A; 2 = B\n",
        [("fine?", "multiple_choice", ["clay"]), ("task.", "matching", ["peel=loads the oven", "basket=holds the dough"])],
    ),
    "places in an order in brackets": (
        "1. In what order are these done?\n[3] Steam.\n[2] Load.\n[1] Heat.\n\nSection 7: Short answer\n\n2. Why?\nSample answer: Because.\n",
        [("done?", "ordering", ["Heat.", "Load.", "Steam."]), ("Why?", "essay", None)],
    ),
    "a list of keys with gaps, wrapped": (
        "1. Which?\na. x\nb. y\n\n3. What?\na. x\nb. y\n\n4. Who?\na. x\nb. y\n\nAnswers\n1 = B; 3 =\nA; 4 = B\n",
        [("Which?", "multiple_choice", ["y"]), ("What?", "multiple_choice", ["x"]), ("Who?", "multiple_choice", ["y"])],
    ),
    "a range of keys that leaves numbers out": (
        "1. Which?\na. x\nb. y\n\n3. What?\na. x\nb. y\n\n4. Who?\na. x\nb. y\n\nAnswers\n1–4: BAB\n",
        [("Which?", "multiple_choice", ["y"]), ("What?", "multiple_choice", ["x"]), ("Who?", "multiple_choice", ["y"])],
    ),
    "a list of keys under a heading that is known nowhere": (
        "A. Texture\n1. Which?\na. x\nb. y\n2. What?\na. x\nb. y\nB. True/False\n1. Sand is fine.\n2. Clay is fine.\n\nFor the teacher\nB. True/False\n"
        "1. False\n2. True\n",
        [
            ("Which?", "multiple_choice", []),
            ("What?", "multiple_choice", []),
            ("Sand is fine.", "true_false", False),
            ("Clay is fine.", "true_false", True),
        ],
    ),
    "two entries are no row of numbers": (
        "1. How many?\n\n2. Sand is fine.\n\n3. Which?\na. x\nb. y\n\nAnswer Key\n1. 7\n2. F\n3. b\n",
        [("many?", "numeric", [(7.0, 7.0)]), ("fine.", "true_false", False), ("Which?", "multiple_choice", ["y"])],
    ),
    "code, without numbers": (
        "Which is fine?\na. clay\nb. sand\nAnswer: a\n\nWhat is printed?\nt = 250\nwhile t > 220:\n    t = t - 10\nprint(t)\na. 250\nb. 220\nAnswer: b\n",
        [("fine?", "multiple_choice", ["clay"]), ("print(t)", "multiple_choice", ["220"])],
    ),
    "statements, without numbers": (
        "Which is fine?\na. clay\nb. sand\nAnswer: a\n\nWhich is red?\na. iron\nb. lime\nAnswer: a\n\nConsider these.\nI. Clay is flat.\nII. Sand is round.\nWhich are right?\na. I only\nb. II only\nAnswer: a\n",
        [
            ("fine?", "multiple_choice", ["clay"]),
            ("red?", "multiple_choice", ["iron"]),
            ("Which are right?", "multiple_choice", ["I only"]),
        ],
    ),
    "a label that letters tell, for other keys": (
        "1. Which?\na. x\nb. y\nResp: B\n2. What?\na. x\nb. y\nResp: A\n3. Who?\na. x\nb. y\nResp: B\n4. When?\na. x\nb. y\nResp: A\n"
        "5. Sand is fine.\nResp: false\n",
        [
            ("Which?", "multiple_choice", ["y"]),
            ("What?", "multiple_choice", ["x"]),
            ("Who?", "multiple_choice", ["y"]),
            ("When?", "multiple_choice", ["x"]),
            ("fine.", "true_false", False),
        ],
    ),
    "numbers with a word and a sign": (
        "Q-1 Which is fine?\nOption A: clay\nOption B: sand\nKeyed response: A\n\nQ-2 Which is coarse?\nOption A: clay\nOption B: sand\nKeyed response: B\n",
        [("Which is fine?", "multiple_choice", ["clay"]), ("Which is coarse?", "multiple_choice", ["sand"])],
    ),
    "truths in other words": (
        "1. Sand is fine.\na. correct\nb. incorrect\nAnswer: b\n\n2. Clay is fine.\nAnswer: correct\n",
        [("Sand is fine.", "true_false", False), ("Clay is fine.", "true_false", True)],
    ),
    "an empty key above a heading": (
        "1. How many grams?\nAnswer: 24 g\n\n2. How many litres?\nAnswer:\nMatch the columns\n\n3. The fee is a ____.\nAnswer: toll\n",
        [("grams?", "numeric", [(24.0, 24.0)]), ("litres?", "essay", None), ("a ____.", "fill_in", ["toll"])],
    ),
    "a sign that all choices have, and a mark behind one": (
        "1. Which is fine?\n=> clay ✓\n=> sand\n\n2. Which is coarse?\n=> clay\n=> sand ✓\n",
        [("fine?", "multiple_choice", ["clay"]), ("coarse?", "multiple_choice", ["sand"])],
    ),
    "a key behind the stem, above the choices": (
        "1. Which is fine?   Answer: A\na. clay\nb. sand\n\n2. Which is coarse?   Answer: B\na. clay\nb. sand\n",
        [("fine?", "multiple_choice", ["clay"]), ("coarse?", "multiple_choice", ["sand"])],
    ),
    "a slip where numbers begin anew": (
        "Part A\n1) Which?\na. x\nb. y\nANS: b\n2) What?\na. x\nb. y\nANS: a\n\nFill-in (3 points each)\n\n1. The fee is a ____.\nANS: toll\n2) Damage is ____.\nANS: fatigue\n",
        [
            ("Which?", "multiple_choice", ["y"]),
            ("What?", "multiple_choice", ["x"]),
            ("a ____.", "fill_in", ["toll"]),
            ("is ____.", "fill_in", ["fatigue"]),
        ],
    ),
    "an indented choice that reads like a label": (
        "1. A truss is of\n   squares\n   hinges: many\n   Answer: squares\n\n2. Sand is\n   fine\n   coarse\n   Answer: coarse\n",
        [("is of", "multiple_choice", ["squares"]), ("Sand is", "multiple_choice", ["coarse"])],
    ),
    "answers of blanks in rows": (
        "1. Stress is force by ____; strain is change by ____.\nAnswers:\n(1) area\n(2) length\n\n2. The fee is a ____.\nAnswer: toll\n",
        [("____.", "cloze", [["area"], ["length"]]), ("a ____.", "fill_in", ["toll"])],
    ),
}


@pytest.mark.parametrize("name", TEXTS)
def test_a_class_of_habits(name):
    text, wanted = TEXTS[name]
    items = read_source(("test.txt", text.encode())).bank.items
    assert [(item.type, key_of(item)) for item in items] == [(kind, key) for _, kind, key in wanted]
    stems = [plain_text(item.stem, blank="____") for item in items]
    assert [stem.endswith(end) for stem, (end, _, _) in zip(stems, wanted, strict=True)] == [True] * len(wanted), stems


@pytest.mark.parametrize("heading", ["# Bread – Quiz 2 – Answers\n\n", ""])
def test_a_table_of_keys_in_a_document_of_its_own(tmp_path, heading):
    (tmp_path / "Bread.md").write_text("1. Which?\n\na) x\nb) y\n\n2. What?\n\na) x\nb) y\n")
    (tmp_path / "Bread key.md").write_text(heading + "| No. | Key |\n|---|---|\n| 1 | b |\n| 2 | a |\n")
    assert [key_of(item) for item in read_source(tmp_path).bank.items] == [["y"], ["x"]]


def test_points_in_another_word_and_before_the_key():
    text = "".join(f"{n}. Which is {n}? (3 credits) (B)\na. x\nb. y\n\n" for n in range(1, 6))
    items = read_source(("test.txt", text.encode())).bank.items
    assert [(item.points, key_of(item)) for item in items] == [(3.0, ["y"])] * 5


def test_labels_behind_tabs_are_no_sheet():
    text = "".join(f"Question {n} Which is it?\nA.\tclay\nB.\tsand\nAnswer: B\n\n" for n in range(1, 5))
    assert [key_of(item) for item in read_source(("test.txt", text.encode())).bank.items] == [["sand"]] * 4


@pytest.mark.parametrize("sign", [":", " :=", " =", " –", ": -"])
def test_labels_with_any_sign(sign):
    text = "".join(f"{n}. Which is it?\na. clay\nb. sand\nAnswer: b\nLVL{sign} easy\n\n" for n in range(1, 5))
    assert [item.metadata for item in read_source(("test.txt", text.encode())).bank.items] == [{"LVL": ["easy"]}] * 4
