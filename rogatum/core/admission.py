"""The gate: every bank passes it on its way in, whatever reader, file, program or person it comes from, and again on its way out.

Behind it content is well-formed and of the sanitised subset, no text has characters that XML cannot hold, pictures and sounds are
the bank's own media or none, and links lead outside. What was changed for that is told.
"""

from __future__ import annotations

import math
import re
from collections.abc import Collection
from dataclasses import dataclass, field
from operator import is_

from lxml import etree
from pydantic import BaseModel
from pydantic_core import PydanticSerializationError

from rogatum.core.content_bounds import bounded
from rogatum.core.finding import Finding
from rogatum.core.findings.contents import CHARACTERS_REMOVED, CONTENT_REMOVED, MEDIA_MISSING
from rogatum.core.items import ITEM, Bank, Cloze, Item, Numeric, NumericAnswer, NumericBlank
from rogatum.core.items.content import ATTRIBUTES, MATH_TAGS, MATHML, TEXT_TAGS, plain_text, rich, tree_of
from rogatum.core.items.content import escape as as_content
from rogatum.core.items.parts import content_fields
from rogatum.core.items.walking import content_names
from rogatum.core.spaces import NO_CHARACTERS

_TAGS = TEXT_TAGS | MATH_TAGS
_SOURCES = frozenset({"img", "audio", "video"})
# What XML gives a meaning; the last may not stand in a text (XML 1.0, 2.4).
_MARKUP = re.compile(r"[<&]|\]\]>")
_LINK = re.compile(r"(?:https?:|mailto:|#)", re.I)


@dataclass
class Gate:
    """Lets content and texts through as they may be. `media` are the refs of the bank's own; the rest is what was changed."""

    media: Collection[str]
    missing: list[str] = field(default_factory=list)
    characters: bool = False
    removed: bool = False

    def text(self, text: str) -> str:
        """A text without characters that nothing can hold."""
        if NO_CHARACTERS.search(text) is None:
            return text
        self.characters = True
        return NO_CHARACTERS.sub("", text)

    def content(self, content: str) -> str:
        """Content that is well-formed, of the subset, and shows nothing but the bank's own media."""
        content = self.text(content)
        if not _MARKUP.search(content):
            return content
        tree = _well_formed(content)
        if tree is None or not _of_the_subset(tree):
            self.removed = True
            content = rich(content)
            tree = _well_formed(content)
            if tree is None or not _of_the_subset(tree):
                return as_content(plain_text(content))
        return self._with_own_addresses(content, tree)

    def _with_own_addresses(self, content: str, tree: etree._Element) -> str:
        """Pictures that the bank does not have lose their address and become missing ones; links into this program go."""
        changed = bounded(tree)
        self.removed = self.removed or changed
        for element in tree.iter("*"):
            address = element.get("src")
            if element.tag in _SOURCES and address not in self.media:
                changed = True
                element.attrib.pop("src", "")
                if address:
                    self.missing.append(address)
                    element.set("title", f"Missing: {address[:200]}")
            if element.tag == "a" and not _LINK.match(element.get("href", "#")):
                changed = True
                del element.attrib["href"]
        if not changed:
            return content
        inner = as_content(tree.text or "") + "".join(etree.tostring(child, encoding="unicode") for child in tree)
        return rich(inner)

    def findings(self, where: str, item: str | None, known: Collection[str] = ()) -> list[Finding]:
        """What was changed, as findings; a missing picture that `known` messages name already is not told twice."""
        found = [
            MEDIA_MISSING.at(where, item, name=as_content(name)[:120])
            for name in dict.fromkeys(self.missing)
            if not any(as_content(name)[:80] in message for message in known)
        ]
        if self.characters:
            found.append(CHARACTERS_REMOVED.at(where, item))
        if self.removed:
            found.append(CONTENT_REMOVED.at(where, item, what="Markup that an item has no place for"))
        return found


_MISSING = re.compile(r'<(?:img|audio|video)\b(?![^<>]*\ssrc=)[^<>]*\stitle="Missing: ([^"<>]*)"')


def missing_media(item: Item, where: str = "") -> list[Finding]:
    """What an item names and the gate did not find, as findings: for items that are kept, long after their source was read."""
    names = dict.fromkeys(name for content in content_fields(item) for name in _MISSING.findall(content))
    return [MEDIA_MISSING.at(where, item.id, name=name[:120]) for name in names]


def _well_formed(content: str) -> etree._Element | None:
    try:
        return tree_of(content)
    except (etree.XMLSyntaxError, ValueError):
        return None


def _of_the_subset(tree: etree._Element) -> bool:
    for element in tree.iter():
        if element is tree:
            continue
        name = element.tag.removeprefix(f"{{{MATHML}}}") if isinstance(element.tag, str) else ""
        if name not in _TAGS or not ATTRIBUTES.get(name, frozenset()) >= set(element.attrib):
            return False
    return True


def _finite(number: float | None) -> bool:
    return number is None or math.isfinite(number)


def _sound_answers(answers: list[NumericAnswer]) -> list[NumericAnswer]:
    """The answers that are numbers: infinity and what is no number accept nothing, in no format."""
    sound = [a for a in answers if all(map(_finite, (a.value, a.tolerance, a.min, a.max)))]
    return answers if len(sound) == len(answers) else sound


def _with_numbers(item: Item) -> Item:
    """The item without numbers that are none; checks then say what it lacks."""
    update: dict[str, object] = {}
    if not _finite(item.points):
        update["points"] = None
    if isinstance(item, Numeric) and (answers := _sound_answers(item.answers)) is not item.answers:
        update["answers"] = answers
    if isinstance(item, Cloze):
        blanks = [
            blank.model_copy(update={"answers": answers})
            if isinstance(blank, NumericBlank) and (answers := _sound_answers(blank.answers)) is not blank.answers
            else blank
            for blank in item.blanks
        ]
        blanks = [blank if _finite(blank.share) else blank.model_copy(update={"share": 0.0}) for blank in blanks]
        if any(new is not old for new, old in zip(blanks, item.blanks, strict=True)):
            update["blanks"] = blanks
    return item.model_copy(update=update) if update else item


# What the gate may change, in an item as JSON, which writes controls as escapes (RFC 8259, section 7).
_SUSPECT = re.compile(r"[<&\ufffe\uffff]|\\[bfu]|\]\]>")


def _is_plain(item: Item) -> bool:
    """Whether nothing in an item can concern the gate: one look at the whole of it, which is enough for most."""
    try:
        return _SUSPECT.search(item.model_dump_json(warnings=False)) is None
    except PydanticSerializationError:
        return False


def admit_item(item: Item, gate: Gate) -> Item:
    """The item as it may be; the same one where nothing had to change."""
    item = _with_numbers(item)
    if _is_plain(item):
        return item
    changed = _through(item, gate)
    return item if changed is item else ITEM.validate_python(changed)


def _through(value: object, gate: Gate, content: bool = False) -> object:
    """A value of the model with every text let through the gate: the same object where nothing changed, else plain data.

    `content` says whether a text there is rich content: what the model's annotations mark as such.
    """
    if isinstance(value, str):
        return gate.content(value) if content else gate.text(value)
    if isinstance(value, list):
        passed = [_through(part, gate, content) for part in value]
        return value if all(map(is_, passed, value)) else passed
    if isinstance(value, dict):
        made = {(gate.text(key) if isinstance(key, str) else key): _through(part, gate, content) for key, part in value.items()}
        # Two names may have become one.
        same = len(made) == len(value) and all(map(is_, made, value)) and all(map(is_, made.values(), value.values()))
        return value if same else made
    if value is None or isinstance(value, int | float) or not isinstance(value, BaseModel):
        return value
    fields, names = value.__dict__, content_names(type(value))
    # Most fields of most items are empty.
    made = {key: _through(part, gate, content or key in names) if part else part for key, part in fields.items()}
    return value if all(map(is_, made.values(), fields.values())) else made


def admit(bank: Bank, media: Collection[str]) -> None:
    """Lets a bank through, in place; what was changed becomes findings on its items."""
    told: dict[str | None, list[str]] = {}
    for finding in bank.findings:
        if finding.code == MEDIA_MISSING.code:
            told.setdefault(finding.item, []).append(finding.message)
    everywhere = told.get(None, [])
    for number, item in enumerate(bank.items):
        gate = Gate(media)
        passed = admit_item(item, gate)
        if passed is not item:
            place = bank.places.get(item.id)
            bank.items[number] = passed
            bank.findings += gate.findings(place.where if place else "", passed.id, [*told.get(item.id, []), *everywhere])
    _admit_rest(bank, media)


def _admit_rest(bank: Bank, media: Collection[str]) -> None:
    """All of a bank but its items: titles, pools, passages, draws, places and findings."""
    gate = Gate(media)
    for stimulus in bank.stimuli:
        stimulus.content = gate.content(stimulus.content)
    bank.findings += gate.findings("", None)
    plain = Gate(media)
    for name in type(bank).model_fields:
        if name != "items":
            value = getattr(bank, name)
            passed = _through(value, plain)
            if passed is not value:
                setattr(bank, name, getattr(type(bank).model_validate({name: passed}), name))
