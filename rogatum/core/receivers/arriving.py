"""An item as it stands at a receiver, told by what it still holds: a version that was made for the receiver is judged by that."""

from __future__ import annotations

from collections.abc import Callable

from rogatum.core.fidelity.items import Facet
from rogatum.core.items import Item
from rogatum.core.items.changes import map_content
from rogatum.core.items.coarser import formulas_as_text, name_cut_to, without_alternatives, without_formatting, without_media
from rogatum.core.receivers.by_receiver import outcomes_as_tags, outcomes_in_title
from rogatum.core.receivers.features import Features, label_feature
from rogatum.core.receivers.sheet import Sheet

# The facets that hands tell by what an item holds; all others are judged by what is made of it.
TOLD_BY_FEATURES: tuple[Facet, ...] = ("formatting", "math", "media", "feedback", "metadata")
_WITHOUT: tuple[tuple[str, Callable[[str], str]], ...] = (
    ("media", without_media),
    ("alt", without_alternatives),
    ("formatting", without_formatting),
)


def as_it_arrives(item: Item, features: Features, held: frozenset[str], sheet: Sheet) -> Item:
    """The item without what is gone on its way, and with its labels as the receiver has them. Its feedback is another's matter."""
    for trait, without in _WITHOUT:
        if _has(features.held, trait) and not _has(held, trait):
            item = map_content(item, without)
    if _has(features.held, "math") and not _has(held, "math") and sheet.content.formulas != "pictures":
        item = map_content(item, formulas_as_text)
    return _labelled(_without_labels(item, features.held - held), sheet)


def _has(held: frozenset[str], trait: str) -> bool:
    return any(feature.rpartition("/")[2] == trait for feature in held)


def _without_labels(item: Item, gone: frozenset[str]) -> Item:
    kept = {label: values for label, values in item.metadata.items() if label_feature(label) not in gone}
    return item.model_copy(update={"metadata": kept, "title": "" if "title" in gone else item.title})


def _labelled(item: Item, sheet: Sheet) -> Item:
    habits = sheet.labels
    if habits.titles == "drops":
        item = item.model_copy(update={"title": ""})
    if habits.outcomes in _OUTCOMES:
        item = _OUTCOMES[habits.outcomes](item)
    dropped = {"tag": habits.tags, "label": habits.others, "own-label": habits.others}
    item = _without_labels(item, frozenset(feature for feature, habit in dropped.items() if habit == "drops"))
    return item.model_copy(update={"title": name_cut_to(item.title, sheet.names.length, sheet.names.without)})


_OUTCOMES: dict[str, Callable[[Item], Item]] = {
    "drops": lambda item: _without_labels(item, frozenset({"outcome"})),
    "tags": outcomes_as_tags,
    "titles": outcomes_in_title,
}
