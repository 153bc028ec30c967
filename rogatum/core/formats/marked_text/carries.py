"""What marked text has a place for: what every document that people read has."""

from rogatum.core.formats.shared.document_writing import CARRIES

__all__ = ["CARRIES"]
