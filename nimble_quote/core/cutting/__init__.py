"""What a cut keeps, and where between two words it falls."""
