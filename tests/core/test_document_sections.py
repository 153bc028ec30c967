"""Types and keys of documents, section by section: what headings, directions and forms make of a question."""

from __future__ import annotations

import pytest

from rogatum.core.receiving import read_source
from tests.core.plain import key_of

SECTIONS: dict[str, tuple[str, list[tuple[str, object]]]] = {
    "T on a blank": (
        """True or False. Write T or F on the line. (1 point each)

__T__ 1. Loam holds water.
__F__ 2. Sand is sticky.
____ 3. Clay is fine.
""",
        [("true_false", True), ("true_false", False), ("true_false", None)],
    ),
    "T before the number": (
        """TRUE/FALSE

T 1. Loam holds water.
F 2. Sand is sticky.
""",
        [("true_false", True), ("true_false", False)],
    ),
    "T before or behind the statement": (
        """Section B: True/False
1. T  Loam holds water.
2. F  Sand is sticky.
3. Clay is fine. (True)
4. Peat is mineral. False
""",
        [("true_false", True), ("true_false", False), ("true_false", True), ("true_false", False)],
    ),
    "True and False to be circled": (
        """1. Loam holds water.
True    False
2. Sand is sticky.
True    False

Answers: 1. True 2. False
""",
        [("true_false", True), ("true_false", False)],
    ),
    "false statements corrected": (
        """True/false. If false, correct the statement.
1. Loam is a mineral.
Answer: False. Loam is a texture class.
2. Clay swells.
Answer: True
""",
        [("true_false", False), ("true_false", True)],
    ),
    "two lists with a key": (
        """Matching. Match each term with its meaning. (5 points)

____ 1. sand
____ 2. silt
____ 3. clay

A. smallest
B. middle
C. largest
D. none

Answers: 1. C 2. B 3. A
""",
        [("matching", ["sand=largest", "silt=middle", "clay=smallest"])],
    ),
    "a pool before the numbers": (
        """Match the following:
a. smallest
b. middle
c. largest

__c__ 1. sand
__b__ 2. silt
__a__ 3. clay
""",
        [("matching", ["sand=largest", "silt=middle", "clay=smallest"])],
    ),
    "two lists within one question": (
        """12. Match each particle with its size.
   1. sand      a. small
   2. silt      b. middle
   3. clay      c. large
   Answer: 1-c, 2-b, 3-a

13. Which?
*a. x
b. y
""",
        [("matching", ["sand=large", "silt=middle", "clay=small"]), ("multiple_choice", ["x"])],
    ),
    "Roman statements": (
        """1. Which are true?
I. Clay swells.
II. Sand swells.
III. Silt swells.
a. I only
*b. I and II
c. III only

2. Next?
*a. x
b. y
""",
        [("multiple_choice", ["I and II"]), ("multiple_choice", ["x"])],
    ),
    "blanks, numbers and ranges": (
        """1. The horizon rich in humus is the ______ horizon.
Answer: A or Ah
2. Water between field capacity and wilting point is ____ water. (available / plant-available)
3. pH of pure water: ___
Ans: 7
4. Bulk density of 130 g in 100 cm3?
Answer: 1.3 g/cm3 (accept 1.25 to 1.35)
5. Speed?
Answer: 9.8 m/s^2 +/- 0.1
6. Percent?
Answer: between 20 and 30
""",
        [
            ("fill_in", ["A", "Ah"]),
            ("fill_in", []),
            ("numeric", [(7.0, 7.0)]),
            ("numeric", [(1.25, 1.35)]),
            ("numeric", [(9.7, 9.9)]),
            ("numeric", [(20.0, 30.0)]),
        ],
    ),
    "a passage for some": (
        """Read the passage and answer questions 2-3.

Water moves from wet to dry. It does so slowly.

It is held by pores.

2. What moves?
*a. water
b. air
3. How?
*a. slowly
b. fast

4. Unrelated?
*a. y
b. n
""",
        [("multiple_choice", ["water"]), ("multiple_choice", ["slowly"]), ("multiple_choice", ["y"])],
    ),
    "stems of several paragraphs": (
        """1. A farmer has two fields.
The first is sandy.

The second is clayey, as the table shows:
sand 10
clay 60

Which holds more water?
a. the first
*b. the second

2. Which two of these are minerals? (Choose two)
*a. quartz
*b. mica
c. humus
""",
        [("multiple_choice", ["the second"]), ("multiple_response", ["quartz", "mica"])],
    ),
    "essays with points each": (
        """Part III. Essay (10 points each)

1. Discuss the factors of soil formation.
Answer: Climate, organisms, relief, parent material and time all act together on the soil as it forms over centuries.
Rubric: 2 points for each factor.
2. Draw a soil profile.
""",
        [("essay", None), ("essay", None)],
    ),
    "no numbers, no letters, a star": (
        """Which particle is the smallest?
sand
silt
*clay

Loam is a mixture of
*sand, silt and clay
only clay
only sand

Which gas do roots need?
nitrogen
*oxygen
argon
""",
        [("multiple_choice", ["clay"]), ("multiple_choice", ["sand, silt and clay"]), ("multiple_choice", ["oxygen"])],
    ),
    "no numbers, no letters, an answer line": (
        """Which particle is the smallest?
sand
silt
clay
Answer: clay
Which gas do roots need?
nitrogen
oxygen
argon
Answer: oxygen
""",
        [("multiple_choice", ["clay"]), ("multiple_choice", ["oxygen"])],
    ),
    "letters to J and one skipped": (
        """1. Which?
A. one
B. two
C. three
D. four
E. five
F. six
G. seven
H. eight
I. nine
J. ten
Answer: J
2. Which?
A. one
C. three
D. four
Answer: D
""",
        [("multiple_choice", ["ten"]), ("multiple_choice", ["four"])],
    ),
    "an order as the key": (
        """1. Put the stages in order.
a. rock
b. soil
c. gravel
Answer: a, c, b
""",
        [("ordering", ["rock", "gravel", "soil"])],
    ),
    "two letters, and a choice that means two": (
        """1. Which?
a. x
b. y
c. z
Answer: A, C
2. All of these?
a. x
b. y
c. both a and b
d. none of the above
Answer: C
""",
        [("multiple_response", ["x", "z"]), ("multiple_choice", ["both a and b"])],
    ),
    "initials that are no choices": (
        """1. Who wrote on soils? It was
A. Smith in 1900, with
B. Jones.
a. both
*b. none
""",
        [("multiple_choice", ["none"])],
    ),
    "several blanks": (
        """1. The finest is ____ and the coarsest is ____.
Answer: clay; sand or gravel
""",
        [("cloze", [["clay"], ["sand", "gravel"]])],
    ),
    "numbers in other notations": (
        """1. How many grains are there?
Answer: 1,250,000
2. How many molecules are there?
Answer: 6.02 x 10^23
3. How much of it?
Answer: 1/2
4. What is its density?
Answer: 2.65 ± 0.05 g/cm3
""",
        [
            ("numeric", [(1250000, 1250000)]),
            ("numeric", [(6.02e23, 6.02e23)]),
            ("fill_in", ["1/2"]),
            ("numeric", [(2.6, 2.7)]),
        ],
    ),
    "keys on the lines of statements": (
        """1. Clay is fine. (T/F) Answer: T
2. Sand is sticky. (T/F) Answer: F
""",
        [("true_false", True), ("true_false", False)],
    ),
    "answers beside what they match": (
        """Matching
Match the term with its definition.

___ 1. clay      a. coarse
___ 2. sand      b. fine
                 c. none of them

Answers: 1-b, 2-a
""",
        [("matching", ["clay=fine", "sand=coarse"])],
    ),
    "T F to be circled before the number": (
        """Circle T or F.

T F 1. Clay is smaller than sand.
T F 2. Loam is pure clay.

Answers
1. T
2. F
""",
        [("true_false", True), ("true_false", False)],
    ),
    "questions and answers in pairs": (
        """Q: What is the smallest particle?
A: Clay

Q: How much of a loam is pore space, in per cent?
A: 50

Q: Is peat a mineral soil?
A: False
""",
        [("fill_in", ["Clay"]), ("numeric", [(50, 50)]), ("true_false", False)],
    ),
    "pairs on lines": (
        """1. Match each term with its meaning.
clay - the finest particle
sand - the coarsest particle
2. Match:
a. clay -> fine
b. sand -> coarse
""",
        [
            ("matching", ["clay=the finest particle", "sand=the coarsest particle"]),
            ("matching", ["clay=fine", "sand=coarse"]),
        ],
    ),
    "the correct order by numbers": (
        """1. Arrange the horizons from the top:
1) B
2) A
3) O
Correct order: 3, 2, 1
2. Put in order:
a. sand
b. clay
c. silt
Answer: b -> c -> a
""",
        [("ordering", ["O", "A", "B"]), ("ordering", ["clay", "silt", "sand"])],
    ),
    "answers in brackets": (
        """Fill in the blanks.
1. The finest particle is [clay].
2. [Loam/A loam] holds sand, silt and [clay].
""",
        [("fill_in", ["clay"]), ("cloze", [["Loam", "A loam"], ["clay"]])],
    ),
    "shares in per cent": (
        """1. Which are particles of soil?
a. clay (50%)
b. sand (50%)
c. glass (-50%)
""",
        [("multiple_response", ["clay", "sand"])],
    ),
    "a key list in words": (
        """1. The finest is ____.
2. The coarsest is ____.

Answer key
1. clay
2. sand or gravel
""",
        [("fill_in", ["clay"]), ("fill_in", ["sand", "gravel"])],
    ),
    "True and False on lines": (
        """1. CLAY IS FINE.
TRUE
FALSE
ANSWER: TRUE
2. Sand is fine.
True
*False
""",
        [("true_false", True), ("true_false", False)],
    ),
    "the correct order": (
        """1. Arrange from smallest to largest:
A. sand
B. clay
C. silt
Correct order: B, C, A
""",
        [("ordering", ["clay", "silt", "sand"])],
    ),
    "the key list first": (
        """Answer Key
1. B
2. A

1. Which?
a. x
b. y
2. What?
a. x
b. y
""",
        [("multiple_choice", ["y"]), ("multiple_choice", ["x"])],
    ),
}


@pytest.mark.parametrize("name", SECTIONS)
def test_types_and_keys_by_section(name):
    text, wanted = SECTIONS[name]
    bank = read_source(("test.txt", text.encode())).bank
    assert [(item.type, key_of(item)) for item in bank.items] == wanted
    keyless = {item.id for item in bank.items if key_of(item) in ([], None) and item.type != "essay"}
    assert keyless <= {finding.item for finding in bank.findings if finding.level == "error"}


def test_a_passage_belongs_to_the_questions_that_it_names():
    bank = read_source(("test.txt", SECTIONS["a passage for some"][0].encode())).bank
    assert [item.stimulus for item in bank.items] == ["s1", "s1", None]
    assert bank.stimuli[0].content.startswith("<p>Water moves")
