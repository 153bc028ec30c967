"""What tells QTI 2.1, 2.2 and 3.0 apart, as data: namespaces, names, types of resources. One reader and one writer serve all.

Inside, names are those of 2.x: 3.0's `qti-choice-interaction` is read as `choiceInteraction`, `response-identifier` as
`responseIdentifier`.
"""

from __future__ import annotations

import re
from dataclasses import dataclass
from functools import lru_cache

from lxml import etree

from rogatum.core.formats.shared.packaging import CP

MATHML = "http://www.w3.org/1998/Math/MathML"
LOM = "http://ltsc.ieee.org/xsd/LOM"


@dataclass(frozen=True)
class Dialect:
    """`names` says whether elements are called as in 2.x or as in 3.0; `stimuli` whether items can share stimuli by reference."""

    format: str
    label: str
    namespace: str
    package_namespace: str
    schema: str
    schema_version: str
    item_type: str
    test_type: str
    stimulus_type: str
    templates: str
    kebab: bool = False
    html5: bool = False

    @property
    def stimuli(self) -> bool:
        return bool(self.stimulus_type)

    @property
    def section_type(self) -> str:
        return self.test_type.replace("_test_", "_section_")


QTI_2_1 = Dialect(
    format="qti-2.1",
    label="QTI 2.1",
    namespace="http://www.imsglobal.org/xsd/imsqti_v2p1",
    package_namespace=CP,
    schema="QTIv2.1 Package",
    schema_version="1.0.0",
    item_type="imsqti_item_xmlv2p1",
    test_type="imsqti_test_xmlv2p1",
    stimulus_type="",
    templates="http://www.imsglobal.org/question/qti_v2p1/rptemplates/",
)
QTI_2_2 = Dialect(
    format="qti-2.2",
    label="QTI 2.2",
    namespace="http://www.imsglobal.org/xsd/imsqti_v2p2",
    package_namespace=CP,
    schema="QTIv2.2 Package",
    schema_version="1.0.0",
    item_type="imsqti_item_xmlv2p2",
    test_type="imsqti_test_xmlv2p2",
    stimulus_type="imsqti_stimulus_xmlv2p2",
    templates="http://www.imsglobal.org/question/qti_v2p2/rptemplates/",
    html5=True,
)
QTI_3_0 = Dialect(
    format="qti-3.0",
    label="QTI 3.0",
    namespace="http://www.imsglobal.org/xsd/imsqtiasi_v3p0",
    package_namespace="http://www.imsglobal.org/xsd/qti/qtiv3p0/imscp_v1p1",
    schema="QTI Package",
    schema_version="3.0.0",
    item_type="imsqti_item_xmlv3p0",
    test_type="imsqti_test_xmlv3p0",
    stimulus_type="imsqti_stimulus_xmlv3p0",
    templates="https://purl.imsglobal.org/spec/qti/v3p0/rptemplates/",
    kebab=True,
    html5=True,
)
DIALECTS = (QTI_2_1, QTI_2_2, QTI_3_0)
# The roots that a file of questions can have, by their 2.x names.
ITEM, TEST, SECTION, STIMULUS = "assessmentItem", "assessmentTest", "assessmentSection", "assessmentStimulus"
ROOTS = frozenset({ITEM, TEST, SECTION, STIMULUS})
# Names that a change of letters alone would not give back.
_TO_CAMEL = {"duration-lt": "durationLT", "duration-gte": "durationGTE", "xinclude": "include", "qti-html-content": "htmlContent"}
_TO_KEBAB = {value: key for key, value in _TO_CAMEL.items()}


def camel(name: str) -> str:
    """`choice-interaction` as `choiceInteraction`."""
    return _TO_CAMEL.get(name) or re.sub(r"-([a-z0-9])", lambda m: m[1].upper(), name)


def kebab(name: str) -> str:
    """`choiceInteraction` as `choice-interaction`."""
    return _TO_KEBAB.get(name) or re.sub(r"(?<!^)([A-Z]+)", lambda m: "-" + m[1].lower(), name)


def dialect_of(namespace: str) -> Dialect | None:
    """The dialect of a root's namespace; QTI 2.0 is read as 2.1."""
    for dialect in DIALECTS:
        if dialect.namespace == namespace:
            return dialect
    if "imsqtiasi" in namespace or "qtiv3" in namespace:
        return QTI_3_0
    if "imsqti_v2p2" in namespace:
        return QTI_2_2
    return QTI_2_1 if "imsqti" in namespace.lower() and "v1p" not in namespace else None


def in_our_names(root: etree._Element) -> None:
    """Renames elements to 2.x names without namespace, and the attributes of 3.0's elements; MathML and HTML stay as they are."""
    for element in root.iter("*"):
        name, kebab_case = _our_name(element.tag)
        if kebab_case:
            _rename_attributes(element)
        if name:
            element.tag = name


@lru_cache(maxsize=4096)
def _our_name(tag: str) -> tuple[str, bool]:
    """A tag in 2.x names, empty where it stays as it is; and whether it is one of 3.0, whose attributes are renamed too."""
    namespace, _, name = tag[1:].partition("}") if tag.startswith("{") else ("", "", tag)
    if namespace == MATHML:
        return "", False
    # What a recovery left of a damaged name stays as it is.
    kebab_case = bool(re.match(r"qti-[A-Za-z]", name))
    if kebab_case:
        name = camel(name.removeprefix("qti-"))
    ours = namespace == "" or dialect_of(namespace) or namespace.endswith(("xhtml", "XInclude", "apip_v1p0"))
    return name if ours else "", kebab_case


def _rename_attributes(element: etree._Element) -> None:
    for key in list(element.attrib):
        name = str(key)
        if "-" in name and not name.startswith(("data-", "aria-", "{")):
            element.set(camel(name), str(element.attrib.pop(key)))


def in_dialect(root: etree._Element, dialect: Dialect) -> etree._Element:
    """A tree made in 2.x names, in the names and the namespace of a dialect. Elements marked as HTML keep their names."""
    nsmap: dict[str | None, str] = {None: dialect.namespace}
    return _translated(root, dialect, nsmap)


def _translated(element: etree._Element, dialect: Dialect, nsmap: dict[str | None, str] | None) -> etree._Element:
    tag = str(element.tag)
    if tag.startswith("{"):
        made = etree.Element(tag, nsmap={None: MATHML})  # type: ignore[dict-item]
        for key, value in element.attrib.items():
            made.set(key, value)
    else:
        foreign = element.get(HTML_MARK) is not None
        name = tag if foreign or not dialect.kebab else "qti-" + kebab(tag)
        made = etree.Element(f"{{{dialect.namespace}}}{name}", nsmap=nsmap)  # type: ignore[arg-type]
        for key, value in element.attrib.items():
            if key != HTML_MARK:
                made.set(kebab(str(key)) if dialect.kebab and not foreign else key, value)
    made.text, made.tail = element.text, element.tail
    for child in element:
        made.append(_translated(child, dialect, nsmap))
    return made


# Marks elements of HTML among those of QTI while a tree is being made.
HTML_MARK = "is-html"
