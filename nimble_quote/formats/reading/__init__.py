"""Readers of transcript files, a module for each kind; `nimble_quote.formats.transcripts` chooses among them."""
