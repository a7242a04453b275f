"""Caption cues: which words, how they break into lines, when they show, and in what style."""
