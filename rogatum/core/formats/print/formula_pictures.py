"""Formulas as pictures: set by Typst from their TeX, as they are on paper."""

from __future__ import annotations

import tempfile
from collections.abc import Sequence
from pathlib import Path

import typst

from rogatum.core.formats.print.markup import made_formula, prepare_tex

_PAGE = '#set page(width: auto, height: auto, margin: 2pt, fill: white)\n#set text(font: ("Libertinus Serif",), size: 13pt)\n'
DOTS_PER_INCH = 144.0


def formula_pictures(formulas: Sequence[str]) -> dict[str, bytes]:
    """A PNG for each TeX that can be set; the others are left out."""
    prepare_tex(formulas)
    known = [(tex, made) for tex in dict.fromkeys(formulas) if (made := made_formula(tex))]
    if not known:
        return {}
    with tempfile.TemporaryDirectory() as folder:
        source = Path(folder) / "formulas.typ"
        source.write_text(_PAGE + "\n#pagebreak()\n".join(f"${made}$" for _, made in known), encoding="utf-8")
        pages = typst.compile(str(source), root=folder, format="png", ppi=DOTS_PER_INCH)
    data = pages if isinstance(pages, list) else [pages]
    return {tex: bytes(page) for (tex, _), page in zip(known, data, strict=True)}
