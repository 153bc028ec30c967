"""Pictures that are missing, put in their places by name."""

from __future__ import annotations

import posixpath
import re
from collections.abc import Callable, Mapping, Sequence
from html import unescape
from urllib.parse import unquote

from rogatum.core.items import Item
from rogatum.core.items.changes import map_content
from rogatum.core.items.content import escape
from rogatum.core.items.parts import content_fields
from rogatum.core.mending.numbers import Made, Subject
from rogatum.core.mending.wishes import PicturesByName

# A picture without an address, as the gate leaves it.
_MISSING = re.compile(r'<(img|audio|video)\b(?![^<>]*\ssrc=)([^<>]*?)\stitle="Missing: ([^"<>]*)"([^<>]*?)(/?)>')


def missing_names(item: Item) -> list[str]:
    """What an item names and has not, as it names it."""
    found = [unescape(match[3]) for content in content_fields(item) for match in _MISSING.finditer(content)]
    return list(dict.fromkeys(found))


def by_name(wish: PicturesByName, subjects: Sequence[Subject], unmet: list[str]) -> Callable[[Subject], Made | None]:
    files = {_name(name): (name, ref) for name, ref in wish.files.items()}
    stems = _alone({posixpath.splitext(name)[0]: entry for name, entry in files.items()}, files)
    wanted = {_name(name) for subject in subjects for name in missing_names(subject.item)}
    bare = {posixpath.splitext(name)[0] for name in wanted}
    unmet += [f"No item misses “{name}”." for name in wish.files if _name(name) not in wanted and _stem(name) not in bare]

    def found(name: str) -> tuple[str, str] | None:
        return files.get(_name(name)) or stems.get(_stem(name))

    def step(subject: Subject) -> Made | None:
        names = [(name, entry) for name in missing_names(subject.item) if (entry := found(name))]
        if not names:
            return None
        item = map_content(subject.item, lambda content: _placed(content, {name: entry[1] for name, entry in names}))
        return item, f"missing: {', '.join(name for name, _ in names)}", f"shows: {', '.join(entry[0] for _, entry in names)}"

    return step


def _name(name: str) -> str:
    """A file's name as it is compared: without its folders, case, and the signs of an address."""
    return posixpath.basename(unquote(name).replace("\\", "/")).casefold().strip()


def _stem(name: str) -> str:
    return posixpath.splitext(_name(name))[0]


def _alone(stems: dict[str, tuple[str, str]], files: Mapping[str, object]) -> dict[str, tuple[str, str]]:
    """Names without their ending, where one file alone has it: a picture that was saved anew is another kind of file."""
    every = [posixpath.splitext(name)[0] for name in files]
    return {stem: entry for stem, entry in stems.items() if every.count(stem) == 1}


def _placed(content: str, refs: Mapping[str, str]) -> str:
    def place(match: re.Match[str]) -> str:
        ref = refs.get(unescape(match[3]))
        if ref is None:
            return match[0]
        source = escape(ref).replace('"', "&quot;")
        return f'<{match[1]} src="{source}"{match[2]}{match[4]}{match[5]}>'

    return _MISSING.sub(place, content)
