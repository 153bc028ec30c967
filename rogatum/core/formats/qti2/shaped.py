"""The processing of an item whose answers are picked, in the shape that it shares with others of its bank."""

from __future__ import annotations

import re

from lxml import etree

from rogatum.core.accounting import Account, XmlClaims
from rogatum.core.formats.qti2.body import Interaction
from rogatum.core.formats.qti2.declarations import read_outcome, read_response
from rogatum.core.formats.qti2.expressions import Compiler, Declared
from rogatum.core.formats.qti2.processing import Compiled, Processing
from rogatum.core.formats.shared.keys import Names, Shapes
from rogatum.core.formats.shared.packaging import without_namespaces

_PLACES = re.compile(r'\b(?:identifier|mapKey|targetValue)="([^"<>]*)"|>\s*([^<>]*?)\s*</(?:value|baseValue)>')
_NAME = re.compile(r"[A-Za-z_][\w.\-]*")
# Words of the standard that an item may use as names: they keep their meaning.
_WORDS = frozenset({"true", "false", "SCORE", "MAXSCORE", "RESPONSE", "completionStatus"})
_READ = ("baseValue", "patternMatch")


def declared_in(root: etree._Element, claims: XmlClaims) -> Declared:
    """What an item declares: its responses and outcomes."""
    declared = Declared({}, {})
    for element in root.iterfind("responseDeclaration"):
        response = read_response(element, claims)
        declared.responses[response.ident] = response
    for element in root.iterfind("outcomeDeclaration"):
        outcome = read_outcome(element, claims)
        declared.outcomes[outcome.ident] = outcome
    return declared


def processing_of(root: etree._Element, claims: XmlClaims, interactions: list[Interaction], shapes: Shapes[Compiled]) -> Processing:
    """The processing of an item: where everything is picked, in a shape that is compiled once."""
    declared = declared_in(root, claims)
    if not _only_picked(declared, interactions):
        return Processing(Compiled(root, declared, Compiler(declared, claims)), declared, Names())
    taken = {*declared.responses, *declared.outcomes, *_WORDS}
    idents = (option.ident for interaction in interactions for option in interaction.options)
    names = Names.of(ident for ident in idents if _NAME.fullmatch(ident) and ident not in taken)
    parts = [child for child in root if child.tag in ("responseDeclaration", "outcomeDeclaration", "responseProcessing")]
    markup = "".join(etree.tostring(part, encoding="unicode", with_tail=False) for part in parts)
    markup = f"<shape>{names.written(markup, _PLACES)}</shape>"

    def compile_it() -> Compiled:
        shape = etree.fromstring(markup)
        without_namespaces(shape)
        nobody = XmlClaims(Account(), frozenset())
        of_shape = declared_in(shape, nobody)
        return Compiled(shape, of_shape, Compiler(of_shape, nobody))

    try:
        compiled = shapes.compiled(markup, compile_it)
    except etree.XMLSyntaxError:  # what a recovery left of a damaged file is no markup any more
        return Processing(Compiled(root, declared, Compiler(declared, claims)), declared, Names())
    for part in parts:
        for leaf in part.iter(*_READ):
            claims.text(leaf)
            claims.attribute(leaf, "pattern")
    return Processing(compiled, declared, names)


def _only_picked(declared: Declared, interactions: list[Interaction]) -> bool:
    """Whether each response is one or several identifiers of options."""
    picked = {interaction.ident for interaction in interactions if interaction.options}
    return bool(picked) and all(r.base == "identifier" and r.ident in picked for r in declared.responses.values())
