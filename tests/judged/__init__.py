"""Talks whose passages an editor judged by reading alone: what the finder learns from, and what it is measured by.

Each is a text in `talks/`: a head of `name: value` lines, then paragraphs, `NAME: …` where somebody else speaks. A passage
that an editor would post is written `{+why| …}`, one that could be posted `{~why| …}`, one that never would `{-why| …}`.
"""
