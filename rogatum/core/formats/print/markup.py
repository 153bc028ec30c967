"""Content as Typst markup: every sign of a text is escaped, emphasis, lists, tables, pictures and formulas have their forms."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterable

from lxml import etree

from rogatum.core.errors import UnreadableSource
from rogatum.core.formats.shared import pandoc
from rogatum.core.items.content import MATHML, TEX_ENCODING, tree_of

_SPECIAL = re.compile(r"([\\#$*_`<>@=\[\]~/+\-])")
_WRAPPED = {
    "strong": "strong",
    "em": "emph",
    "u": "underline",
    "s": "strike",
    "sub": "sub",
    "sup": "super",
}
Picture = Callable[[str], str]


def escaped(text: str) -> str:
    """Text as Typst markup that means nothing but itself."""
    return _SPECIAL.sub(r"\\\1", text)


def markup(content: str, picture: Picture) -> str:
    """Content as Typst markup. `picture` gives the file name of a media ref, or an empty one."""
    return _children(tree_of(content), picture).strip()


def _children(element: etree._Element, picture: Picture) -> str:
    parts = [escaped(element.text or "")]
    for child in element:
        parts += [_element(child, picture), escaped(child.tail or "")]
    return "".join(parts)


def _element(element: etree._Element, picture: Picture) -> str:
    tag = str(element.tag)
    if tag == f"{{{MATHML}}}math":
        return _formula(element)
    if tag in _WRAPPED:
        return f"#{_WRAPPED[tag]}[{_children(element, picture)}]"
    maker = _MAKERS.get(tag)
    return maker(element, picture) if maker else _children(element, picture)


def _formula(element: etree._Element) -> str:
    tex = _tex_of(element)
    made = _FORMULAS.get(tex, "") if tex else ""
    return f"${made}$" if made else escaped(tex or "".join(map(str, element.itertext())))


def _tex_of(element: etree._Element) -> str:
    annotation = element.find(f".//{{{MATHML}}}annotation[@encoding='{TEX_ENCODING}']")
    return (annotation.text or "").strip() if annotation is not None else ""


MOST_ALONE = 40
# Formulas of Typst by their TeX; filled for a whole bank in one call, since each call starts a program.
_FORMULAS: dict[str, str] = {}


def prepare_formulas(contents: Iterable[str]) -> None:
    """Makes the formulas of all contents ready; one that pandoc cannot set is printed as its TeX."""
    prepare_tex(_tex_of(math) for text in contents if "<math" in text for math in tree_of(text).iter(f"{{{MATHML}}}math"))


def made_formula(tex: str) -> str:
    """The formula of a TeX that was prepared; empty where it cannot be set."""
    return _FORMULAS.get(tex.strip(), "")


def prepare_tex(formulas: Iterable[str]) -> None:
    """Makes formulas ready by their TeX."""
    wanted = {tex.strip() for tex in formulas}
    missing = sorted(tex for tex in wanted if tex and tex not in _FORMULAS)
    if not missing:
        return
    try:
        made = pandoc.converted("\n\n".join(f"${tex}$" for tex in missing), "latex", "typst").strip().split("\n\n")
    except UnreadableSource:
        made = []
    if len(made) != len(missing) and 1 < len(missing) <= MOST_ALONE:
        # One that cannot be set takes the places of others: each by itself then.
        for tex in missing:
            prepare_tex([tex])
        return
    if len(made) == len(missing):
        _FORMULAS.update((tex, text.strip("$").strip()) for tex, text in zip(missing, made, strict=True) if text.startswith("$"))


def _image(element: etree._Element, picture: Picture) -> str:
    name = picture(element.get("src", ""))
    if not name:
        return escaped(f"[{element.get('alt') or 'picture'}]")
    width = element.get("width", "")
    size = f"{min(int(width) * 0.75, 420):g}pt" if width.isdigit() else "auto"
    return f'#figure-of("{name}", {size})'


def _table(element: etree._Element, picture: Picture) -> str:
    rows = [[cell for cell in row if cell.tag in ("td", "th")] for row in element.iter("tr")]
    width = max((sum(int(cell.get("colspan", "1")) for cell in row) for row in rows), default=1)
    cells = [f"[{_children(cell, picture)}]" for row in rows for cell in row]
    return f"\n#table(columns: {width}, {', '.join(cells)})\n"


def _items(sign: str) -> Callable[[etree._Element, Picture], str]:
    def made(element: etree._Element, picture: Picture) -> str:
        return "\n" + "".join(f"{sign} {_children(item, picture).strip()}\n" for item in element.iterfind("li"))

    return made


_MAKERS: dict[str, Callable[[etree._Element, Picture], str]] = {
    "p": lambda element, picture: f"\n\n{_children(element, picture)}\n\n",
    "br": lambda _element, _picture: " \\\n",
    "img": _image,
    "table": _table,
    "ul": _items("-"),
    "ol": _items("+"),
    "blockquote": lambda element, picture: f"\n#quote(block: true)[{_children(element, picture)}]\n",
    "code": lambda element, _picture: f"#raw({_quoted(''.join(map(str, element.itertext())))})",
    "pre": lambda element, _picture: f"\n#raw(block: true, {_quoted(''.join(map(str, element.itertext())))})\n",
    "span": lambda element, picture: "#blank()" if element.get("data-blank") else _children(element, picture),
}


def _quoted(text: str) -> str:
    return '"' + text.replace("\\", "\\\\").replace('"', '\\"').replace("\n", "\\n") + '"'
