"""Every type stands in every table, and content is known by the model's annotations."""

from __future__ import annotations

import importlib
import pkgutil
from typing import get_args

import pytest
from hypothesis import given, settings

import rogatum.core
from rogatum.core.checks import check_item
from rogatum.core.fidelity import compare, probes_of
from rogatum.core.formats.shared.base import EVERYTHING
from rogatum.core.items import ITEM, Bank, ChoiceBlank, Cloze, ItemType, Preserved, parts
from rogatum.core.items.by_type import TABLES, ByType
from rogatum.core.items.changes import map_content
from rogatum.core.items.identity import identities
from rogatum.core.items.key import key_words
from rogatum.core.items.model import ItemBase
from rogatum.core.items.walking import content_names
from rogatum.core.quizzes.marking import mark
from rogatum.core.quizzes.student import student_item
from tests.core.strategies import banks

for module in pkgutil.walk_packages(rogatum.core.__path__, "rogatum.core."):
    importlib.import_module(module.name)

MODELS = {model.model_fields["type"].default: model for model in ItemBase.__subclasses__()}


@pytest.mark.parametrize("table", TABLES, ids=lambda table: table.question)
def test_every_table_answers_for_every_type(table):
    assert not table.gaps()


def test_the_tables_are_those_of_the_core_and_every_type_is_a_model():
    assert len([table for table in TABLES if isinstance(table, ByType)]) >= 16
    assert set(MODELS) == set(get_args(ItemType))


# What is no content, by what it is: identifiers, words of the model, plain text, what others wrote and is kept as it was.
PLAIN = {
    "id",
    "type",
    "title",
    "points",
    "stimulus",
    "metadata",
    "unit",
    "scoring",
    "shuffle",
    "case_sensitive",
    "answer",
    "lowest",
}
PLAIN |= {"original", "original_format", "reason"}
PARTS = {"choices", "answers", "blanks", "pairs"}


@pytest.mark.parametrize("item_type", MODELS)
def test_each_field_of_a_type_is_content_or_known_not_to_be(item_type):
    """A field of a new type that is forgotten here would be left out of pictures, formulas and formatting without a word."""
    assert content_names(MODELS[item_type]) == set(MODELS[item_type].model_fields) - PLAIN - PARTS


@settings(max_examples=40)
@given(bank=banks(EVERYTHING))
def test_every_question_has_an_answer_for_every_item(bank):
    bank.items.append(Preserved(id="kept", stem="Point at it.", original="<item/>", original_format="qti-1.2"))
    assert set(identities(bank)) == {item.id for item in bank.items}
    for item in bank.items:
        assert ITEM.validate_python(item.model_dump()) == item
        assert student_item(item, 1.0, "seed", shuffle=True).form and isinstance(key_words(item), str)
        assert all(finding.item == item.id for finding in check_item(item))
        assert [mark(item, probe.response) is not None for probe in probes_of(item)] == [True] * len(probes_of(item))
        assert map_content(item, lambda content: content) is item
        marked = map_content(item, lambda content: f"{content}!")
        assert [f"{content}!" for content in parts.content_fields(item)] == parts.content_fields(marked)
        assert parts.key(marked) if parts.key(item) else True
    assert compare(bank, bank).totals.same == len(bank.items)


def test_feedback_of_a_choice_in_a_blank_is_feedback():
    choice = {"id": "a", "content": "clay", "weight": 1, "feedback": "Yes."}
    item = Cloze(id="q", stem="x", blanks=[ChoiceBlank(id="b1", choices=[choice])])
    assert parts.feedback(item) == {"blank 1, choice 1": "Yes."}
    bare = item.model_copy(update={"blanks": [ChoiceBlank(id="b1", choices=[choice | {"feedback": None}])]})
    assert compare(Bank(items=[item]), Bank(items=[bare])).items[0].facets["feedback"] == "lost"
