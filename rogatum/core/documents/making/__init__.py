"""Items from drafts: each form that an item may take is a function, tried in order; what was chosen between two is said."""

from rogatum.core.documents.making.case import Case
from rogatum.core.documents.making.forms import item_of, matching_of

__all__ = ["Case", "item_of", "matching_of"]
