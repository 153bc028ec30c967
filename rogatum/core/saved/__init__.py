"""A course as one file: what its rows say, and how those of a foreign file are admitted."""
