"""Schemas of the standards, for what writers give: RELAX NG of our own, written from the standards' text (`tests/data/schemas`)."""

from __future__ import annotations

import io
import re
import zipfile
from functools import cache
from pathlib import Path

import rnc2rng
from lxml import etree

SCHEMAS = Path(__file__).parent.parent / "data" / "schemas"
MATHML = "http://www.w3.org/1998/Math/MathML"
RELAX_NG = "{http://relaxng.org/ns/structure/1.0}"
# What 3.0 calls as XHTML does, not in its own manner.
_HTML = set(
    "em strong code sub sup span kbd samp var cite abbr q tt i b big small a br hr img object param p h1 h2 h3 h4 h5 h6 div pre blockquote "
    "ul ol li dl dt dd table caption col colgroup thead tfoot tbody tr td th audio video source".split()
)


@cache
def schema(name: str) -> etree.RelaxNG:
    root = etree.fromstring(rnc2rng.dumps(rnc2rng.load(str(SCHEMAS / f"{name}.rnc"))).encode())
    if name == "qti-3.0":
        _in_lower_case(root)
    return etree.RelaxNG(root)


def _in_lower_case(root: etree._Element) -> None:
    """Names of 2.x as 3.0 writes them; those of XHTML and MathML stay."""
    for named in root.iter(f"{RELAX_NG}name"):
        name = named.text or ""
        if name in _HTML or named.get("ns") == MATHML:
            continue
        lowered = re.sub(r"(?<!^)([A-Z])", lambda letter: "-" + letter[1].lower(), name)
        named.text = f"qti-{lowered}" if named.getparent().tag == f"{RELAX_NG}element" else lowered


def breaks(name: str, package: bytes) -> list[str]:
    """The places of a written package that break the schema of its format, as (file, line, message) in a line each."""
    found = []
    with zipfile.ZipFile(io.BytesIO(package)) as archive:
        for path in sorted(archive.namelist()):
            if not path.endswith(".xml") or path == "imsmanifest.xml":
                continue
            validator, tree = schema(name), etree.fromstring(archive.read(path))
            if not validator.validate(tree):
                found += [f"{path}:{error.line}: {error.message}" for error in validator.error_log]
    return found
