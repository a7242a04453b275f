"""What a search asks for, and which words of a sentence answer it."""
