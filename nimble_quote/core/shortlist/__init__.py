"""Choosing among quotes that were kept: comparing two, and a balanced week out of many."""
