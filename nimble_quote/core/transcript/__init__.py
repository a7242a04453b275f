"""Words with times, the sentences they make, and times for words that came without."""
