"""What several formats need: the record of a format, packages, documents, finding a key by probing. No format is here."""
