"""Walking through the content of a value of the model: which texts are rich content is said by the model's annotations."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from functools import cache
from typing import Annotated, Any, get_args, get_origin

from pydantic import BaseModel

from rogatum.core.content_mark import ContentMark


@cache
def content_names(model: type[BaseModel]) -> frozenset[str]:
    """The fields of a model that hold content, on their own, in a list or by a key."""
    return frozenset(
        name for name, field in model.model_fields.items() if _is_content(field.metadata) or _holds_content(field.annotation)
    )


def _is_content(marks: list[Any]) -> bool:
    return any(isinstance(mark, ContentMark) for mark in marks)


def _holds_content(annotation: Any) -> bool:
    if get_origin(annotation) is Annotated and _is_content(list(annotation.__metadata__)):
        return True
    return any(_holds_content(part) for part in get_args(annotation))


def each_content(value: object, content: bool = False) -> Iterator[str]:
    """All content of a value of the model, in the order of its fields."""
    if isinstance(value, str):
        if content:
            yield value
    elif isinstance(value, BaseModel):
        names = content_names(type(value))
        for name, part in value.__dict__.items():
            yield from each_content(part, name in names)
    elif isinstance(value, list | dict):
        for part in value.values() if isinstance(value, dict) else value:
            yield from each_content(part, content)


def with_content(value: Any, change: Callable[[str], str], content: bool = False) -> Any:
    """The value with all its content changed; the same object where nothing changed."""
    if isinstance(value, str):
        return change(value) if content else value
    if isinstance(value, BaseModel):
        names = content_names(type(value))
        parts = {name: with_content(part, change, name in names) for name, part in value.__dict__.items()}
        changed = {name: part for name, part in parts.items() if part is not value.__dict__[name]}
        return value.model_copy(update=changed) if changed else value
    if isinstance(value, list):
        made = [with_content(part, change, content) for part in value]
        return made if any(new is not old for new, old in zip(made, value, strict=True)) else value
    if isinstance(value, dict):
        table = {key: with_content(part, change, content) for key, part in value.items()}
        return table if any(table[key] is not part for key, part in value.items()) else value
    return value
