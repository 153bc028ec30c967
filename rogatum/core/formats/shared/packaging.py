"""IMS Content Packaging: which files of an archive are what, by its manifest, even where the manifest lies."""

from __future__ import annotations

import io
import posixpath
import zipfile
from dataclasses import dataclass, field

from lxml import etree

from rogatum.core.errors import UnreadableSource
from rogatum.core.sources import MediaBox, SourceFile, SourceTree, parse_xml

MANIFEST = "imsmanifest.xml"
CP = "http://www.imsglobal.org/xsd/imscp_v1p1"
EPOCH = (1980, 1, 1, 0, 0, 0)


@dataclass
class Resource:
    """One `resource` of a manifest (IMS CP 1.1.4, 3.5): its type, its own file and the files it lists."""

    identifier: str
    kind: str
    href: str
    files: list[str] = field(default_factory=list)
    dependencies: list[str] = field(default_factory=list)
    element: etree._Element | None = None


@dataclass
class Manifest:
    title: str
    resources: list[Resource]
    base: str
    schema: str = ""
    element: etree._Element | None = None


def local(element: etree._Element) -> str:
    """The element's name without its namespace."""
    tag = element.tag
    return tag.rsplit("}", 1)[-1] if isinstance(tag, str) else ""


def without_namespaces(root: etree._Element, keep: str = "http://www.w3.org/1998/Math/MathML") -> None:
    """Renames all elements to their local names, save those of the namespace `keep`."""
    for element in root.iter("{*}*"):
        tag = str(element.tag)
        if tag[0] == "{" and not tag.startswith("{" + keep):
            element.tag = tag.rsplit("}", 1)[-1]


def manifest_of(tree: SourceTree) -> Manifest | None:
    """The package's manifest, at the root or one folder down; None where there is none that can be read."""
    paths = sorted((p for p in tree.files if posixpath.basename(p).lower() == MANIFEST), key=lambda p: p.count("/"))
    if not paths:
        return None
    try:
        document = parse_xml(tree.files[paths[0]].read(), paths[0])
    except UnreadableSource:
        return None
    root = document.root
    resources = [_resource(element) for element in root.iter("{*}resource")]
    return Manifest(_title(root), resources, posixpath.dirname(paths[0]), _schema(root), root)


def _resource(element: etree._Element) -> Resource:
    base = "".join(str(v) for k, v in element.attrib.items() if str(k).endswith("}base"))
    href = element.get("href", "")
    return Resource(
        identifier=element.get("identifier", ""),
        kind=element.get("type", ""),
        href=base + href if href else "",
        files=[base + child.get("href", "") for child in element if local(child) == "file"],
        dependencies=[child.get("identifierref", "") for child in element if local(child) == "dependency"],
        element=element,
    )


def _title(root: etree._Element) -> str:
    for metadata in root:
        if local(metadata) == "metadata":
            for title in metadata.iter("{*}title"):
                text = " ".join("".join(map(str, title.itertext())).split())
                if text:
                    return text
    return ""


def _schema(root: etree._Element) -> str:
    parts = [" ".join((e.text or "").split()) for name in ("schema", "schemaversion") for e in root.iter("{*}" + name)]
    return " ".join(parts[:2])


def file_of(tree: SourceTree, manifest: Manifest, resource: Resource) -> SourceFile | None:
    """The resource's own file: its href, else the first XML file that it lists."""
    for name in [resource.href, *resource.files]:
        if name:
            file = tree.find(name, manifest.base)
            if file is not None and (name == resource.href or file.path.lower().endswith((".xml", ".qti"))):
                return file
    return None


class PackageWriter:
    """A content package as a zip: the same files give the same bytes."""

    def __init__(self) -> None:
        self._buffer = io.BytesIO()
        self._archive = zipfile.ZipFile(self._buffer, "w")

    def put(self, name: str, data: bytes, compress: bool = True) -> None:
        info = zipfile.ZipInfo(name, EPOCH)
        info.compress_type = zipfile.ZIP_DEFLATED if compress else zipfile.ZIP_STORED
        info.external_attr = 0o644 << 16
        self._archive.writestr(info, data)

    def put_xml(self, name: str, element: etree._Element, indent: bool = True) -> None:
        if indent:
            etree.indent(element, space=" ")
        self.put(name, etree.tostring(element, xml_declaration=True, encoding="UTF-8"))

    def put_media(self, refs: list[str], media: MediaBox, folder: str = "") -> None:
        for ref in refs:
            with media.open(ref) as stream:
                self.put(folder + ref, stream.read(), compress=False)

    def data(self) -> bytes:
        self._archive.close()
        return self._buffer.getvalue()
