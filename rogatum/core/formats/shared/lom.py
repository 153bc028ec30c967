"""Metadata of resources in a manifest (IEEE LOM, as content packages bind it), both ways."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from lxml import etree

from rogatum.core.accounting import Account, XmlClaims
from rogatum.core.formats.shared.packaging import Manifest, local
from rogatum.core.formats.shared.vocabulary import meaning_of

# What a classification's purpose (LOM 9.1) says about its taxons, as our labels.
_PURPOSES = {"educational objective": "outcome", "competency": "outcome", "discipline": "topic", "educational level": "level"}
_PURPOSE_OF = {"outcome": "educational objective", "topic": "discipline", "level": "educational level"}
# Elements of the manifest that steer reading, and the standard's description of an item that the item itself says.
_STRUCTURAL = frozenset(
    "identifier href type identifierref base default structure version isvisible language encoding uniqueElementName".split()
)
_SET_ASIDE = frozenset({"schema", "schemaversion", "source", "qtiMetadata", "metadataSchema", "catalog"})


# The label of the pool that an item lies in: its path, name by name.
POOL = "pool"


def element_text(element: etree._Element) -> str:
    return " ".join("".join(map(str, element.itertext())).split())


def read_lom(element: etree._Element, claims: XmlClaims) -> dict[str, list[str]]:
    """Label → values, of one `metadata` element: difficulty, keywords, title, description, and classifications by their purpose."""
    found: dict[str, list[str]] = {}

    def add(label: str, part: etree._Element | None) -> None:
        if part is not None and element_text(part):
            claims.subtree(part)
            found.setdefault(label, []).append(element_text(part))

    for node in element.iter("{*}keyword", "{*}title", "{*}description"):
        if local(node.getparent()) == "general":  # type: ignore[arg-type]
            for part in [child for child in node if isinstance(child.tag, str)] or [node]:
                add(local(node), part)
    for node in element.iter("{*}difficulty"):
        add("difficulty", node.find("{*}value"))
    for node in element.iter("{*}classification"):
        _classification(node, add, claims)
    for node in element.iter("{*}labelledGUID"):
        add("outcome", next((c for c in node if local(c) == "label"), None) or next((c for c in node if local(c) == "GUID"), None))
    return found


def _classification(node: etree._Element, add, claims: XmlClaims) -> None:  # type: ignore[no-untyped-def]
    purpose_element = node.find("{*}purpose/{*}value")
    purpose = element_text(purpose_element).lower() if purpose_element is not None else ""
    if purpose_element is not None:
        claims.subtree(purpose_element)
    for path in node.iter("{*}taxonPath"):
        source = path.find("{*}source")
        stated = element_text(source) if source is not None else ""
        if source is not None:
            claims.subtree(source)
        label = _PURPOSES.get(purpose) or (meaning_of(stated) if stated else "topic")
        for taxon in path.iter("{*}taxon"):
            entry = taxon.find("{*}entry")
            add(label, entry if entry is not None and element_text(entry) else taxon.find("{*}id"))


def account_manifest(manifest: Manifest, claims: XmlClaims) -> None:
    """Adds the manifest to the accounting: its title and what `claims` hold count, structure is set aside, the rest is listed."""
    assert manifest.element is not None
    for element in manifest.element.iter("*"):
        if local(element) in _SET_ASIDE:
            claims.subtree(element)
        elif local(element) == "title":
            for part in element.iter("*"):
                claims.text(part)
    claims.close(manifest.element, "imsmanifest.xml")


def manifest_claims(account: Account) -> XmlClaims:
    return XmlClaims(account, _STRUCTURAL)


def write_lom(
    parent: etree._Element, namespace: str, metadata: dict[str, list[str]], title: str = "", pool: Sequence[str] = ()
) -> None:
    """A `lom` element with title, difficulty and, for all other labels, classifications; nothing where there is nothing.

    The names of a pool's path are the taxons of one path.
    """
    if not metadata and not title and not pool:
        return
    lom = etree.SubElement(parent, f"{{{namespace}}}lom")

    def sub(element: etree._Element, *names: str) -> etree._Element:
        for name in names:
            element = etree.SubElement(element, f"{{{namespace}}}{name}")
        return element

    keywords = metadata.get("keyword", [])
    if title or keywords:
        general = sub(lom, "general")
        if title:
            sub(general, "title", "string").text = title
        for keyword in keywords:
            sub(general, "keyword", "string").text = keyword
    for value in metadata.get("difficulty", [])[:1]:
        difficulty = sub(lom, "educational", "difficulty")
        sub(difficulty, "source").text = "LOMv1.0"
        sub(difficulty, "value").text = value
    for label, values in metadata.items():
        rest = values[1:] if label == "difficulty" else [] if label == "keyword" else values
        for value in rest:
            classification = sub(lom, "classification")
            if label in _PURPOSE_OF:
                purpose = sub(classification, "purpose")
                sub(purpose, "source").text = "LOMv1.0"
                sub(purpose, "value").text = _PURPOSE_OF[label]
            _taxon_path(sub, classification, label, [value])
    if pool:
        _taxon_path(sub, sub(lom, "classification"), POOL, pool)


def _taxon_path(sub: Callable[..., etree._Element], classification: etree._Element, label: str, values: Sequence[str]) -> None:
    path = sub(classification, "taxonPath")
    sub(path, "source", "string").text = label
    for value in values:
        sub(path, "taxon", "entry", "string").text = value
