"""Repairs that a person puts in words: each is planned with what changes, and what was asked for in vain is told."""

from __future__ import annotations

import pytest
from pydantic import TypeAdapter

from rogatum.core.errors import NothingToMend
from rogatum.core.items import Choice, FillIn, Information, MultipleChoice, Numeric, Ordering, TextAnswer, TrueFalse
from rogatum.core.items.key import key_words
from rogatum.core.mending import Plan, Subject, Wish, plan
from rogatum.core.mending.numbers import numbers_in
from rogatum.core.mending.pictures import missing_names

WISH: TypeAdapter[Wish] = TypeAdapter(Wish)


def choice_item(number: int, **more: object) -> MultipleChoice:
    choices = [Choice(id=f"c{n}", content=text) for n, text in enumerate(("sand", "silt", "clay", "loam"))]
    return MultipleChoice(id=f"i{number}", stem=f"Question {number}?", choices=choices, **more)


def subjects(*items, lines=(), path=()) -> list[Subject]:
    lines = lines or [""] * len(items)
    return [Subject(n, item, path, line) for n, (item, line) in enumerate(zip(items, lines, strict=True), 1)]


def planned(found: list[Subject], **said: object) -> Plan:
    return plan(found, WISH.validate_python(said))


def told(made: Plan) -> list[tuple[int, str, str]]:
    return [(change.position, change.before, change.after) for change in made.changes]


def test_points_by_ratio_keep_their_proportions_and_the_weights():
    found = subjects(choice_item(1, points=100), choice_item(2, points=50), choice_item(3, points=None))
    made = planned(found, kind="points-ratio", was=100, becomes=1)
    assert told(made) == [(1, "100 points", "1 point"), (2, "50 points", "0.5 points")]
    assert made.changes[0].item.choices == found[0].item.choices


def test_no_ratio_gives_more_points_than_can_be_given():
    with pytest.raises(NothingToMend, match="1e"):
        planned(subjects(choice_item(1, points=100)), kind="points-ratio", was=1e-9, becomes=1000)


def test_points_by_table_leave_what_is_not_in_it():
    found = subjects(
        choice_item(1, points=100), choice_item(2, points=50), choice_item(3, points=7), choice_item(4), Information(id="t")
    )
    made = planned(found, kind="points-table", table=[[100, 1], [50, 0.5], [None, 1], [3, 1]])
    assert told(made) == [(1, "100 points", "1 point"), (2, "50 points", "0.5 points"), (4, "no points", "1 point")]
    assert made.unmet == ["No item has 3 points."]


def fill_in(*texts: str, match="exact") -> FillIn:
    return FillIn(id="f", stem="How much?", answers=[TextAnswer(text=text, match=match) for text in texts])


def test_typed_numbers_become_numeric_with_a_tolerance_and_words_stay():
    found = subjects(fill_in("25", "25.0"), fill_in("clay"), fill_in("1,250"), fill_in("4.5", match="contains"))
    made = planned(found, kind="to-numeric", tolerance=0.5)
    assert told(made) == [(1, "typed: 25; 25.0", "number: 24.5 to 25.5")]
    assert isinstance(made.changes[0].item, Numeric) and made.unmet == [
        "Item 3: “1,250” may be thousands or a fraction; set it by hand."
    ]


def test_units_are_parted_from_their_numbers():
    made = planned(subjects(fill_in("1.4 g/cm³"), fill_in("25"), fill_in("3 m", "300 cm")), kind="part-units")
    assert told(made) == [(1, "typed: 1.4 g/cm³", "number: 1.4, in g/cm³")]


@pytest.mark.parametrize(
    ("text", "codes"),
    [
        ("1–2: 2.1", {1: ["2.1"], 2: ["2.1"]}),
        ("1-2: 2.1; 2, 3: 2.2, 2.3", {1: ["2.1"], 2: ["2.1", "2.2", "2.3"], 3: ["2.2", "2.3"]}),
        ("1 to 3: A", {1: ["A"], 2: ["A"], 3: ["A"]}),
        ("2 3: A\n1: B", {1: ["B"], 2: ["A"], 3: ["A"]}),
    ],
)
def test_outcomes_by_number(text, codes):
    made = planned(subjects(*map(choice_item, (1, 2, 3))), kind="outcomes-by-number", text=text)
    assert {change.position: change.item.metadata["outcome"] for change in made.changes} == codes


def test_numbers_are_those_that_are_printed():
    found = subjects(*map(choice_item, (1, 2, 3)), lines=("11. Which?", "12) Which?", "14. Which?"))
    made = planned(found, kind="outcomes-by-number", text="12–14: 2.1")
    assert [change.position for change in made.changes] == [2, 3] and made.unmet == ["There is no question 13."]


def test_outcomes_by_chapter_add_or_replace():
    item = choice_item(1, metadata={"outcome": ["1.1"]})
    wish = {"kind": "outcomes-by-chapter", "table": [[["Chapter 2"], ["2.1"]]]}
    assert told(planned(subjects(item, path=("Chapter 2",)), **wish)) == [(1, "1.1", "1.1, 2.1")]
    assert told(planned(subjects(item, path=("Chapter 2",)), **wish, replace=True)) == [(1, "1.1", "2.1")]
    with pytest.raises(NothingToMend):
        planned(subjects(item, path=("Chapter 3",)), **wish)


def test_keys_from_a_list_fit_each_type():
    order = Ordering(id="o", stem="Order.", sequence=["b", "c", "a"])
    number = Numeric(id="n", stem="How much?", unit="%")
    found = subjects(choice_item(1), choice_item(2), TrueFalse(id="t", stem="Loam."), fill_in(), number, order, choice_item(7))
    made = planned(found, kind="keys", text="1 C 2 A\n3. False\n4. field capacity; FC\n5. 25 ± 0.5\n6. c, a, b\n7. A, C\n9. B")
    words = {change.position: key_words(change.item) for change in made.changes}
    assert words == {1: "clay", 2: "sand", 3: "False", 4: "field capacity; FC", 5: "24.5 to 25.5", 6: "a; b; c", 7: "sand; clay"}
    assert made.changes[6].item.type == "multiple_response" and made.unmet == ["There is no question 9."]


def test_a_key_that_an_item_does_not_offer_is_told():
    made = planned(subjects(choice_item(1), choice_item(2)), kind="keys", text="1 A 2 F")
    assert [change.position for change in made.changes] == [1] and made.unmet == ["Item 2: “F” is no key of it."]


@pytest.mark.parametrize("text", ["", "no numbers here", "1 A\n1 B"])
def test_a_list_without_keys_or_with_two_for_one_is_refused(text):
    with pytest.raises(NothingToMend):
        planned(subjects(choice_item(1)), kind="keys", text=text)


@pytest.mark.parametrize(
    "text", ["Number\tFeedback\n1\tSee page 3; then 4\n2\t\n", "1|See page 3; then 4", '1,"See page 3; then 4"']
)
def test_feedback_comes_from_rows_by_number(text):
    made = planned(subjects(choice_item(1), choice_item(2)), kind="feedback", text=text, slot="incorrect")
    assert [(c.position, c.item.feedback) for c in made.changes] == [(1, {"incorrect": "See page 3; then 4"})]


def test_pictures_are_matched_by_name_whatever_folder_case_and_kind():
    missing = '<img alt="profile" title="Missing: Images/Profile%201.PNG"/>'
    item = choice_item(1).model_copy(update={"stem": f"What is this? {missing}"})
    assert missing_names(item) == ["Images/Profile%201.PNG"]
    made = planned(subjects(item), kind="pictures", files={"profile 1.jpg": "media/abc.jpg", "other.png": "media/d.png"})
    assert made.changes[0].item.stem == 'What is this? <img src="media/abc.jpg" alt="profile"/>'
    assert made.changes[0].shown == made.changes[0].item.stem
    assert made.unmet == ["No item misses “other.png”."]


def test_lists_of_numbers():
    assert numbers_in("1–3, 8 10 to 11") == [1, 2, 3, 8, 10, 11]
    for text in ("3-1", "a", "1–99999", ""):
        with pytest.raises(NothingToMend):
            numbers_in(text)
