"""Soundbites of a talk: how a span of whole sentences is judged, which to offer, and why."""
