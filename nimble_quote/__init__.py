"""Nimble Quote: from a recorded talk to captioned soundbites in every shape."""
