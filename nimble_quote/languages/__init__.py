"""What the finder of soundbites knows of each language: a data file each."""
