"""Questions in documents: lines, the role of each, and the items that they make. Containers are not known here."""

from rogatum.core.documents.assemble import Assembled, assemble
from rogatum.core.documents.decisions import Decidable
from rogatum.core.documents.habits_told import Habit
from rogatum.core.documents.keys.beside import is_named_as_keys, keys_in, test_of_keys
from rogatum.core.documents.keys.entries import entries_of
from rogatum.core.documents.lines import OBJECT, TAB, Line, Piece, Role, line_of, lines_of
from rogatum.core.documents.reading import Said, read_lines
from rogatum.core.documents.readings import Placed

__all__ = [
    "OBJECT",
    "TAB",
    "Assembled",
    "Decidable",
    "Habit",
    "Line",
    "Piece",
    "Placed",
    "Role",
    "Said",
    "assemble",
    "entries_of",
    "is_named_as_keys",
    "keys_in",
    "line_of",
    "lines_of",
    "read_lines",
    "test_of_keys",
]
