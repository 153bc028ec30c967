"""Whether a file is GIFT, by its marks."""

import re

from rogatum.core.sources import SourceTree, looks_like_text

_CATEGORY = re.compile(r"^\$CATEGORY:", re.M)
_TITLE = re.compile(r"^[^\S\n]*+::[^\n]*?::", re.M)
_ANSWERS = re.compile(r"(?<!\\)\{\s*(?:[=~#]|T(?:RUE)?\s*+(?:#[^{}]*)?\}|F(?:ALSE)?\s*+(?:#[^{}]*)?\}|\})", re.I)


def looks_like_gift(tree: SourceTree) -> float:
    if not tree.lone:
        return 0.0
    head = tree.only().head(65536)
    if not looks_like_text(head):
        return 0.0
    text = head.decode("utf-16" if head[:2] in (b"\xff\xfe", b"\xfe\xff") else "utf-8", "replace")
    if text.lstrip("\ufeff \n\r\t").startswith(("<", '{"', "{\\rtf", "{\n")):
        return 0.0
    answers = len(_ANSWERS.findall(text))
    if _CATEGORY.search(text) or _TITLE.search(text):
        return 0.95
    return 0.9 if answers else 0.0
