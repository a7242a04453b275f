"""Posting: the texts, counted as the place they go to counts; when a post is due; the week it is part of."""
