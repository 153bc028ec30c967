"""The body of an item or a stimulus (“itemBody”, “stimulusBody”) as HTML, with its interactions taken out or marked as blanks."""

from __future__ import annotations

import html
from collections.abc import Callable
from dataclasses import dataclass, field

from lxml import etree

from rogatum.core.formats.qti2.dialects import MATHML
from rogatum.core.items.content import blank_marker, escape

INLINE = frozenset({"textEntryInteraction", "inlineChoiceInteraction", "endAttemptInteraction"})
BLOCK = frozenset(
    "choiceInteraction extendedTextInteraction matchInteraction associateInteraction gapMatchInteraction orderInteraction "
    "hottextInteraction sliderInteraction uploadInteraction mediaInteraction drawingInteraction customInteraction "
    "hotspotInteraction selectPointInteraction graphicOrderInteraction graphicAssociateInteraction graphicGapMatchInteraction "
    "positionObjectInteraction portableCustomInteraction".split()
)
INTERACTIONS = INLINE | BLOCK
_VOID = frozenset({"br", "img", "hr", "col"})
# Elements that only group: their content counts, they do not.
_TRANSPARENT = frozenset(
    "itemBody stimulusBody contentBody htmlContent feedbackBlock feedbackInline templateBlock templateInline".split()
)
_UNDERLINED, _STRUCK = ("underline",), ("strike", "line-through", "strikethrough")


@dataclass
class Option:
    """Something that can be picked or placed: its identifier, its HTML, and feedback that stands within it."""

    ident: str
    markup: str
    feedback: str = ""


@dataclass
class Interaction:
    """One interaction: its kind (the element's name), the response it fills, its prompt and options as HTML."""

    kind: str
    ident: str
    element: etree._Element
    prompt: str = ""
    options: list[Option] = field(default_factory=list)
    # The second set of a match, the gaps of a gap match.
    targets: list[Option] = field(default_factory=list)
    blanks: list[str] = field(default_factory=list)

    @property
    def labels(self) -> list[Option]:
        return self.options

    @property
    def shuffle(self) -> bool | None:
        value = self.element.get("shuffle")
        return None if value is None else value.lower() in ("true", "1")


@dataclass
class Body:
    """`markup` has blanks where inline interactions stand; `rubrics` are (view, HTML), `feedback` (element, HTML)."""

    markup: str = ""
    interactions: list[Interaction] = field(default_factory=list)
    rubrics: list[tuple[str, str]] = field(default_factory=list)
    feedback: list[tuple[etree._Element, str]] = field(default_factory=list)
    templated: bool = False


def map_of(element: etree._Element) -> dict[str, str]:
    return {str(key): str(value) for key, value in element.attrib.items()}


def as_block(markup: str) -> str:
    """Inline markup as a paragraph; blocks, and nothing, as they are."""
    return f"<p>{markup}</p>" if markup.strip() and "<p" not in markup else markup


class BodyReader:
    """Reads one body. `left_out` is told of elements that cannot be shown."""

    def __init__(self, left_out: Callable[[etree._Element], None]) -> None:
        self.body = Body()
        self.left_out = left_out
        self.blank_count = 0
        self.current: Interaction | None = None

    def read(self, element: etree._Element) -> Body:
        self.body.markup = self.children(element)
        return self.body

    def children(self, element: etree._Element, but: frozenset[str] = frozenset()) -> str:
        """The HTML of what an element holds, without the children named in `but`."""
        parts = [escape(element.text or "")]
        for child in element:
            if isinstance(child.tag, str) and child.tag not in but:
                parts.append(self.markup(child))
            parts.append(escape(child.tail or ""))
        return "".join(parts)

    def markup(self, element: etree._Element) -> str:
        tag = str(element.tag)
        if tag.startswith("{" + MATHML):
            return etree.tostring(element, encoding="unicode", with_tail=False)
        maker = _MAKERS.get(tag)
        if maker is not None:
            return maker(self, element)
        if tag in INTERACTIONS:
            return self._interaction(element)
        if tag.startswith("{"):
            self.left_out(element)
            return ""
        if tag in _TRANSPARENT:
            return self.children(element)
        return self._html(element, tag)

    def _html(self, element: etree._Element, tag: str) -> str:
        attributes = "".join(
            f' {key}="{html.escape(str(value))}"' for key, value in map_of(element).items() if not key.startswith("{")
        )
        language = element.get("{http://www.w3.org/XML/1998/namespace}lang")
        attributes += f' lang="{html.escape(language)}"' if language and "lang=" not in attributes else ""
        if tag in _VOID:
            return f"<{tag}{attributes}/>"
        return f"<{tag}{attributes}>{self.children(element)}</{tag}>"

    def _span(self, element: etree._Element) -> str:
        names = (element.get("class") or "").lower() + (element.get("style") or "").lower()
        for tag, marks in (("u", _UNDERLINED), ("s", _STRUCK)):
            if any(mark in names for mark in marks):
                return f"<{tag}>{self.children(element)}</{tag}>"
        return self._html(element, "span")

    def _object(self, element: etree._Element) -> str:
        """An `object` is a picture, a sound or a film by its type; its content is the alternative text."""
        kind, address = element.get("type", ""), html.escape(element.get("data", ""))
        text = " ".join("".join(map(str, element.itertext())).split())
        if kind.startswith(("audio/", "video/")):
            tag = kind.split("/")[0]
            return f'<{tag} src="{address}" controls=""></{tag}>'
        if kind.startswith("image/") or not kind:
            size = "".join(f' {name}="{html.escape(element.get(name, ""))}"' for name in ("width", "height") if element.get(name))
            return f'<img src="{address}" alt="{html.escape(text)}"{size}/>'
        self.left_out(element)
        return escape(text)

    def _film(self, element: etree._Element) -> str:
        """HTML's `audio` and `video`, with the address of their first source."""
        source = element.get("src") or next((s.get("src", "") for s in element.iter("source")), "")
        return f'<{element.tag} src="{html.escape(source)}" controls=""></{element.tag}>'

    def _rubric(self, element: etree._Element) -> str:
        view = element.get("view", "candidate").lower()
        markup = self.children(element)
        if "candidate" in view or "testconstructor" in view and "scorer" not in view:
            return as_block(markup)
        self.body.rubrics.append((view, markup))
        return ""

    def _feedback(self, element: etree._Element) -> str:
        self.body.feedback.append((element, self.children(element)))
        return ""

    def _templated(self, element: etree._Element) -> str:
        self.body.templated = True
        return escape(f"{{{element.get('identifier', '')}}}") if element.tag == "printedVariable" else self.children(element)

    def _nothing(self, element: etree._Element) -> str:
        self.left_out(element)
        return ""

    def _stage(self, element: etree._Element) -> str:
        return self.children(element)

    # Interactions

    def _interaction(self, element: etree._Element) -> str:
        tag = str(element.tag)
        interaction = Interaction(tag, element.get("responseIdentifier", ""), element)
        if tag == "endAttemptInteraction":
            return ""
        self.body.interactions.append(interaction)
        if tag in INLINE:
            if tag == "inlineChoiceInteraction":
                interaction.options = [self._option(child) for child in element.iterfind("inlineChoice")]
            return self._blank(interaction)
        prompt = element.find("prompt")
        interaction.prompt = self.children(prompt) if prompt is not None else ""
        shown = (
            f"<p>{interaction.prompt}</p>" if interaction.prompt.strip() and "<p" not in interaction.prompt else interaction.prompt
        )
        return shown + _READERS.get(tag, BodyReader._other)(self, element, interaction)

    def _blank(self, interaction: Interaction) -> str:
        self.blank_count += 1
        interaction.blanks.append(f"b{self.blank_count}")
        return blank_marker(interaction.blanks[-1])

    def _option(self, element: etree._Element) -> Option:
        before = len(self.body.feedback)
        markup = self.children(element)
        within = self.body.feedback[before:]
        del self.body.feedback[before:]
        return Option(element.get("identifier", ""), markup, "".join(text for _, text in within))

    def _choices(self, element: etree._Element, interaction: Interaction) -> str:
        interaction.options = [self._option(child) for child in element.iterfind("simpleChoice")]
        return ""

    def _match(self, element: etree._Element, interaction: Interaction) -> str:
        sets = [[self._option(child) for child in group] for group in element.iterfind("simpleMatchSet")]
        interaction.options, interaction.targets = (sets + [[], []])[:2]
        return ""

    def _associate(self, element: etree._Element, interaction: Interaction) -> str:
        interaction.options = [self._option(child) for child in element.iterfind("simpleAssociableChoice")]
        return ""

    def _gap_match(self, element: etree._Element, interaction: Interaction) -> str:
        interaction.options = [self._option(child) for child in element if child.tag in ("gapText", "gapImg", "gap-img")]
        self.current = interaction
        text = self.children(element, frozenset({"prompt", "gapText", "gapImg"}))
        self.current = None
        return text

    def _gap(self, element: etree._Element) -> str:
        if self.current is None:
            return ""
        self.current.targets.append(Option(element.get("identifier", ""), ""))
        return self._blank(self.current)

    def _hottext(self, element: etree._Element, interaction: Interaction) -> str:
        self.current = interaction
        text = self.children(element, frozenset({"prompt"}))
        self.current = None
        return text

    def _hot(self, element: etree._Element) -> str:
        markup = self.children(element)
        if self.current is not None:
            self.current.options.append(Option(element.get("identifier", ""), markup.strip()))
        return markup

    def _media(self, element: etree._Element, _interaction: Interaction) -> str:
        return self.children(element, frozenset({"prompt"}))

    def _other(self, element: etree._Element, _interaction: Interaction) -> str:
        """The picture of a graphic interaction, so that a person sees what it is about."""
        return "".join(self.markup(child) for child in element if child.tag in ("object", "img", "picture"))


_READERS: dict[str, Callable[[BodyReader, etree._Element, Interaction], str]] = {
    "choiceInteraction": BodyReader._choices,
    "orderInteraction": BodyReader._choices,
    "matchInteraction": BodyReader._match,
    "associateInteraction": BodyReader._associate,
    "gapMatchInteraction": BodyReader._gap_match,
    "hottextInteraction": BodyReader._hottext,
    "mediaInteraction": BodyReader._media,
}
_MAKERS: dict[str, Callable[[BodyReader, etree._Element], str]] = {
    "span": BodyReader._span,
    "object": BodyReader._object,
    "audio": BodyReader._film,
    "video": BodyReader._film,
    "rubricBlock": BodyReader._rubric,
    "feedbackInline": BodyReader._feedback,
    "feedbackBlock": BodyReader._feedback,
    "printedVariable": BodyReader._templated,
    "templateInline": BodyReader._templated,
    "templateBlock": BodyReader._templated,
    "gap": BodyReader._gap,
    "hottext": BodyReader._hot,
    "positionObjectStage": BodyReader._stage,
    "stylesheet": BodyReader._nothing,
    "catalogInfo": BodyReader._nothing,
    "companionMaterialsInfo": BodyReader._nothing,
}
