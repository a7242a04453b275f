"""Open formats, read and written: text or bytes in, models out.

To add a transcript format: a reader `(text) -> Reading` in a module of its own, listed in `transcripts.READERS`.
"""
