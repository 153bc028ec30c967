"""What pandoc drops of an rtf, made visible before it reads: colour, shading, tabs, runs of spaces, labels of lists, deletions."""

from __future__ import annotations

import re

from rogatum.core.formats.word_documents.stand_ins import SPACE, TAB

LONGEST_LABEL = 10
_LIST_LABEL = re.compile(r"\{\\(?:listtext|pntext)(?![a-z])")
_CHARACTER_STYLE = re.compile(r"\{\\\*\\cs\d[^{};]*+;\}")
_RTF_SPACES = re.compile(r"(?<=[^\\\s{}]) {2,}(?=[^\s\\{}])")


def with_plain_stand_ins(text: str) -> str:
    """An rtf whose stand-ins for letters beyond its table are escaped: pandoc takes a word that touches one for a part of it."""
    if re.search(r"\\uc(?!1\b)\d", text):
        return text
    return re.sub(r"(\\u-?\d{1,5}+) ?([^\\{}\s])", r"\1\\'3f", text)


def without_character_styles(text: str) -> str:
    """An rtf without its styles of characters, which runs repeat: pandoc takes each for the style of all paragraphs."""
    return _CHARACTER_STYLE.sub("", text)


def rtf_with_marks(text: str) -> tuple[str, bool]:
    """An rtf in which highlighted and coloured text is struck out, and whether striking out stands for that alone."""
    if re.search(r"\\strike(?!0)", text):
        return text, False
    table = re.search(r"\{\\colortbl\s*+;?([^{}]*)\}", text)
    colours = [re.findall(r"\\(?:red|green|blue)(\d+)", entry) for entry in table[1].split(";")] if table else []
    bright = {str(n) for n, rgb in enumerate(colours, 1) if rgb and max(map(int, rgb)) > 90}
    marked = re.sub(r"\\highlight([1-9]\d*)(?!\d)", r"\\strike", text)
    marked = re.sub(r"\\highlight0(?!\d)", r"\\strike0", marked)
    marked = re.sub(r"\\(?:cf|chcbpat|cbpat|cb)(\d+)(?!\d)", lambda m: "\\strike" if m[1] in bright else "\\strike0", marked)
    return (marked, True) if "\\strike" in re.sub(r"\\strike0", "", marked) else (text, False)


def rtf_with_tabs_and_labels(text: str) -> str:
    """An rtf whose tabs have a stand-in, and whose list labels are typed as they are shown."""
    text = _with_typed_labels(text)
    text = _RTF_SPACES.sub(lambda run: rf"\u{ord(SPACE)}\'3f" * len(run[0]), text)
    return re.sub(r"\\tab(?![a-z]) ?", rf"\\u{ord(TAB)}\\'3f", text)


def _with_typed_labels(text: str) -> str:
    """Labels of lists as text, where all are numbers or letters; pandoc numbers lists anew and knows none without a table."""
    groups = [(match.start(), _end_of_group(text, match.start())) for match in _LIST_LABEL.finditer(text)]
    labels = [_label_of(text[start:end]) for start, end in groups]
    if not labels or not all(len(label) <= LONGEST_LABEL for label in labels):
        return text
    parts, at = [], 0
    for (start, end), label in zip(groups, labels, strict=True):
        parts += [text[at:start], "{", label, r"\tab }"]
        at = end
    return re.sub(r"\\(?:ls|ilvl)\d+ ?", "", "".join([*parts, text[at:]]))


def _label_of(group: str) -> str:
    """The label that a group of an rtf holds; a bullet of any font is a bullet."""
    bullet = re.search(r"\\u-?\d+|\\'[0-9a-f]{2}|\\bullet\b|\\endash\b", group)
    if bullet and not re.search(r"[0-9A-Za-z][.)]", re.sub(r"\\[a-z]+-?\d* ?|\\'..", "", group)):
        return "\\bullet "
    return re.sub(r"\\[a-z]+-?\d* ?|[{}]", "", group).strip()


def without_deleted(text: str) -> str:
    """An rtf without the text whose deletion was recorded."""
    parts, at = [], 0
    for match in re.finditer(r"\{[^{}]{0,200}?\\deleted(?!\d)", text):
        if match.start() >= at:
            parts.append(text[at : match.start()])
            at = _end_of_group(text, match.start())
    return "".join([*parts, text[at:]])


_NOTE = re.compile(r"\\(?:\*\\)?(?:footnote|annotation)(?![a-z])")
_CONTROL = re.compile(
    r"\\u(?P<code>-?\d+) ?(?:\\'..|[^\\{}\s])?|\\'(?P<byte>[0-9a-f]{2})"
    r"|\\(?:tab|par|line)(?![a-z]) ?|\\\*|\\[a-z]+-?\d* ?|[{}\r\n]",
    re.I,
)
_HIDDEN = re.compile(r"\{\\\*\\atn[^{}]*+\}")


def notes_in(text: str) -> list[str]:
    """The texts of an rtf's footnotes and comments (RTF 1.9.1, destinations of footnotes and annotations)."""
    groups = [text[match.end() : _end_of_group(text, text.rindex("{", 0, match.start() + 1))] for match in _NOTE.finditer(text)]
    found = [" ".join(_CONTROL.sub(_as_plain, _HIDDEN.sub("", group)).split()) for group in groups]
    return [note for note in found if note]


def _as_plain(match: re.Match[str]) -> str:
    if match["code"]:
        code = int(match["code"]) % 0x10000
        return "" if 0xD800 <= code < 0xE000 else chr(code)
    if match["byte"]:
        return bytes.fromhex(match["byte"]).decode("cp1252", "replace")
    return " " if match[0].rstrip() in ("\\tab", "\\par", "\\line") else ""


def _end_of_group(text: str, start: int) -> int:
    depth = 0
    for match in re.finditer(r"\\.|[{}]", text[start:], re.S):
        depth += {"{": 1, "}": -1}.get(match[0], 0)
        if depth == 0:
            return start + match.end()
    return len(text)
