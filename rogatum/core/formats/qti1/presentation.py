"""QTI 1.2 `presentation` (ASI XML Binding 1.2, 3.3): the stem and the responses that stand in it, in document order."""

from __future__ import annotations

from dataclasses import dataclass, field

from lxml import etree

from rogatum.core.formats.qti1.material import MaterialReader

RESPONSES = {
    "response_lid": "lid",
    "response_str": "str",
    "response_num": "num",
    "response_grp": "grp",
    "response_xy": "xy",
}
RENDERERS = ("render_choice", "render_fib", "render_hotspot", "render_slider", "render_extension")


@dataclass
class Label:
    """A `response_label`: something that can be picked or filled in."""

    ident: str
    markup: str
    match_group: str = ""


@dataclass
class Response:
    """One response with its renderer. `prompt` is the material within the response itself."""

    ident: str
    kind: str
    cardinality: str
    renderer: str = ""
    prompt: str = ""
    labels: list[Label] = field(default_factory=list)
    fibtype: str = ""
    rows: int = 1
    shuffle: bool | None = None


@dataclass
class Presentation:
    """`parts` are HTML texts and responses in document order."""

    parts: list[str | Response] = field(default_factory=list)

    @property
    def responses(self) -> list[Response]:
        return [part for part in self.parts if isinstance(part, Response)]

    def cardinalities(self) -> dict[str, str]:
        """Single, Multiple or Ordered, by response."""
        return {response.ident: response.cardinality for response in self.responses}

    def stem(self) -> str:
        """All text outside of the responses."""
        return "".join(part for part in self.parts if isinstance(part, str))


def read_presentation(element: etree._Element, reader: MaterialReader) -> Presentation:
    presentation = Presentation()
    _walk(element, presentation, reader)
    return presentation


def _walk(element: etree._Element, presentation: Presentation, reader: MaterialReader) -> None:
    for child in element:
        tag = str(child.tag)
        if tag in RESPONSES:
            presentation.parts.append(_response(child, RESPONSES[tag], reader))
        elif tag == "flow" and any(str(node.tag) in RESPONSES for node in child.iter()):
            block = (child.get("class") or "").lower() == "block" and any(s.tag == "flow" for s in child.itersiblings())
            if block:
                presentation.parts.append("<p>")
            _walk(child, presentation, reader)
            if block:
                presentation.parts.append("</p>")
        elif tag == "flow":
            inner = reader.children(child)
            presentation.parts.append(f"<p>{inner}</p>" if inner and not inner.startswith("<p") else inner)
        else:
            presentation.parts.append(reader.markup(child))


def _response(element: etree._Element, kind: str, reader: MaterialReader) -> Response:
    response = Response(element.get("ident", ""), kind, (element.get("rcardinality") or "Single").capitalize())
    for child in element:
        if str(child.tag) in RENDERERS:
            _render(child, response, reader)
        else:
            response.prompt += reader.markup(child)
    return response


def _render(element: etree._Element, response: Response, reader: MaterialReader) -> None:
    response.renderer = str(element.tag).removeprefix("render_")
    shuffle = element.get("shuffle")
    response.shuffle = None if shuffle is None else shuffle.strip().lower() in ("yes", "true")
    response.fibtype = (element.get("fibtype") or "").capitalize()
    rows = element.get("rows") or "1"
    response.rows = int(rows) if rows.isdigit() else 1
    _labels(element, response, reader)


def _labels(element: etree._Element, response: Response, reader: MaterialReader) -> None:
    for child in element:
        if child.tag == "response_label":
            # Some texts stand beside their material element; a label's own text counts as plain text.
            markup = reader.children(child) or (reader.claims.text(child).strip() and reader._text(child))
            response.labels.append(Label(child.get("ident", ""), markup, child.get("match_group", "")))
        elif child.tag in ("flow_label", "flow"):
            _labels(child, response, reader)
        else:
            response.prompt += reader.markup(child)
