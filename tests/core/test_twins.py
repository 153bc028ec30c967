"""Items that stand twice in a reading, and tests that stand in two languages."""

from __future__ import annotations

import pytest

from rogatum.core.items import Choice, Essay, MultipleChoice
from rogatum.core.pools.twins import doubled, language_of, languages

ENGLISH = ["Which of these is the finest?", "What is the colour of clay?", "How does sand hold water?"]
GERMAN = ["Welche der Körnungen ist die feinste?", "Was ist die Farbe von Ton?", "Wie wird das Wasser im Sand gehalten?"]


def choice(stem: str, right: int = 0):
    choices = [Choice(id=str(n), content=text, weight=float(n == right)) for n, text in enumerate(["clay", "sand", "silt"])]
    return MultipleChoice(id="i", stem=stem, choices=choices)


def essays(stems: list[str]):
    return [(position, Essay(id="i", stem=stem)) for position, stem in enumerate(stems, 1)]


def test_items_that_ask_the_same_are_told_with_whether_their_keys_agree():
    items = [choice("Finest?"), choice("Coarsest?"), choice("Finest?"), choice("Coarsest?", right=1), choice("Alone?")]
    found = doubled(list(enumerate(items, 1)))
    assert [(group.positions, group.same_key) for group in found] == [([1, 3], True), ([2, 4], False)]


def test_items_without_words_are_no_doubles():
    assert doubled(essays(["", "", "<p></p>"])) == []


def test_a_test_in_two_languages_is_parted():
    mixed = [text for pair in zip(ENGLISH, GERMAN, strict=True) for text in pair]
    told = {entry.language: entry.positions for entry in languages(essays(mixed))}
    assert told == {"English": [1, 3, 5], "German": [2, 4, 6]}


def test_one_language_and_a_lone_foreigner_are_no_two_languages():
    assert languages(essays(ENGLISH)) == []
    assert languages(essays([*ENGLISH * 3, GERMAN[0]])) == []
    assert languages([]) == []


@pytest.mark.parametrize(
    ("text", "language"),
    [
        ("Quelle est la couleur de l'argile dans les sols ?", "French"),
        ("¿Cuál es el color de los suelos que no son arcilla?", "Spanish"),
        ("Welke van de bodems is het niet?", "Dutch"),
        ("Qual é a cor dos solos que não são argila?", "Portuguese"),
        ("Quale è il colore della argilla?", "Italian"),
        ("Loam", ""),
        ("2 + 2 = 4", ""),
    ],
)
def test_the_language_is_told_by_words_of_one_alone(text, language):
    assert language_of(Essay(id="i", stem=text)) == language


def test_choices_speak_too():
    item = MultipleChoice(
        id="i", stem="pH?", choices=[Choice(id="a", content="that of the clay"), Choice(id="b", content="none of these")]
    )
    assert language_of(item) == "English"
