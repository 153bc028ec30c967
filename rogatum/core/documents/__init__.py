"""Questions in documents: lines, the role of each, and the items that they make. Containers are not known here."""

from rogatum.core.documents.assemble import Assembled, assemble
from rogatum.core.documents.decisions import Decidable
from rogatum.core.documents.key_documents import is_named_as_keys, keys_in, test_of_keys
from rogatum.core.documents.key_lists import key_entries
from rogatum.core.documents.lines import OBJECT, Line, Piece, Role, line_of, lines_of
from rogatum.core.documents.roles import assign_roles

__all__ = [
    "OBJECT",
    "Assembled",
    "Decidable",
    "Line",
    "Piece",
    "Role",
    "assemble",
    "assign_roles",
    "is_named_as_keys",
    "key_entries",
    "keys_in",
    "line_of",
    "lines_of",
    "test_of_keys",
]
