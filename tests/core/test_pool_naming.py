"""Names of pools from a pattern: which level of nested names is the chapter, and what a name goes without."""

from __future__ import annotations

import pytest

from rogatum.core.pools.naming import chapter_level, empty_fields, name_pools, unknown_fields


@pytest.mark.parametrize(
    ("paths", "level"),
    [
        ([["Texture"], ["Water"]], 0),
        ([["Nav top", "Export", "Tides"], ["Nav top", "Export", "Waves"]], 2),
        ([["Nav top", "Export", "Tides"]], 2),
        ([["Bank", "Chapter 3", "Tides"], ["Bank", "Chapter 3", "Waves"], ["Bank", "Chapter 4", "Wind"]], 1),
        ([["Chapter 3", "Easy"], ["Chapter 3", "Hard"]], 0),
        ([["Bank"], ["Bank", "Tides"]], 0),
        ([["A", "Tides"], ["B", "Tides"]], 0),
        ([[], ["Bank", "Tides"]], 1),
        ([], 0),
    ],
)
def test_the_chapter_is_where_names_say_so_else_where_they_differ(paths, level):
    assert max(chapter_level(paths), 0) == level
    named = name_pools(paths, "Soil {chapter}", source="Week 1", level=chapter_level(paths))
    for path, name in zip(paths, named, strict=True):
        expected = [f"Soil {part}" if depth == level else part for depth, part in enumerate(path)]
        assert name == (expected or ["Week 1"])


def test_a_field_without_a_value_is_told_with_the_chapters_that_go_without():
    paths = [["Chapter 3: Tides"], ["Waves"], ["Wind"]]
    assert name_pools(paths, "{number} {purpose}", purpose=" ") == [["3"], ["Waves"], ["Wind"]]
    assert empty_fields(paths, "{number} {chapter} {purpose}") == {
        "number": ["Waves", "Wind"],
        "purpose": ["Chapter 3: Tides", "Waves", "Wind"],
    }
    assert empty_fields(paths, "{chapter} {nonsense}") == {} and unknown_fields("{chapter} {nonsense}") == ["nonsense"]
