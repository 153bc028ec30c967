"""An item as it stands at a receiver, told by what it still holds: a version that was made for the receiver is judged by that."""

from __future__ import annotations

from collections.abc import Callable

from rogatum.core.fidelity.items import Facet
from rogatum.core.items import Item, metadata
from rogatum.core.items.changes import map_content
from rogatum.core.items.coarser import formulas_as_text, name_cut_to, without_alternatives, without_formatting, without_media
from rogatum.core.receivers.by_receiver import title_with_outcomes
from rogatum.core.receivers.features import Features
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
    return _labelled(_with_labels_of(item, features.held - held), sheet)


def _has(held: frozenset[str], trait: str) -> bool:
    return any(feature.rpartition("/")[2] == trait for feature in held)


def _with_labels_of(item: Item, gone: frozenset[str]) -> Item:
    kept = {label: values for label, values in item.metadata.items() if _feature_of(label) not in gone}
    return item.model_copy(update={"metadata": kept, "title": "" if "title" in gone else item.title})


def _feature_of(label: str) -> str:
    return label if label in ("outcome", "tag") else "label" if label in metadata.NAMES else "own-label"


def _labelled(item: Item, sheet: Sheet) -> Item:
    habits, labels = sheet.labels, dict(item.metadata)
    outcomes, title = labels.pop("outcome", []), item.title if habits.titles == "takes" else ""
    if habits.outcomes == "takes" and outcomes:
        labels["outcome"] = outcomes
    elif habits.outcomes == "tags" and outcomes:
        labels["tag"] = list(dict.fromkeys([*labels.get("tag", []), *outcomes]))
    elif habits.outcomes == "titles":
        title = title_with_outcomes(item.model_copy(update={"title": title}))
    if habits.tags == "drops":
        labels.pop("tag", None)
    if habits.others == "drops":
        labels = {label: values for label, values in labels.items() if label in ("outcome", "tag")}
    return item.model_copy(update={"metadata": labels, "title": name_cut_to(title, sheet.names.length, sheet.names.without)})
