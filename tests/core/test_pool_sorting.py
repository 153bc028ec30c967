"""Sorting and splitting learn from few items: suggestions, groups, and choices by chance, on banks made here."""

from __future__ import annotations

import random
from collections import Counter

from hypothesis import given
from hypothesis import strategies as st

from rogatum.core.items import Choice, MultipleChoice
from rogatum.core.pools.sorting import Sorter
from rogatum.core.pools.splitting import WAYS, split_by, split_by_content
from rogatum.core.pools.subsets import random_subset
from rogatum.core.pools.words import Wording, wording_of

# Four skills, each with words of its own; what all of them say is said by all, and now and then they borrow from each other.
SKILLS = {
    "Texture": "sand silt clay loam particle gritty sticky sieve sediment triangle ribbon plastic coarse fine grain settling".split(),
    "Water": "field capacity wilting drainage infiltration saturation suction irrigation rainfall runoff seepage capillary".split(),
    "Chemistry": "acid lime cation exchange buffer nitrate phosphate potassium titration salinity alkaline solution leaching".split(),
    "Life": "earthworm fungus root bacteria nodule litter humus springtail mycorrhiza compost decomposer cast burrow".split(),
}
SHARED = "soil sample layer depth measure value field report growth season slope country average class result method".split()


def bank(seed: int, count: int = 200) -> tuple[dict[int, Wording], dict[int, int], dict[int, Wording]]:
    """Items by key, the skill of each, and what the skills' pools are called."""
    dice = random.Random(seed)
    names = list(SKILLS)
    wordings, skills = {}, {}
    for key in range(count):
        skill = key % len(names)
        own = dice.sample(SKILLS[names[skill]], 3)
        borrowed = dice.sample(SKILLS[names[dice.randrange(len(names))]], 1) if dice.random() < 0.3 else []
        words = own + borrowed + dice.sample(SHARED, 5)
        dice.shuffle(words)
        stem = f"Which {words[0]} of the {words[1]} has more {words[2]} than the {words[3]}?"
        choices = [Choice(id=str(n), content=word, weight=float(n == 0)) for n, word in enumerate(words[4:])]
        wordings[key], skills[key] = wording_of(MultipleChoice(id=str(key), stem=stem, choices=choices)), skill
    return wordings, skills, {number: Wording(name) for number, name in enumerate(names)}


def rightly_suggested(seed: int, sorted_by_hand: int = 20) -> float:
    """The share of right first suggestions behind so many items, each item learned from once it is sorted."""
    wordings, skills, names = bank(seed)
    sorter, order = Sorter(wordings), random.Random(seed).sample(list(wordings), len(wordings))
    lying = {key: skills[key] for key in order[:sorted_by_hand]}
    right = 0
    for key in order[sorted_by_hand:]:
        found = sorter.suggest(key, lying, names)
        right += bool(found) and found[0].pool == skills[key]
        lying[key] = skills[key]
    return right / (len(order) - sorted_by_hand)


def test_after_twenty_items_of_four_skills_most_suggestions_are_right():
    assert min(rightly_suggested(seed) for seed in range(4)) >= 0.85


def test_a_suggestion_says_which_words_of_the_item_speak_for_it():
    wordings, skills, names = bank(1)
    lying = {key: skills[key] for key in range(40)}
    found = Sorter(wordings).suggest(44, lying, names)
    assert [suggestion.pool for suggestion in found][0] == 0 and abs(sum(s.share for s in found) - 1) < 1e-9
    assert found[0].words and all(word in wordings[44].text for word in found[0].words)
    assert set(found[0].words) & set(SKILLS["Texture"])


def test_a_pools_name_alone_speaks_for_it():
    wordings = {1: Wording("How does a worm burrow?"), 2: Wording("Lime and acid in a titration"), 3: Wording("Rain")}
    names = {7: Wording("Worms and burrows"), 8: Wording("Titration")}
    sorter = Sorter(wordings)
    assert sorter.suggest(1, {}, names)[0].pool == 7 and sorter.suggest(2, {}, names)[0].pool == 8
    assert sorter.suggest(3, {}, names) == [], "nothing speaks for either"
    assert sorter.suggest(1, {}, {7: names[7]}) == [], "one pool is no choice"


def test_what_stands_behind_an_outcome_speaks_and_says_where_it_stands():
    told = Wording("Name it.", (("outcome", "2.1"),), "separates of a soil")
    sorter = Sorter({1: told, 2: Wording("Rain on something else")})
    best = sorter.suggest(1, {}, {5: Wording("Separates"), 6: Wording("Rain")})
    assert best[0].pool == 5
    assert best[0].words[0] == "separates (its outcome)"


def test_an_outcome_speaks_for_the_one_above_it_as_well():
    item = MultipleChoice(id="x", stem="s", metadata={"outcome": ["2.1"], "topic": ["Soil"]})
    assert wording_of(item).said == (("outcome", "2.1"), ("outcome", "2"), ("topic", "Soil"))


def test_groups_by_content_are_the_skills():
    wordings, skills, _ = bank(3, 120)
    groups = split_by_content(wordings, 4)
    assert sorted(key for group in groups for key in group.items) == sorted(wordings)
    assert all(Counter(skills[key] for key in group.items).most_common(1)[0][1] >= 0.8 * len(group.items) for group in groups)
    assert all(group.words and group.name and group.examples == group.items[:3] for group in groups)
    assert 2 <= len(split_by_content(wordings)) <= 8
    assert len(split_by_content({1: Wording("a b c"), 2: Wording("d")})) == 1 and split_by_content({}) == []


def test_groups_by_a_value_put_what_has_none_last():
    item = MultipleChoice(id="x", stem="s", metadata={"outcome": ["2.1", "2.2"]})
    assert WAYS["outcome"](item) == "2.1" and WAYS["type"](item) == "multiple choice" and WAYS["difficulty"](item) == ""
    groups = split_by({1: "easy", 2: "", 3: "easy", 4: "Hard"}, "no difficulty")
    assert [(group.name, group.items) for group in groups] == [("Easy", (1, 3)), ("Hard", (4,)), ("No difficulty", (2,))]


@given(st.lists(st.integers(0, 10_000), unique=True, max_size=60), st.integers(1, 80), st.integers(0, 999_999), st.integers(1, 5))
def test_a_choice_by_chance_is_the_same_for_a_seed_and_spread_evenly(items, count, seed, kinds):
    groups = {key: str(key % kinds) for key in items}
    chosen = random_subset(items, count, seed, groups)
    assert len(chosen) == min(count, len(items)) and set(chosen) <= set(items)
    assert set(chosen) == set(random_subset(sorted(items), count, seed, groups)), "whatever order they come in"
    assert chosen == [key for key in items if key in set(chosen)], "in the order of the list"
    taken, held = Counter(groups[key] for key in chosen), Counter(groups.values())
    most = max(taken.values(), default=0)
    assert all(taken[group] >= min(held[group], most - 1) for group in held)
