"""Letters: the faces there are, which of them draws what, how wide a text is, and where a line may break."""
