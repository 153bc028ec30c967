"""One change for many items: what each becomes, why some stay, and what would be lost, told before it is made."""

from __future__ import annotations

import pytest
from hypothesis import given
from pydantic import TypeAdapter

from rogatum.core.formats.items_json.carries import CARRIES
from rogatum.core.items import Choice, Essay, Information, Matching, MultipleChoice, Pair
from rogatum.core.items.model import Preserved
from rogatum.core.pools.changing import Becomes, ChangeOfMany, Stays, change_words, changed, counts, tally_of
from tests.core.strategies import items

CHANGE = TypeAdapter(ChangeOfMany)
MC = MultipleChoice(
    id="1", stem="Which?", points=2, choices=[Choice(id="a", content="x", weight=1), Choice(id="b", content="y")],
    metadata={"outcome": ["2.1", "2.2"]}, feedback={"general": "See."},
)  # fmt: skip
INFO = Information(id="2", stem="Read this.")
PAIRS = Matching(id="3", stem="Match.", pairs=[Pair(left="A", right="top"), Pair(left="C", right="rock")])


def become(item, **said):
    outcome = changed(item, CHANGE.validate_python(said))
    return outcome.item if isinstance(outcome, Becomes) else outcome.why


CASES = [
    ({"kind": "points", "points": 3}, MC, lambda item: item.points == 3),
    ({"kind": "points", "points": 3}, INFO, lambda why: "no points" in why),
    ({"kind": "points-times", "factor": 0.5}, MC, lambda item: item.points == 1),
    ({"kind": "points-times", "factor": 0.5}, PAIRS, lambda why: "no points to multiply" in why),
    ({"kind": "points-by-type", "table": {"multiple_choice": 5}}, MC, lambda item: item.points == 5),
    ({"kind": "points-by-type", "table": {"multiple_choice": 5}}, PAIRS, lambda item: item == PAIRS),
    ({"kind": "metadata", "label": "outcome", "how": "add", "values": ["2.2", "3.1"]}, MC, lambda i: i.metadata["outcome"] == ["2.1", "2.2", "3.1"]),
    ({"kind": "metadata", "label": "outcome", "how": "remove", "values": ["2.1", "2.2"]}, MC, lambda i: "outcome" not in i.metadata),
    ({"kind": "metadata", "label": "difficulty", "how": "replace", "values": ["hard"]}, INFO, lambda i: i.metadata == {"difficulty": ["hard"]}),
    ({"kind": "metadata", "label": "outcome", "how": "replace", "values": []}, MC, lambda i: i.metadata == {}),
    ({"kind": "shuffle", "shuffle": True}, MC, lambda item: item.shuffle is True),
    ({"kind": "shuffle", "shuffle": True}, Essay(id="e", stem="Why?"), lambda why: "nothing to shuffle" in why),
    ({"kind": "type", "type": "essay"}, MC, lambda item: item.type == "essay" and item.points == 2),
    ({"kind": "type", "type": "multiple_choice"}, MC, lambda item: item == MC),
    ({"kind": "feedback", "slot": "general", "how": "add", "content": "More."}, MC, lambda i: i.feedback["general"] == "See.<br/>More."),
    ({"kind": "feedback", "slot": "general", "how": "replace", "content": "New."}, MC, lambda i: i.feedback == {"general": "New."}),
    ({"kind": "feedback", "slot": "general", "how": "remove", "content": ""}, MC, lambda i: i.feedback == {}),
]  # fmt: skip


@pytest.mark.parametrize(("said", "item", "holds"), CASES)
def test_a_change_makes_of_an_item(said, item, holds):
    assert holds(become(item, **said))
    assert change_words(CHANGE.validate_python(said))


def test_a_tally_counts_what_changes_what_stays_and_what_goes():
    change = CHANGE.validate_python({"kind": "type", "type": "essay"})
    told = tally_of([(1, MC), (2, INFO), (3, PAIRS), (4, Essay(id="4", stem="Why?"))], change)
    assert told.changes + told.same + sum(told.stays.values()) == 4 and told.same == 1
    assert any("pairs" in entry.what for entry in counts(told.goes))
    assert told.examples[0].text == "Which?" and told.examples[0].after == "essay"


@pytest.mark.parametrize("said", [case[0] for case in CASES])
@given(item=items(CARRIES, 1))
def test_no_item_breaks_a_change_and_the_same_change_again_changes_nothing(said, item):
    change = CHANGE.validate_python(said)
    outcome = changed(item, change)
    if isinstance(outcome, Stays):
        assert outcome.why
    elif change.kind != "points-times" and not (change.kind == "feedback" and change.how == "add"):
        again = changed(outcome.item, change)
        assert isinstance(again, Becomes) and again.item == outcome.item


def test_what_is_kept_as_its_source_has_it_stays():
    kept = Preserved(id="p", stem="An odd one", original="<item/>", reason="a kind of its own")
    assert become(kept, kind="type", type="essay") == "It is kept as its source has it."
    assert become(kept, kind="points", points=2).points == 2


def test_examples_are_few_whatever_the_number():
    told = tally_of([(n, MC) for n in range(9)], CHANGE.validate_python({"kind": "points", "points": 1}))
    assert told.changes == 9 and len(told.examples) == 5
