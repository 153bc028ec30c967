"""Walking through the content of a value of the model: which texts are rich content is said by the model's annotations."""

from __future__ import annotations

from collections.abc import Callable
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


def _nests(annotation: Any) -> bool:
    """Whether values of the model lie below a field."""
    if isinstance(annotation, type) and issubclass(annotation, BaseModel):
        return True
    return any(_nests(part) for part in get_args(annotation))


@cache
def _plan(model: type[BaseModel]) -> tuple[tuple[str, bool], ...]:
    """The fields of a model that are content, or below which there may be some, and whether they are content themselves."""
    names = content_names(model)
    return tuple((name, name in names) for name, field in model.model_fields.items() if name in names or _nests(field.annotation))


def each_content(value: object) -> list[str]:
    """All content of a value of the model, in the order of its fields."""
    found: list[str] = []
    _collect(value, False, found)
    return found


def _collect(value: object, content: bool, found: list[str]) -> None:
    if isinstance(value, str):
        if content:
            found.append(value)
    elif isinstance(value, BaseModel):
        for name, is_content in _plan(type(value)):
            _collect(getattr(value, name), is_content, found)
    elif isinstance(value, list | dict):
        for part in value.values() if isinstance(value, dict) else value:
            _collect(part, content, found)


def with_content(value: Any, change: Callable[[str], str], content: bool = False) -> Any:
    """The value with all its content changed; the same object where nothing changed."""
    if isinstance(value, str):
        return change(value) if content else value
    if isinstance(value, BaseModel):
        parts = {name: with_content(getattr(value, name), change, is_content) for name, is_content in _plan(type(value))}
        changed = {name: part for name, part in parts.items() if part is not getattr(value, name)}
        return value.model_copy(update=changed) if changed else value
    if isinstance(value, list):
        made = [with_content(part, change, content) for part in value]
        return made if any(new is not old for new, old in zip(made, value, strict=True)) else value
    if isinstance(value, dict):
        table = {key: with_content(part, change, content) for key, part in value.items()}
        return table if any(table[key] is not part for key, part in value.items()) else value
    return value
