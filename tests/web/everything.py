"""What is there, row by row: two states of the database are held against one another by it."""

from __future__ import annotations

from typing import Any

from django.apps import apps

# History itself, work and its results, and what is kept apart from what people did.
THE_LOG = {"Operation", "Change", "Job", "Batch", "Reading", "ViewChunk", "Comparison", "HandOff", "FailedSignIn", "Membership"}


def everything(but: set[str] = frozenset()) -> dict[str, dict[int, dict[str, Any]]]:
    """All rows of all tables of ours, by number, but for the log."""
    models = [m for m in apps.get_models() if m.__module__.startswith("rogatum.") and m.__name__ not in THE_LOG | but]
    return {model.__name__: {row["id"]: row for row in model.objects.order_by("pk").values()} for model in models}


def differing(a: dict[str, dict[int, dict[str, Any]]], b: dict[str, dict[int, dict[str, Any]]]) -> list[str]:
    """Where two states differ, in words that say what to look at."""
    found = []
    for table in a:
        for key in sorted(a[table].keys() | b[table].keys()):
            one, other = a[table].get(key), b[table].get(key)
            if one is None or other is None:
                found.append(f"{table} {key} is {'new' if one is None else 'gone'}")
            elif one != other:
                found += [
                    f"{table} {key}.{name}: {one[name]!r} → {other[name]!r}"[:200] for name in one if one[name] != other[name]
                ]
    return found
