"""When two items are the same: what tells them apart, and what does not."""

from __future__ import annotations

import pytest

from rogatum.core.checks import check_bank
from rogatum.core.fidelity import compare
from rogatum.core.items import Bank, Choice, Essay, FillIn, Matching, MultipleChoice, Pair, Stimulus, TextAnswer
from rogatum.core.items.identity import identities, identity_of, likeness, words_of


def mc(stem="Which soil holds the most water?", texts=("clay", "sand", "silt"), right=0, **fields):
    choices = [Choice(id="abc"[n], content=text, weight=float(n == right)) for n, text in enumerate(texts)]
    return MultipleChoice(id="q", stem=stem, choices=choices, **fields)


PICTURE = '<img src="media/{}.png" alt="a profile"/>'
SAME = {
    "case and spaces": mc("which  soil holds the most WATER?"),
    "kinds of quotes and dashes": mc("Which soil holds the most water?\u00a0"),
    "order of choices": MultipleChoice(id="x", stem=mc().stem, choices=mc().choices[::-1]),
    "names, points and metadata": mc(title="T", points=3, metadata={"topic": ["water"]}),
}
OTHER_KEY = {
    "another choice": mc(right=1),
    "no key": mc(right=None),
}
OTHER = {
    "another stem": mc("Which soil holds the least water?"),
    "a sign": mc("Which soil holds the most water!?"),
    "another choice": mc(texts=("clay", "sand", "loam")),
    "a picture": mc(mc().stem + PICTURE.format("a")),
    "a passage": mc(stimulus="s1"),
    "a type": Essay(id="q", stem=mc().stem),
}


def asked(item):
    return identity_of(item, "Read the notes." if item.stimulus else "")


@pytest.mark.parametrize("other", SAME.values(), ids=SAME)
def test_what_does_not_tell_two_items_apart(other):
    assert asked(other).whole == asked(mc()).whole


@pytest.mark.parametrize("other", OTHER_KEY.values(), ids=OTHER_KEY)
def test_the_same_but_for_the_key(other):
    assert asked(other).asked == asked(mc()).asked and asked(other).whole != asked(mc()).whole


@pytest.mark.parametrize("other", OTHER.values(), ids=OTHER)
def test_what_tells_two_items_apart(other):
    assert asked(other).asked != asked(mc()).asked


def test_answers_are_a_key_and_case_counts_in_them():
    one, two = (FillIn(id="q", stem="Name it.", answers=[TextAnswer(text=text)]) for text in ("pH", "PH"))
    assert identity_of(one).asked == identity_of(two).asked and identity_of(one).key != identity_of(two).key
    pairs = [Matching(id="q", stem="Match.", pairs=[Pair(left="a", right=r), Pair(left="b", right=s)]) for r, s in ("xy", "yx")]
    assert identity_of(pairs[0]).asked == identity_of(pairs[1]).asked and identity_of(pairs[0]).key != identity_of(pairs[1]).key


def test_raised_letters_and_pictures_count_by_what_they_are():
    assert asked(mc("What is 10<sup>2</sup>?")).asked != asked(mc("What is 102?")).asked
    by_hash = {"media/a.png": "h1", "media/b.png": "h1", "media/c.png": "h2"}
    first, second, third = (identity_of(mc(PICTURE.format(name)), picture=by_hash.__getitem__).whole for name in "abc")
    assert first == second != third


def test_two_questions_that_differ_in_picture_and_key_are_no_doubles():
    items = [mc(mc().stem + PICTURE.format(name), right=n).model_copy(update={"id": name}) for n, name in enumerate("ab")]
    assert not [finding for finding in check_bank(Bank(items=items)) if finding.code.startswith("item-doubled")]


def test_a_double_with_another_key_is_said_as_what_it_is():
    items = [mc().model_copy(update={"id": "a"}), mc(right=1).model_copy(update={"id": "b"}), mc().model_copy(update={"id": "c"})]
    found = {finding.item: finding.code for finding in check_bank(Bank(items=items)) if finding.code.startswith("item-doubled")}
    assert found == {"b": "item-doubled-key", "c": "item-doubled"}


def test_items_that_read_alike_are_matched_by_what_they_are_and_not_by_their_numbers():
    """An export numbers its items anew: the same stem with other choices is another item."""
    stem = "Which statement is right?"
    a = Bank(
        items=[mc(stem, ("one", "two")).model_copy(update={"id": "1"}), mc(stem, ("red", "blue")).model_copy(update={"id": "2"})]
    )
    b = Bank(items=[a.items[1].model_copy(update={"id": "1"}), a.items[0].model_copy(update={"id": "2"})])
    ledger = compare(a, b)
    assert [(entry.a, entry.b) for entry in ledger.items] == [("1", "2"), ("2", "1")] and ledger.totals.same == 2


def test_items_that_are_the_same_are_matched_in_their_order():
    twins = [mc().model_copy(update={"id": name}) for name in "abc"]
    others = [mc().model_copy(update={"id": name}) for name in "xyz"]
    ledger = compare(Bank(items=twins), Bank(items=others))
    assert [(entry.a, entry.b) for entry in ledger.items] == [("a", "x"), ("b", "y"), ("c", "z")]


def test_near_is_what_reads_alike():
    like = words_of(mc("Which soil holds most water?"))
    assert 88 < likeness(words_of(mc()), like) < 100
    assert likeness(words_of(mc()), "") == 0


def test_identities_of_a_bank_know_its_passages():
    bank = Bank(items=[mc(stimulus="s1"), mc().model_copy(update={"id": "r"})], stimuli=[Stimulus(id="s1", content="Read.")])
    found = identities(bank)
    assert found["q"].asked != found["r"].asked and found["q"].key == found["r"].key
